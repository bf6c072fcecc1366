/** What a made file sounds like, for the catalogue. */
import { spawn } from 'node:child_process';

const SECONDS = 120;

/** 32-bit words of ffmpeg's chromaprint muxer over the first two minutes, in base64; empty when there are none. */
export function fingerprintOf(path: string): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(
      'ffmpeg',
      [
        '-v',
        'error',
        '-nostdin',
        '-i',
        path,
        '-map',
        '0:a:0',
        '-t',
        String(SECONDS),
        '-f',
        'chromaprint',
        '-fp_format',
        'raw',
        'pipe:1',
      ],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    const chunks: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
    child.on('error', reject);
    child.on('close', () => resolve(Buffer.concat(chunks).toString('base64')));
  });
}
