/** Sound to files: ffmpeg as a separate program, fed with raw samples. */
import { spawn } from 'node:child_process';
import { appendFile, mkdir, rename } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Format } from './scenario/tracks.ts';
import { SAMPLE_RATE } from './synth/drums.ts';
import type { Stereo } from './synth/render.ts';

const CODECS: Record<Format, string[]> = {
  mp3: ['-c:a', 'libmp3lame', '-compression_level', '7', '-b:a', '320k', '-id3v2_version', '3'],
  'mp3-128': ['-c:a', 'libmp3lame', '-compression_level', '7', '-b:a', '128k', '-id3v2_version', '3'],
  'mp3-vbr': ['-c:a', 'libmp3lame', '-compression_level', '7', '-q:a', '2', '-id3v2_version', '4'],
  flac: ['-c:a', 'flac', '-sample_fmt', 's16'],
  ogg: ['-c:a', 'libvorbis', '-q:a', '6'],
  opus: ['-c:a', 'libopus', '-b:a', '128k', '-ar', '48000'],
  m4a: ['-c:a', 'aac', '-b:a', '192k', '-movflags', '+faststart'],
  wav: ['-c:a', 'pcm_s16le'],
  aiff: ['-c:a', 'pcm_s16be', '-write_id3v2', '1'],
};

/** Both channels as interleaved 32-bit floats. */
export function interleave({ left, right }: Stereo): Float32Array {
  const out = new Float32Array(left.length * 2);
  for (let i = 0; i < left.length; i++) {
    out[2 * i] = left[i]!;
    out[2 * i + 1] = right[i]!;
  }
  return out;
}

/** Runs ffmpeg with standard input; rejects with its last words. */
export function runFfmpeg(args: string[], input?: Uint8Array): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(
      'ffmpeg',
      ['-hide_banner', '-loglevel', 'error', '-y', '-nostdin', ...args].filter((a) => !(a === '-nostdin' && input)),
      { stdio: ['pipe', 'ignore', 'pipe'] },
    );
    let words = '';
    child.stderr.on('data', (chunk: Buffer) => {
      words = (words + chunk.toString()).slice(-2000);
    });
    child.on('error', reject);
    child.on('close', (code) =>
      code === 0 ? resolve() : reject(new Error(`ffmpeg ended with ${code}: ${words.trim()}`)),
    );
    child.stdin.on('error', () => undefined);
    child.stdin.end(input);
  });
}

/**
 * Encodes sound into `target`, written beside the music folder first and moved in whole.
 * @param picture path of a JPEG to embed
 */
export async function encode(
  sound: Stereo,
  format: Format,
  target: string,
  staging: string,
  metadata: Record<string, string>,
  picture?: string,
): Promise<void> {
  const samples = interleave(sound);
  const ending = target.slice(target.lastIndexOf('.'));
  const temporary = `${staging}${ending}`;
  const tags = Object.entries(metadata)
    .filter(([, v]) => v)
    .flatMap(([k, v]) => ['-metadata', `${k}=${v}`]);
  const art = picture
    ? ['-i', picture, '-map', '0:a', '-map', '1:v', '-c:v', 'copy', '-disposition:v', 'attached_pic']
    : [];
  await runFfmpeg(
    [
      '-f',
      'f32le',
      '-ar',
      String(SAMPLE_RATE),
      '-ac',
      '2',
      '-i',
      'pipe:0',
      ...art,
      ...CODECS[format],
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      '-flags:a',
      '+bitexact',
      ...tags,
      temporary,
    ],
    new Uint8Array(samples.buffer),
  );
  await mkdir(dirname(target), { recursive: true });
  await rename(temporary, target);
}

/** Appends an ID3v1 tag in Latin-1, as old programs left it. */
export async function appendId3v1(
  path: string,
  title: string,
  artist: string,
  album: string,
  year: number,
): Promise<void> {
  const tag = Buffer.alloc(128);
  tag.write('TAG', 0, 'latin1');
  tag.write(title.slice(0, 30), 3, 'latin1');
  tag.write(artist.slice(0, 30), 33, 'latin1');
  tag.write(album.slice(0, 30), 63, 'latin1');
  tag.write(String(year), 93, 'latin1');
  tag[127] = 255;
  await appendFile(path, tag);
}
