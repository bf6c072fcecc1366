/** The same piece again, as a recording of it and as another version: files made by ffmpeg from rendered pieces. */
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { WAVEFORM_FORM } from '@early-set/core/analysis/waveform';
import type { Relation } from '@early-set/core/duplicates/compare';
import { compose } from '../../demo/synth/compose.ts';
import { encode } from '../../demo/encode.ts';
import { pick, seeded, type Random } from '../../demo/synth/random.ts';
import { render } from '../../demo/synth/render.ts';
import type { AnalysisPool } from '../../server/media/analysisPool.ts';
import { CODECS as ENCODERS, ffmpeg } from '../encoders.ts';
import type { UsualPlan } from '../pieces/plan.ts';
import type { PieceTruth } from '../pieces/produce.ts';
import { BENCH_STYLES } from '../pieces/styles.ts';

/** What is heard in a file, as far as duplicates are looked for by it. */
export interface Heard {
  waveform: Uint8Array;
  fingerprint: Uint8Array;
}
export interface Version extends Heard {
  /** What was done to the piece. */
  what: string;
  /** What the two are to each other. */
  truth: readonly Relation[];
}

/** A tighter one too. */
const CODECS: typeof ENCODERS = [['MP3 at 64 kbit/s', 'mp3', ['-c:a', 'libmp3lame', '-b:a', '64k']], ...ENCODERS];

/** What may happen to a recording, as an ffmpeg filter. */
const WORN: readonly [string, (random: Random, seconds: number) => string][] = [
  ['encoded anew', () => 'anull'],
  ['quieter', (random) => `volume=${pick(random, [-9, -6, -3])}dB`],
  ['louder by 3 dB, limited', () => 'volume=3dB,alimiter=limit=1:level=0'],
  ['mono', () => 'pan=mono|c0=0.5*c0+0.5*c1'],
  ['begins later', (random) => `atrim=start=${(1 + 7 * random()).toFixed(3)},asetpts=PTS-STARTPTS`],
  ['ends earlier', (random, seconds) => `atrim=end=${(seconds - 1 - 7 * random()).toFixed(3)}`],
  ['silence before it', (random) => `adelay=${Math.round(500 + 6000 * random())}:all=1`],
];
const SAME: readonly Relation[] = ['same recording'];
const APART: readonly Relation[] = ['edit', 'another version', 'different'];

export interface Making {
  pool: AnalysisPool;
  folder: string;
}

/** Hears a file that is made for it, once: what was heard is kept. */
async function heardOf(
  { pool, folder }: Making,
  name: string,
  ending: string,
  make: (file: string) => Promise<unknown>,
): Promise<Heard> {
  const kept = join(folder, `${name}.${WAVEFORM_FORM}.json`);
  if (!existsSync(kept)) {
    const file = join(folder, `.${name}.${ending}`);
    await make(file);
    const answer = await pool.analyse(file, undefined, true);
    rmSync(file);
    if (!answer.ok) throw new Error(`${name}: ${answer.reason}`);
    const { result, fingerprint } = answer.analysed;
    const base64 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
    writeFileSync(
      `${kept}.new`,
      JSON.stringify({ waveform: base64(result.waveform), fingerprint: base64(fingerprint ?? new Uint8Array()) }),
    );
    renameSync(`${kept}.new`, kept);
  }
  const { waveform, fingerprint } = JSON.parse(readFileSync(kept, 'utf8')) as Record<keyof Heard, string>;
  const bytes = (base64: string): Uint8Array => new Uint8Array(Buffer.from(base64, 'base64'));
  return { waveform: bytes(waveform), fingerprint: bytes(fingerprint) };
}

const copied = (from: string) => (to: string) => ffmpeg(['-i', from, '-map', '0:a', '-c:a', 'flac', to]);

/** The piece itself. */
export const original = (making: Making, { name, file }: PieceTruth): Promise<Heard> =>
  heardOf(making, name, 'flac', copied(file));

/** What is made of each piece: recordings of it, one cut short, edits, and versions made of the same material. */
export async function versionsOf(
  making: Making,
  piece: PieceTruth,
  plan: UsualPlan,
  others: readonly [string, PieceTruth][],
): Promise<Version[]> {
  mkdirSync(making.folder, { recursive: true });
  const { name, file } = piece;
  const seconds = piece.beats.at(-1) ?? plan.seconds;
  const random = seeded(plan.seed * 31 + 7);
  const versions: Version[] = [];
  const add = async (
    what: string,
    truth: readonly Relation[],
    ending: string,
    make: (to: string) => Promise<unknown>,
  ): Promise<void> => {
    versions.push({ what, truth, ...(await heardOf(making, `${name}-${what.replace(/\W+/g, '-')}`, ending, make)) });
  };
  for (const [what, filter] of WORN) {
    const [, ending, codec] = pick(random, CODECS);
    const worn = filter(random, seconds);
    await add(what, SAME, ending, (to) => ffmpeg(['-i', file, '-map', '0:a', '-af', worn, ...codec, to]));
  }
  const [, ending, codec] = pick(random, CODECS);
  await add('cut short at its end', ['cut short'], ending, (to) =>
    ffmpeg(['-t', String(seconds - 22), '-i', file, '-map', '0:a', ...codec, to]),
  );
  await add('cut short at its start', ['cut short'], ending, (to) =>
    ffmpeg(['-ss', '18.37', '-i', file, '-map', '0:a', ...codec, to]),
  );
  const cut = seconds * 0.45;
  const jump = `[0:a]atrim=end=${cut}[x];[0:a]atrim=start=${cut + 14.1},asetpts=PTS-STARTPTS[y];[x][y]concat=n=2:v=0:a=1`;
  await add('14 s in its middle left out', ['edit', 'another version'], ending, (to) =>
    ffmpeg(['-i', file, '-filter_complex', jump, ...codec, to]),
  );
  for (const [what, other] of others) await add(what, APART, 'flac', copied(other.file));
  const mix = others.find(([what]) => what === OTHER_DRUMS)?.[1];
  const at = seconds * 0.66;
  const late = `[0:a]atrim=end=${at}[x];[1:a]atrim=start=${at},asetpts=PTS-STARTPTS[y];[x][y]concat=n=2:v=0:a=1`;
  if (mix)
    await add('another ending from two thirds on', APART, 'flac', (to) =>
      ffmpeg(['-i', file, '-i', mix.file, '-filter_complex', late, to]),
    );
  if (plan.source === 'synthesiser' && Object.keys(BENCH_STYLES[plan.style].drums).length > 0)
    await add('without drums', APART, 'flac', (to) => withoutDrums(plan, to));
  return versions;
}

export const OTHER_DRUMS = 'other drums';

/** The piece again without its drums. */
async function withoutDrums(plan: UsualPlan, to: string): Promise<void> {
  const style = BENCH_STYLES[plan.style];
  const { bpm, tonic, mode, seconds, leadIn, form, harmony } = plan;
  const random = seeded(plan.seed);
  const piece = compose({ style, bpm, tonic, mode, seconds, leadIn, form, ...(harmony ? { harmony } : {}) }, random);
  const sound = render({ ...piece, hits: [] }, style, -9 - 6 * random(), seeded(plan.seed ^ 0x5eed));
  await encode(sound, 'flac', to, `${to}.part`, {});
}
