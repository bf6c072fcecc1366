/** All music whose truth is known, by where it comes from. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Excerpt } from './excerpts.ts';
import { createFeaturePool, type Heard } from './fit/featurePool.ts';
import { makeOthers, makePieces, type MadePiece } from './makePieces.ts';
import { BENCH_PLAN, CHANCE_PLAN } from './pieces/plan.ts';
import type { PieceTruth } from './pieces/produce.ts';

/** Makes what is missing. The two that are made by the project's own composer are told apart by their sounds. */
export async function allPieces(cache: string): Promise<MadePiece[]> {
  const own = [...(await makePieces(cache, BENCH_PLAN)), ...(await makePieces(`${cache}-chance`, CHANCE_PLAN))];
  return [...own, ...(await makeOthers(`${cache}-others`))];
}

/** Whose music a piece is: what the project's own composer made is one source, whatever plays it. */
export const handOf = ({ source }: PieceTruth): string =>
  source === 'sound font' || source === 'synthesiser' ? 'own composer' : source;

/** Where what is heard of each piece is kept: another place for another extractor. */
export function keptFiles(pieces: readonly (MadePiece | Excerpt)[], cache: string): string[] {
  const folder = join(`${cache}-features`, (process.env.BENCH_FEATURE_VERSION ?? 'now').slice(0, 16));
  mkdirSync(folder, { recursive: true });
  return pieces.map((piece) =>
    join(
      folder,
      [piece.source, piece.name, piece.version.slice(0, 12), 'from' in piece ? `from ${piece.from.toFixed(3)}` : '']
        .filter(Boolean)
        .join('-')
        .replace(/\W+/g, '-'),
    ),
  );
}

/** What is heard of each piece, from the cache where it was taken before. */
export async function heardOf(pieces: readonly (MadePiece | Excerpt)[], cache: string): Promise<Heard[]> {
  const files = keptFiles(pieces, cache);
  const pool = createFeaturePool(new URL('./featureThread.mjs', import.meta.url));
  const heard = await Promise.all(
    pieces.map((piece, i) =>
      pool.features({ path: piece.file, kept: files[i]!, from: 'from' in piece ? piece.from : 0 }),
    ),
  );
  await pool.close();
  return heard;
}
