/**
 * Listening: files that browsers play are sent as they are; all others appear as one long WAV file whose
 * bytes ffmpeg makes on demand, so that seeking works by byte ranges in the same way.
 */
import { spawn } from 'node:child_process';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
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

  // Only as quickly as it is taken: what a browser asks for may be hours of a file.
  pipeline(Readable.from(wavBytes(path, { start, end }, wavHeader(dataBytes))), response).catch(() => undefined);
}

const SILENCE = Buffer.alloc(65_536);

/** The bytes of a range of the WAV file, decoded as they are asked for. */
async function* wavBytes(path: string, { start, end }: ByteRange, header: Buffer): AsyncGenerator<Buffer> {
  let left = end - start + 1;
  const part = (bytes: Buffer): Buffer => {
    const taken = bytes.subarray(0, left);
    left -= taken.length;
    return taken;
  };
  if (start < HEADER_BYTES) yield part(header.subarray(start));
  if (left === 0) return;
  const firstByte = Math.max(0, start - HEADER_BYTES);
  let skip = firstByte % FRAME_BYTES;
  const child = decodeFrom(path, Math.floor(firstByte / FRAME_BYTES) / WAV_RATE);
  try {
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      const bytes = chunk.subarray(Math.min(skip, chunk.length));
      skip -= chunk.length - bytes.length;
      if (bytes.length > 0) yield part(bytes);
      if (left === 0) return;
    }
    // A file shorter than it says ends in silence, so that the promised length is kept.
    while (left > 0) yield part(SILENCE);
  } finally {
    child.kill('SIGKILL');
  }
}

function decodeFrom(path: string, seconds: number) {
  const from = ['-ss', seconds.toFixed(6), '-i', `file:${path}`, '-map', '0:a:0'];
  const to = ['-f', 's16le', '-ar', String(WAV_RATE), '-ac', '2', 'pipe:1'];
  const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-protocol_whitelist', 'file,pipe', ...from, ...to], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  child.on('error', () => child.stdout.destroy());
  return child;
}
