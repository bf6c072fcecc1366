/** The outside programs that are called: are they there, and can they do what is asked of them? */
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type { Finding } from './finding.ts';

const call = promisify(execFile);

/** What ffmpeg is asked for: by the list that names it, with what it is for. */
const ASKED: readonly { list: string; names: Readonly<Record<string, string>> }[] = [
  {
    list: '-encoders',
    names: {
      libmp3lame: 'MP3',
      aac: 'M4A',
      libvorbis: 'Ogg Vorbis',
      libopus: 'Opus',
      flac: 'FLAC',
      pcm_s16le: 'WAV',
    },
  },
  { list: '-muxers', names: { chromaprint: 'fingerprints' } },
];

/** @param path of ffmpeg */
export async function checkFfmpeg(path = 'ffmpeg'): Promise<Finding> {
  const about = 'ffmpeg';
  try {
    const { stdout } = await call(path, ['-version']);
    const version = /version (\S+)/.exec(stdout)?.[1] ?? 'of an unknown version';
    const missing: string[] = [];
    for (const { list, names } of ASKED) {
      const known = new Set((await call(path, ['-hide_banner', list])).stdout.split(/\s+/));
      missing.push(...Object.entries(names).flatMap(([name, what]) => (known.has(name) ? [] : [what])));
    }
    if (missing.length === 0) return { about, trouble: null, note: version };
    return { about, trouble: `It cannot make ${missing.join(', ')}. Install Debian's ffmpeg.`, note: version };
  } catch {
    return { about, trouble: 'It is not there, or does not start: sudo apt-get install -y ffmpeg', note: '' };
  }
}

/** The programs that dump and restore; they have to be as new as the server that they ask. */
export async function checkDumping(serverVersion: number): Promise<Finding> {
  const about = 'pg_dump';
  try {
    const { stdout } = await call('pg_dump', ['--version']);
    const own = Number(/(\d+)(?:\.\d+)?/.exec(stdout)?.[1] ?? 0);
    const trouble =
      own < serverVersion ? `It is older (${own}) than the database (${serverVersion}): backups would fail.` : null;
    return { about, trouble, note: String(own) };
  } catch {
    return { about, trouble: 'It is not there: sudo apt-get install -y postgresql-client', note: '' };
  }
}
