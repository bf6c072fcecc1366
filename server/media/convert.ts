/** Sound of a file in another format, by ffmpeg; at another loudness, by the desk's own limiter in between. */
import { spawn } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import {
  amplitudeOf,
  level,
  type Levelled,
  type LevelSetting,
  type LevelWish,
  type Measured,
} from '@early-set/core/level/level';
import { createLimiter } from '@early-set/core/level/limiter';
import { createLevelMeter } from '@early-set/core/level/meter';
import { TARGETS, type Target } from '@early-set/core/stick/player';
import { decode, fileUrl, INPUT, probe } from './decode.ts';

export interface ConvertWish {
  source: string;
  /** Where it is written; what is there goes. */
  to: string;
  format: Target;
  /** Kilobits a second; null where nothing is lost. */
  kbps: number | null;
  level: LevelWish | null;
  /** In hertz; null: that of the source. Where the format does not have it, the next that it has. */
  sampleRate: number | null;
}

/** What ffmpeg calls the coder of each format, with what else it has to know. */
const CODERS: Readonly<Record<Target, readonly string[]>> = {
  mp3: ['-c:a', 'libmp3lame', '-id3v2_version', '0', '-write_xing', '1', '-f', 'mp3'],
  // At such rates its fast coder is the better one (ffmpeg-codecs(1), aac_coder).
  aac: ['-c:a', 'aac', '-aac_coder', 'fast', '-movflags', '+faststart', '-f', 'ipod'],
  ogg: ['-c:a', 'libvorbis', '-f', 'ogg'],
  opus: ['-c:a', 'libopus', '-f', 'opus'],
  flac: ['-c:a', 'flac', '-f', 'flac'],
  wav: ['-c:a', 'pcm_s16le', '-f', 'wav'],
  aiff: ['-c:a', 'pcm_s16be', '-f', 'aiff'],
};
/** Rates of formats that have not all. */
const RATES: Readonly<Partial<Record<Target, readonly number[]>>> = {
  mp3: [8000, 11025, 12000, 16000, 22050, 24000, 32000, 44100, 48000],
  aac: [7350, 8000, 11025, 12000, 16000, 22050, 24000, 32000, 44100, 48000, 64000, 88200, 96000],
  opus: [48000],
};
/** The rate of a format that loses least of another. */
const rateOf = (format: Target, hertz: number): number => {
  const rates = RATES[format];
  return rates?.find((rate) => rate >= hertz) ?? rates?.at(-1) ?? hertz;
};

/**
 * Converts a file. Of tags and pictures nothing comes along: they are set by who knows them.
 * @returns what became of its loudness; null where it was left as it is
 * @throws UnreadableAudio, RangeError with ffmpeg's last words, or the system's error; what was begun is gone then
 */
export async function convertFile(wish: ConvertWish, signal?: AbortSignal): Promise<Levelled | null> {
  const { source, to, format } = wish;
  const { sampleRate, channels } = await probe(source, signal);
  const wanted = rateOf(format, wish.sampleRate ?? sampleRate);
  const coder = [
    ...['-map', '0:a:0', '-map_metadata', '-1', '-fflags', '+bitexact', '-flags:a', '+bitexact'],
    ...['-ar', String(wanted), '-ac', String(Math.min(2, channels))],
    ...CODERS[format],
    ...(wish.kbps === null || TARGETS[format].kbps.length === 0 ? [] : ['-b:a', `${wish.kbps}k`]),
    fileUrl(to),
  ];
  try {
    if (wish.level === null) {
      await ffmpeg([...INPUT, '-i', fileUrl(source), ...coder], signal);
      return null;
    }
    // What lies there meanwhile goes with the folder.
    const scratch = mkdtempSync(join(dirname(to), '.level-'));
    try {
      const raw = { sampleRate: wanted, channels: Math.min(2, channels) };
      const levelled = await levelInto(source, wish.level, raw, scratch, signal);
      const input = ['-f', 'f32le', '-ar', String(raw.sampleRate), '-ac', String(raw.channels)];
      await ffmpeg([...input, '-i', fileUrl(join(scratch, LEVELLED)), ...coder], signal);
      return levelled;
    } finally {
      rmSync(scratch, { recursive: true, force: true });
    }
  } catch (error) {
    rmSync(to, { force: true });
    throw error;
  }
}

