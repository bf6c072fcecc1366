/** Decoding through ffmpeg, as a separate program on a pipe; never through a shell. */
import { spawn } from 'node:child_process';
import { stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import type { StreamFormat } from '@early-set/core/analysis/features';
import { createWords, pipedFrames, wholeFrames, type SoundIn, type Take, type Words } from './ffmpegWords.ts';
import { openOutlet } from './outlet.ts';

export interface ProbedAudio extends SoundIn {
  sampleRate: number;
  channels: number;
}

const IS_PICTURE = /image2|_pipe$|gif|webp/;
const PICTURE = 'This is a picture, whatever its name says';

/** A file that cannot be heard, with the reason in words. */
export class UnreadableAudio extends Error {}

/** Only files are opened, whatever their name looks like. */
export const INPUT = ['-protocol_whitelist', 'file,pipe,crypto,data'];
export const fileUrl = (path: string): string => `file:${path}`;

/** Reads what ffprobe says of the first audio stream. @throws UnreadableAudio */
export async function probe(path: string, signal?: AbortSignal): Promise<ProbedAudio> {
  await mustBeFile(path);
  const { code, out, err } = await collect(
    'ffprobe',
    [
      '-v',
      'error',
      ...INPUT,
      '-select_streams',
      'a:0',
      '-show_entries',
      'stream=codec_name,sample_rate,channels,bit_rate,duration:format=format_name,duration,bit_rate',
      '-of',
      'json',
      fileUrl(path),
    ],
    signal,
  );
  if (code !== 0) throw new UnreadableAudio(reasonOf(err, path));
  const { streams = [], format = {} } = JSON.parse(out) as {
    streams?: Record<string, string | number>[];
    format?: Record<string, string>;
  };
  const stream = streams[0];
  if (!stream && IS_PICTURE.test(format.format_name ?? '')) throw new UnreadableAudio(PICTURE);
  if (!stream) throw new UnreadableAudio('There is no sound in this file');
  const sampleRate = Number(stream.sample_rate);
  const channels = Number(stream.channels);
  if (!(sampleRate > 0) || !(channels > 0))
    throw new UnreadableAudio('The sound in this file is damaged from the start');
  const number = (value: unknown): number | null => (Number(value) > 0 ? Number(value) : null);
  return {
    container: String(format.format_name ?? ''),
    codec: String(stream.codec_name ?? ''),
    bitrate: number(stream.bit_rate) ?? number(format.bit_rate),
    sampleRate,
    channels,
    durationSeconds: number(stream.duration) ?? number(format.duration),
  };
}

/** What a file says of itself to ffprobe, by names in small letters; for kinds that nothing else here reads. */
export async function probeTags(path: string, signal?: AbortSignal): Promise<Record<string, string>> {
  await mustBeFile(path);
  const wish = ['-v', 'error', ...INPUT, '-show_entries', 'format_tags', '-of', 'json', fileUrl(path)];
  const { code, out } = await collect('ffprobe', wish, signal);
  if (code !== 0) return {};
  const { format } = JSON.parse(out) as { format?: { tags?: Record<string, string> } };
  return Object.fromEntries(Object.entries(format?.tags ?? {}).map(([name, text]) => [name.toLowerCase(), text]));
}

/** A pipe or a device in the place of a file would hold ffmpeg for ever. What is not there ffmpeg says itself. */
async function mustBeFile(path: string): Promise<void> {
  const stats = await stat(path).catch(() => null);
  if (stats && !stats.isFile()) throw new UnreadableAudio('This is no ordinary file');
}

/** Seconds from the start that a fingerprint covers. */
const FINGERPRINT_SECONDS = 120;

export interface Decoded {
  /** ffmpeg's last words. */
  warnings: string;
  /** Little-endian words of the chromaprint muxer; null when not asked for, or too short for one. */
  fingerprint: Buffer | null;
  /**
   * Of the packets of sound as they lie in the file, whatever its tags say (MurmurHash3, 128 bits); null when not
   * asked for.
   */
  audioHash: string | null;
}

interface DecodeOptions {
  signal?: AbortSignal;
  /** Takes a fingerprint and a hash of the packets in the same pass. */
  fingerprint?: boolean;
}

/**
 * Decodes the first audio stream to interleaved 32-bit floats at a given rate and with so many channels, handing on
 * each piece as it comes (valid during the call only). A file that breaks off midway still resolves when something
 * could be decoded.
 * @throws UnreadableAudio when nothing could be decoded; the signal's reason when it was aborted.
 */
export async function decode(
  path: string,
  format: { sampleRate: number; channels: number },
  take: Take,
  options: DecodeOptions = {},
): Promise<Decoded> {
  const to = ['-f', 'f32le', '-ar', String(format.sampleRate), '-ac', String(format.channels)];
  const words = createWords();
  const whole = wholeFrames(format.channels, take);
  const decoded = await pass(path, to, whole.take, words, options);
  if (whole.bytes() === 0) throw new UnreadableAudio(reasonOf(words.troubles(), path));
  return decoded;
}

/**
 * The same at the stream's own rate and channels, in one process: `begin` is told them before the first piece, with the
 * seconds that the file says it lasts, and gives what takes the pieces.
 */
export async function decodeAsItIs(
  path: string,
  begin: (format: StreamFormat) => Take,
  options: DecodeOptions = {},
): Promise<Decoded & { probed: ProbedAudio }> {
  await mustBeFile(path);
  const words = createWords();
  const frames = pipedFrames(({ sampleRate, channels }) =>
    begin({ sampleRate, channels, seconds: words.sound()?.durationSeconds ?? null }),
  );
  const to = ['-c:a', 'pcm_f32le', '-map_metadata', '-1', '-bitexact', '-f', 'wav'];
  const decoded = await pass(path, to, frames.take, words, options);
  const sound = words.sound(),
    head = frames.head();
  if (!sound && IS_PICTURE.test(words.container() ?? '')) throw new UnreadableAudio(PICTURE);
  if (!sound || !head || frames.bytes() === 0) throw new UnreadableAudio(reasonOf(words.troubles(), path));
  return { ...decoded, probed: { ...sound, sampleRate: head.sampleRate, channels: head.channels } };
}

/** One pass of ffmpeg over the first audio stream; `take` says how many bytes it has used. */
async function pass(
  path: string,
  to: readonly string[],
  take: (piece: Uint8Array) => number,
  words: Words,
  { signal, fingerprint = false }: DecodeOptions,
): Promise<Decoded> {
  const outlet = await openOutlet(take);
  if (signal?.aborted) outlet.writer.destroy();
  signal?.throwIfAborted();
  const child = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-loglevel', 'level+info', '-nostats', '-nostdin', ...INPUT, '-i', fileUrl(path)],
      ...['-map', '0:a:0', ...to, '-flush_packets', '0', 'pipe:1'],
      ...(fingerprint
        ? [
            ...['-map', '0:a:0', '-t', String(FINGERPRINT_SECONDS), '-f', 'chromaprint', '-fp_format', 'raw', 'pipe:3'],
            ...['-map', '0:a:0', '-c', 'copy', '-f', 'hash', '-hash', 'murmur3', 'pipe:4'],
          ]
        : []),
    ],
    {
      stdio: ['ignore', outlet.writer, 'pipe', fingerprint ? 'pipe' : 'ignore', fingerprint ? 'pipe' : 'ignore'],
    },
  );
  outlet.writer.destroy();
  const abort = (): void => {
    child.kill('SIGKILL');
  };
  signal?.addEventListener('abort', abort, { once: true });
  child.stderr!.on('data', (chunk: Buffer) => words.push(chunk));
  const printed: Buffer[] = [];
  (child.stdio[3] as Readable | null)?.on('data', (chunk: Buffer) => printed.push(chunk));
  let hashed = '';
  (child.stdio[4] as Readable | null)?.on('data', (chunk: Buffer) => (hashed += chunk.toString()));
  const closed = new Promise<number | null>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', resolve);
  });
  try {
    await Promise.all([outlet.ended, closed]);
  } catch (error) {
    child.kill('SIGKILL');
    throw error;
  } finally {
    signal?.removeEventListener('abort', abort);
  }
  signal?.throwIfAborted();
  return {
    warnings: words.troubles(),
    fingerprint: printed.length ? Buffer.concat(printed) : null,
    audioHash: /=([0-9a-f]{32})/i.exec(hashed)?.[1]?.toLowerCase() ?? null,
  };
}

