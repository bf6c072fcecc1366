/** What happens to fingerprints and lengths when a recording is encoded anew, or begins later: measured, and kept. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { compareFingerprints, fingerprintWords, ITEM_SECONDS } from '@early-set/core/analysis/fingerprint';
import { fingerprintOf } from '../../demo/fingerprint.ts';
import { pick, seeded } from '../../demo/synth/random.ts';
import { CODECS, ffmpeg } from '../encoders.ts';
import type { PieceTruth } from '../pieces/produce.ts';

/** How near one fingerprint is to another. */
export interface Nearness {
  /** Share of equal bits where they lie best on each other. */
  equal: number;
  /** Bits that differ there, word by word. */
  errors: Uint32Array;
  /** So many words of the first come before the second begins. */
  later: number;
}
export interface Wear extends Nearness {
  what: string;
  /** Trimmed at its start, in seconds. */
  trimmed: number;
  /** The fingerprint as it was. */
  before: Uint32Array;
  /** By how many seconds it became longer. */
  longer: number;
  /** How many times as large it became. */
  larger: number;
}
interface Kept {
  what: string;
  trimmed: number;
  longer: number;
  larger: number;
  before: string;
  after: string;
}

const TRIM_SECONDS = 2;

/** Length of a file, in seconds. */
const lengthOf = (path: string): Promise<number> =>
  new Promise((resolve, reject) => {
    const child = spawn('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', path]);
    let words = '';
    child.stdout.on('data', (chunk: Buffer) => (words += chunk.toString()));
    child.on('error', reject);
    child.on('close', () => resolve(Number(words)));
  });

/** Wears each piece twice: encoded anew, and trimmed and encoded anew. Kept in `folder`, by name of the piece. */
export async function wearOf(pieces: readonly PieceTruth[], folder: string): Promise<Wear[]> {
  mkdirSync(folder, { recursive: true });
  const wishes = pieces.flatMap((piece) => [0, TRIM_SECONDS].map((trimmed) => ({ piece, trimmed })));
  const worn: Wear[] = [];
  let done = 0;
  const next = async (): Promise<void> => {
    for (let wish = wishes.shift(); wish; wish = wishes.shift()) {
      worn.push(await wear(wish.piece, wish.trimmed, folder));
      if (++done % 50 === 0) console.log(`measured ${done} of ${2 * pieces.length} files`);
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, next));
  return worn;
}

async function wear({ name, file }: PieceTruth, trimmed: number, folder: string): Promise<Wear> {
  const kept = join(folder, `${name}-${trimmed}.json`);
  if (!existsSync(kept)) {
    const random = seeded(name.length * 7919 + Number(name.replace(/\D+/g, '') || 0) * 31 + trimmed);
    const [what, ending, codec] = pick(random, CODECS);
    const made = join(folder, `.${name}-${trimmed}.${ending}`);
    await ffmpeg([...(trimmed ? ['-ss', String(trimmed)] : []), '-i', file, '-map', '0:a', ...codec, made]);
    const [before, after, was, is] = await Promise.all([
      fingerprintOf(file),
      fingerprintOf(made),
      lengthOf(file),
      lengthOf(made),
    ]);
    const larger = statSync(made).size / statSync(file).size;
    const measured: Kept = { what, trimmed, before, after, longer: is - was, larger };
    rmSync(made);
    writeFileSync(kept, JSON.stringify(measured));
  }
  const { before, after, ...read } = JSON.parse(readFileSync(kept, 'utf8')) as Kept;
  const was = wordsOf(before);
  return { ...read, before: was, ...nearness(was, wordsOf(after)) };
}

const wordsOf = (base64: string): Uint32Array => fingerprintWords(Buffer.from(base64, 'base64'));

function nearness(before: Uint32Array, after: Uint32Array): Nearness {
  const match = compareFingerprints(before, after);
  const offset = Math.round((match?.offsetSeconds ?? 0) / ITEM_SECONDS);
  const from = Math.max(0, -offset);
  const count = Math.min(after.length, before.length - offset) - from;
  const errors = Uint32Array.from(
    { length: Math.max(1, count) },
    (_, i) => (before[i + from + offset] ?? 0) ^ (after[i + from] ?? 0),
  );
  return { equal: match?.equalBits ?? 0, errors, later: Math.max(0, offset) };
}

/** How near another mix of each piece comes to it. */
export async function mixesOf(
  pieces: readonly PieceTruth[],
  mixes: readonly PieceTruth[],
  folder: string,
): Promise<Nearness[]> {
  const kept = join(folder, 'mixes.json');
  if (!existsSync(kept)) {
    const prints: [string, string][] = [];
    for (const [i, { file }] of pieces.entries())
      prints.push([await fingerprintOf(file), await fingerprintOf(mixes[i]!.file)]);
    writeFileSync(kept, JSON.stringify(prints));
  }
  const prints = JSON.parse(readFileSync(kept, 'utf8')) as [string, string][];
  return prints.map(([a, b]) => nearness(wordsOf(a), wordsOf(b)));
}