interface Raw {
  sampleRate: number;
  channels: number;
}
const PLAIN = 'plain.f32',
  LEVELLED = 'levelled.f32';

/** Lays a file's samples down as they are, then at the loudness that is wished, in a folder. */
async function levelInto(
  source: string,
  wish: LevelWish,
  raw: Raw,
  folder: string,
  signal: AbortSignal | undefined,
): Promise<Levelled> {
  const [plain, made] = [join(folder, PLAIN), join(folder, LEVELLED)];
  const meter = createLevelMeter(raw.sampleRate, raw.channels);
  const file = openSync(plain, 'wx');
  try {
    await decode(
      source,
      raw,
      (samples) => {
        writeWhole(file, samples);
        meter.push(apart(samples, raw.channels));
      },
      signal ? { signal } : {},
    );
  } finally {
    closeSync(file);
  }
  let last: LevelSetting | null = null;
  const make = async (setting: LevelSetting): Promise<Measured> => {
    last = setting;
    return makeLevel(plain, made, raw, setting, signal);
  };
  const levelled = await level(meter.finish(), wish, make);
  if (last !== levelled.setting) await make(levelled.setting);
  return levelled;
}

const PIECE_FRAMES = 1 << 16;

/** Once through the limiter, from file to file. */
async function makeLevel(
  from: string,
  to: string,
  { sampleRate, channels }: Raw,
  { gainDb, ceilingDbtp }: LevelSetting,
  signal: AbortSignal | undefined,
): Promise<Measured> {
  const ceiling = ceilingDbtp === null ? null : amplitudeOf(ceilingDbtp);
  const limiter = createLimiter({ sampleRate, channels, gain: amplitudeOf(gainDb), ceiling });
  const meter = createLevelMeter(sampleRate, channels);
  const [input, output] = [openSync(from, 'r'), openSync(to, 'w')];
  const take = (planes: readonly Float32Array[]): void => {
    meter.push(planes);
    writeWhole(output, woven(planes));
  };
  try {
    const piece = new Float32Array(PIECE_FRAMES * channels);
    for (;;) {
      const got = readSync(input, piece, 0, piece.byteLength, null);
      if (got === 0) break;
      const planes = apart(piece.subarray(0, got / 4), channels);
      take(limiter.push(planes, planes[0]!.length));
      // Others of this thread have their turn, and a cancel is heard.
      await new Promise((resolve) => setImmediate(resolve));
      signal?.throwIfAborted();
    }
    take(limiter.finish());
  } finally {
    closeSync(input);
    closeSync(output);
  }
  return meter.finish();
}

function writeWhole(file: number, samples: Float32Array): void {
  const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
  for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done);
}

const apart = (samples: Float32Array, channels: number): Float32Array[] =>
  Array.from({ length: channels }, (_, c) => {
    const plane = new Float32Array(samples.length / channels);
    for (let i = 0; i < plane.length; i++) plane[i] = samples[i * channels + c]!;
    return plane;
  });

function woven(planes: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(planes[0]!.length * planes.length);
  planes.forEach((plane, c) => {
    for (let i = 0; i < plane.length; i++) out[i * planes.length + c] = plane[i]!;
  });
  return out;
}

/** Runs it to its end. @throws RangeError with its last words */
function ffmpeg(args: readonly string[], signal: AbortSignal | undefined): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
    const end = (): void => void child.kill('SIGKILL');
    signal?.addEventListener('abort', end, { once: true });
    let words = '';
    child.stderr.on('data', (chunk: Buffer) => (words = (words + chunk.toString()).slice(-2000)));
    child.on('error', reject);
    child.on('close', (code) => {
      signal?.removeEventListener('abort', end);
      if (signal?.aborted) reject(signal.reason as Error);
      else if (code === 0) resolve();
      else reject(new RangeError(reasonIn(words)));
    });
    if (signal?.aborted) end();
  });
}

function reasonIn(words: string): string {
  if (/No space left/i.test(words)) return 'There is no room left for what is converted';
  const last = words
    .trim()
    .split('\n')
    .at(-1)
    ?.replace(/file:\S+/g, 'the file');
  return `It cannot be converted${last ? ` (${last.slice(0, 200)})` : ''}`;
}
