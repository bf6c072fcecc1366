/**
 * Renders plans of pieces into cache folders, once. A change of a piece's plan or of what makes sound renders it anew;
 * what was broken off goes on where it was.
 */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { Piscina } from 'piscina';
import { latenessOf } from './others/lateness.ts';
import { FONTS, KIT_CHANNEL, KITS, othersPlan } from './others/plan.ts';
import type { MakeOther } from './others/produce.ts';
import type { PiecePlan } from './pieces/plan.ts';
import type { MakePiece, PieceTruth } from './pieces/produce.ts';

/** Makes what is missing of the composer's pieces and returns the truth about all. @throws Error without sound fonts */
export async function makePieces(folder: string, plan: readonly PiecePlan[]): Promise<MadePiece[]> {
  checkFonts();
  return made<MakePiece>(folder, 'producePiece', process.env.BENCH_SOUND_VERSION, () =>
    plan.map((p, n) => ({ plan: p, folder, soundFont: FONTS[[0, 2, 3][n % 3]!]! })),
  );
}

/** Makes what is missing of the pieces from material of others. @throws Error where a package of it is missing */
export async function makeOthers(folder: string): Promise<MadePiece[]> {
  checkFonts();
  return made<MakeOther>(folder, 'produceOther', process.env.BENCH_OTHERS_VERSION, () => {
    const late = Object.fromEntries([
      ...FONTS.map((font) => [font, latenessOf(font)] as const),
      ...KITS.map((kit) => [kit, latenessOf(kit, KIT_CHANNEL)] as const),
    ]);
    return othersPlan().map((plan) => ({ plan, folder, late }));
  });
}

function checkFonts(): void {
  const missing = [...FONTS, ...KITS].find((f) => !existsSync(f));
  if (missing) throw new Error(`The sound font ${missing} is missing`);
}

/** A piece with what it was made by: another plan or another maker of sound, another version. */
export type MadePiece = PieceTruth & { version: string };

/**
 * Where the tempo changes for good, that of the longer stretch is the tempo of the piece; plans name that of the first.
 * The change is where the lengths of beats on both sides differ least from their means.
 */
export function longestTempo<T extends PieceTruth>(piece: T): T {
  const { beats } = piece;
  if (piece.bpm === null || !piece.changes.includes('tempo change')) return piece;
  const last = beats.length - 1;
  const meanOf = (from: number, to: number): number => (beats[to]! - beats[from]!) / (to - from);
  let change = 1,
    most = -1;
  // The squares about both means are least where those of the means themselves are most.
  for (let k = 4; k <= last - 4; k++) {
    const explained = k * meanOf(0, k) ** 2 + (last - k) * meanOf(k, last) ** 2;
    if (explained > most) [change, most] = [k, explained];
  }
  if (most < 0) return piece;
  const firstIsLonger = beats[change]! - beats[0]! >= beats[last]! - beats[change]!;
  return { ...piece, bpm: 60 / (firstIsLonger ? meanOf(0, change) : meanOf(change, last)) };
}

async function made<T extends { plan: { name: string } }>(
  folder: string,
  producer: string,
  sound = '',
  plan: () => T[],
): Promise<MadePiece[]> {
  mkdirSync(folder, { recursive: true });
  const filename = new URL(`./${producer}.mjs`, import.meta.url).href;
  const pool = new Piscina<T, PieceTruth>({ filename, maxThreads: availableParallelism() });
  const all = plan();
  let count = 0;
  const pieces = await Promise.all(
    all.map(async (piece) => {
      const version = createHash('sha256').update(JSON.stringify(piece)).update(sound).digest('hex');
      const beside = join(folder, `${piece.plan.name}.truth.json`);
      const kept = existsSync(beside) ? (JSON.parse(readFileSync(beside, 'utf8')) as MadePiece) : null;
      if (kept?.version === version && existsSync(kept.file)) return kept;
      const truth = { ...(await pool.run(piece)), version };
      writeFileSync(`${beside}.new`, JSON.stringify(truth));
      renameSync(`${beside}.new`, beside);
      if (++count % 20 === 0) console.log(`made ${count} pieces; there are ${all.length}`);
      return truth;
    }),
  );
  await pool.destroy();
  const wanted = new Set(pieces.flatMap(({ name, file }) => [basename(file), `${name}.truth.json`]));
  for (const { name } of readdirSync(folder, { withFileTypes: true }).filter((f) => f.isFile()))
    if (!wanted.has(name)) rmSync(join(folder, name));
  return pieces.map(longestTempo);
}