/** SHA-256 of the packets of sound as they lie in a file, in hex; null where they cannot be read. */
export async function packetHash(path: string): Promise<string | null> {
  const args = [...INPUT, '-i', fileUrl(path), '-map', '0:a:0', '-c', 'copy', '-f', 'hash', '-hash', 'sha256', '-'];
  const { out } = await collect('ffmpeg', ['-v', 'error', '-nostdin', ...args]);
  return /=([0-9a-f]{64})/i.exec(out)?.[1]?.toLowerCase() ?? null;
}

/** Chromaprint words of the first two minutes, as they are kept; empty where there are none. */
export function fingerprintOf(path: string): Promise<Buffer> {
  const wish = ['-map', '0:a:0', '-t', String(FINGERPRINT_SECONDS), '-f', 'chromaprint', '-fp_format', 'raw', 'pipe:1'];
  return new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', ...INPUT, '-i', fileUrl(path), ...wish], {
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    const printed: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => printed.push(chunk));
    child.on('error', reject);
    child.on('close', () => resolve(Buffer.concat(printed)));
  });
}

/** Runs a program and collects what it prints. */
function collect(
  command: string,
  args: string[],
  signal?: AbortSignal,
): Promise<{ code: number | null; out: string; err: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], ...(signal ? { signal } : {}) });
    const out: Buffer[] = [],
      err: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => out.push(chunk));
    child.stderr.on('data', (chunk: Buffer) => err.push(chunk));
    child.on('error', reject);
    child.on('close', (code) =>
      resolve({ code, out: Buffer.concat(out).toString(), err: Buffer.concat(err).toString() }),
    );
  });
}

/** ffmpeg's last words as a sentence about the file, without its path. */
function reasonOf(words: string, path: string): string {
  if (
    /Invalid data found|moov atom not found|Failed to find two consecutive|could not find codec parameters|End of file|Invalid argument/i.test(
      words,
    )
  )
    return 'This is not sound that can be decoded; the file is broken or something else';
  if (/Permission denied/i.test(words)) return 'The file may not be read';
  if (/No such file/i.test(words)) return 'The file is not there';
  if (/matches no streams|does not contain any stream/i.test(words)) return 'There is no sound in this file';
  const last = words.replaceAll(path, 'the file').replace(/file:/g, '').trim().split('\n').at(-1);
  return last ? `The file cannot be decoded (${last.slice(0, 200)})` : 'The file cannot be decoded';
}
