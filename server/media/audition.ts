/**
 * Listening: files that browsers play are sent as they are; all others appear as one long WAV file whose
 * bytes ffmpeg makes on demand, so that seeking works by byte ranges in the same way.
 */
import { spawn } from 'node:child_process';
import type { Request, Response } from 'express';

export const WAV_RATE = 44100;
const FRAME_BYTES = 4; // 16 bit, two channels
const HEADER_BYTES = 44;

/** Formats that current browsers play without help. */
export function playsDirectly(format: string | null, codec: string | null): boolean {
  if (/alac|apple lossless/i.test(codec ?? '')) return false;
  return ['MP3', 'FLAC', 'Ogg', 'Opus', 'M4A'].includes(format ?? '') || (format === 'WAV' && /pcm/i.test(codec ?? ''));
}

/** The header of a WAV file with this many sample bytes. */
export function wavHeader(dataBytes: number): Buffer {
  const header = Buffer.alloc(HEADER_BYTES);
  header.write('RIFF', 0, 'latin1');
  header.writeUInt32LE(Math.min(0xffffffff, dataBytes + 36), 4);
  header.write('WAVEfmt ', 8, 'latin1');
  header.writeUInt32LE(16, 16);
  header.writeUInt16LE(1, 20);
  header.writeUInt16LE(2, 22);
  header.writeUInt32LE(WAV_RATE, 24);
  header.writeUInt32LE(WAV_RATE * FRAME_BYTES, 28);
  header.writeUInt16LE(FRAME_BYTES, 32);
  header.writeUInt16LE(16, 34);
  header.write('data', 36, 'latin1');
  header.writeUInt32LE(Math.min(0xffffffff, dataBytes), 40);
  return header;
}

export interface ByteRange {
  start: number;
  end: number;
}

/** Reads a Range header of the one-range form; null when there is none, "bad" when it lies outside. */
export function parseRange(header: string | undefined, size: number): ByteRange | null | 'bad' {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header ?? '');
  if (!match || (match[1] === '' && match[2] === '')) return null;
  const start = match[1] === '' ? Math.max(0, size - Number(match[2])) : Number(match[1]);
  const end = match[1] === '' || match[2] === '' ? size - 1 : Math.min(size - 1, Number(match[2]));
  return start > end || start >= size ? 'bad' : { start, end };
}

/** Sends any decodable file as WAV, whole or a range of it. */
export function sendAsWav(path: string, durationSeconds: number, request: Request, response: Response): void {
  const dataBytes = Math.max(0, Math.round(durationSeconds * WAV_RATE)) * FRAME_BYTES;
  const size = HEADER_BYTES + dataBytes;
  const range = parseRange(request.headers.range, size);
  response.setHeader('Accept-Ranges', 'bytes');
  response.setHeader('Content-Type', 'audio/wav');
  if (range === 'bad') {
    response.setHeader('Content-Range', `bytes */${size}`);
    response.status(416).end();
    return;
  }
  const { start, end } = range ?? { start: 0, end: size - 1 };
  if (range) response.setHeader('Content-Range', `bytes ${start}-${end}/${size}`);
  response.setHeader('Content-Length', end - start + 1);
  response.status(range ? 206 : 200);
  if (request.method === 'HEAD') {
    response.end();
    return;
  }

  let left = end - start + 1;
  const send = (bytes: Buffer): boolean => {
    const part = bytes.subarray(0, left);
    left -= part.length;
    return part.length === 0 || response.write(part);
  };
  if (start < HEADER_BYTES) send(wavHeader(dataBytes).subarray(start));
  if (left === 0) {
    response.end();
    return;
  }
  const firstByte = Math.max(0, start - HEADER_BYTES);
  const firstFrame = Math.floor(firstByte / FRAME_BYTES);
  let skip = firstByte % FRAME_BYTES;
  const child = spawn(
    'ffmpeg',
    [
      '-v',
      'error',
      '-nostdin',
      '-protocol_whitelist',
      'file,pipe',
      '-ss',
      (firstFrame / WAV_RATE).toFixed(6),
      '-i',
      `file:${path}`,
      '-map',
      '0:a:0',
      '-f',
      's16le',
      '-ar',
      String(WAV_RATE),
      '-ac',
      '2',
      'pipe:1',
    ],
    { stdio: ['ignore', 'pipe', 'ignore'] },
  );
  response.on('close', () => child.kill('SIGKILL'));
  child.on('error', () => response.destroy());
  child.stdout.on('data', (chunk: Buffer) => {
    const bytes = skip ? chunk.subarray(skip) : chunk;
    skip = Math.max(0, skip - chunk.length);
    if (!send(bytes)) {
      child.stdout.pause();
      response.once('drain', () => child.stdout.resume());
    }
    if (left === 0) {
      response.end();
      child.kill('SIGKILL');
    }
  });
  child.stdout.on('end', () => {
    // A file shorter than it says ends in silence, so that the promised length is kept.
    while (left > 0) send(Buffer.alloc(Math.min(left, 65536)));
    response.end();
  });
}
