/**
 * Renders a plan of pieces into a cache folder, once. A change of the plan or
 * of what makes sound renders anew.
 */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import type { PiecePlan } from './plan.ts';
import type { MakePiece, PieceTruth } from './produce.ts';

const SOUND_FONTS = ['/usr/share/sounds/sf2/FluidR3_GM.sf2', '/usr/share/sounds/sf2/default-GM.sf2'];

/** Makes what is missing and returns the truth about all pieces. @throws Error without a sound font. */
export async function makePieces(folder: string, plan: readonly PiecePlan[]): Promise<PieceTruth[]> {
  const soundFont = SOUND_FONTS.find((f) => existsSync(f));
  if (!soundFont) throw new Error('There is no General MIDI sound font; Debian has one: fluid-soundfont-gm');
  const producer = new URL('./producePiece.mjs', import.meta.url);
  const version = createHash('sha256')
    .update(JSON.stringify(plan))
    .update(process.env.BENCH_SOUND_VERSION ?? '')
    .digest('hex');
  const truthFile = join(folder, 'truth.json');
  const stored = existsSync(truthFile)
    ? (JSON.parse(readFileSync(truthFile, 'utf8')) as { version: string; pieces: PieceTruth[] })
    : null;
  if (stored?.version === version && stored.pieces.every((p) => existsSync(p.file))) return stored.pieces;
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const pool = new Piscina<MakePiece, PieceTruth>({ filename: producer.href, maxThreads: availableParallelism() });
  let made = 0;
  const pieces = await Promise.all(
    plan.map(async (piece) => {
      const truth = await pool.run({ plan: piece, folder, soundFont });
      if (++made % 10 === 0) console.log(`made ${made} of ${plan.length} pieces`);
      return truth;
    }),
  );
  await pool.destroy();
  writeFileSync(truthFile, JSON.stringify({ version, pieces }));
  return pieces;
}
