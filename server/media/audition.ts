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

/** So long an excerpt may be, in seconds. */
export const MAX_EXCERPT_SECONDS = 300;

/**
 * Sends a part of a file as WAV, exact to the sample: it is decoded from the beginning, as measuring does, since files
 * of variable bit rate cannot be entered exactly.
 */
export async function sendExcerpt(path: string, from: number, seconds: number, response: Response): Promise<void> {
  const bytes = Math.round(seconds * WAV_RATE) * FRAME_BYTES;
  response.setHeader('Content-Length', HEADER_BYTES + bytes);
  const child = decode(['-i', `file:${path}`, '-map', '0:a:0', '-ss', from.toFixed(6), '-t', seconds.toFixed(6)]);
  const samples = samplesOf(child, bytes, 0);
  // A listener that goes on breaks the connection; that is no failure.
  await pipeline(Readable.from(withHeader(wavHeader(bytes), samples)), response).catch(() => undefined);
}

async function* withHeader(header: Buffer, rest: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  yield header;
  yield* rest;
}

const SILENCE = Buffer.alloc(65_536);

/** The bytes of a range of the WAV file, decoded as they are asked for. */
async function* wavBytes(path: string, { start, end }: ByteRange, header: Buffer): AsyncGenerator<Buffer> {
  const left = end - start + 1;
  const head = start < HEADER_BYTES ? header.subarray(start, start + left) : SILENCE.subarray(0, 0);
  if (head.length > 0) yield head;
  if (left === head.length) return;
  const firstByte = Math.max(0, start - HEADER_BYTES);
  const seconds = Math.floor(firstByte / FRAME_BYTES) / WAV_RATE;
  const child = decode(['-ss', seconds.toFixed(6), '-i', `file:${path}`, '-map', '0:a:0']);
  yield* samplesOf(child, left - head.length, firstByte % FRAME_BYTES);
}

/**
 * So many bytes of what a decoder gives, behind some that are passed over; a file shorter than it says ends in silence.
 */
async function* samplesOf(child: Decoder, bytes: number, passedOver: number): AsyncGenerator<Buffer> {
  let left = bytes,
    skip = passedOver;
  const part = (buffer: Buffer): Buffer => {
    const taken = buffer.subarray(0, left);
    left -= taken.length;
    return taken;
  };
  try {
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      const rest = chunk.subarray(Math.min(skip, chunk.length));
      skip -= chunk.length - rest.length;
      if (rest.length > 0) yield part(rest);
      if (left === 0) return;
    }
    while (left > 0) yield part(SILENCE);
  } finally {
    child.kill('SIGKILL');
  }
}

type Decoder = ReturnType<typeof decode>;

function decode(what: readonly string[]) {
  const to = ['-f', 's16le', '-ar', String(WAV_RATE), '-ac', '2', 'pipe:1'];
  const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-protocol_whitelist', 'file,pipe', ...what, ...to], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  child.on('error', () => child.stdout.destroy());
  return child;
}
