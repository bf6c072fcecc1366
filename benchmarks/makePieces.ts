/**
 * Renders plans of pieces into cache folders, once. A change of the plan or of what makes sound renders anew.
 */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import { latenessOf } from './others/lateness.ts';
import { FONTS, KIT_CHANNEL, KITS, othersPlan } from './others/plan.ts';
import type { MakeOther } from './others/produce.ts';
import type { PiecePlan } from './pieces/plan.ts';
import type { MakePiece, PieceTruth } from './pieces/produce.ts';

/** Makes what is missing of the composer's pieces and returns the truth about all. @throws Error without sound fonts */
export async function makePieces(folder: string, plan: readonly PiecePlan[]): Promise<PieceTruth[]> {
  checkFonts();
  const version = versionOf(plan, process.env.BENCH_SOUND_VERSION);
  return made<MakePiece>(folder, 'producePiece', version, () =>
    plan.map((p, n) => ({ plan: p, folder, soundFont: FONTS[[0, 2, 3][n % 3]!]! })),
  );
}

/** Makes what is missing of the pieces from material of others. @throws Error where a package of it is missing */
export async function makeOthers(folder: string): Promise<PieceTruth[]> {
  checkFonts();
  const plan = othersPlan();
  const version = versionOf(plan, process.env.BENCH_OTHERS_VERSION);
  return made<MakeOther>(folder, 'produceOther', version, () => {
    const late = Object.fromEntries([
      ...FONTS.map((font) => [font, latenessOf(font)] as const),
      ...KITS.map((kit) => [kit, latenessOf(kit, KIT_CHANNEL)] as const),
    ]);
    return plan.map((p) => ({ plan: p, folder, late }));
  });
}

function checkFonts(): void {
  const missing = [...FONTS, ...KITS].find((f) => !existsSync(f));
  if (missing) throw new Error(`The sound font ${missing} is missing`);
}

const versionOf = (plan: unknown, sound = ''): string =>
  createHash('sha256').update(JSON.stringify(plan)).update(sound).digest('hex');

async function made<T>(folder: string, producer: string, version: string, plan: () => T[]): Promise<PieceTruth[]> {
  const truthFile = join(folder, 'truth.json');
  const stored = existsSync(truthFile)
    ? (JSON.parse(readFileSync(truthFile, 'utf8')) as { version: string; pieces: PieceTruth[] })
    : null;
  if (stored?.version === version && stored.pieces.every((p) => existsSync(p.file))) return stored.pieces;
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const filename = new URL(`./${producer}.mjs`, import.meta.url).href;
  const pool = new Piscina<T, PieceTruth>({ filename, maxThreads: availableParallelism() });
  const all = plan();
  let count = 0;
  const pieces = await Promise.all(
    all.map(async (piece) => {
      const truth = await pool.run(piece);
      if (++count % 20 === 0) console.log(`made ${count} of ${all.length} pieces`);
      return truth;
    }),
  );
  await pool.destroy();
  writeFileSync(truthFile, JSON.stringify({ version, pieces }));
  return pieces;
}
