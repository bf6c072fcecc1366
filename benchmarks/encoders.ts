/** How pieces are encoded anew: what it is called, the ending of its files, what ffmpeg is told. */
import { spawn } from 'node:child_process';

export const CODECS: readonly [string, string, string[]][] = [
  ['MP3 at 128 kbit/s', 'mp3', ['-c:a', 'libmp3lame', '-b:a', '128k']],
  ['MP3 at 320 kbit/s', 'mp3', ['-c:a', 'libmp3lame', '-b:a', '320k']],
  ['AAC at 160 kbit/s', 'm4a', ['-c:a', 'aac', '-b:a', '160k']],
  ['Opus at 96 kbit/s', 'opus', ['-c:a', 'libopus', '-b:a', '96k']],
  ['Vorbis, quality 4', 'ogg', ['-c:a', 'libvorbis', '-q:a', '4']],
  ['FLAC', 'flac', ['-c:a', 'flac']],
];

/** Calls it. @throws with its last words */
export const ffmpeg = (args: string[]): Promise<string> =>
  new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
    let words = '';
    child.stderr.on('data', (chunk: Buffer) => (words += chunk.toString()));
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve(words) : reject(new Error(words))));
  });
