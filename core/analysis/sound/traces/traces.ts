/**
 * Traces of an encoder in sound that says it was never encoded: where its blocks began, many lines of its transform
 * were rounded to nothing. Looked at from there, and only from there, they are still next to nothing (after the idea
 * of Herre & Schug, Analysis of Decompressed Audio - The Inverse Decoder, AES 109, 2000).
 */
import { createKernels } from '../../../signal/kernels/kernels.ts';
import { clamp, median } from '../../../signal/statistics.ts';
import { LEVELS, MARGIN, type Blocks } from './blocks.ts';
import { planLappedBlocks } from './lapped.ts';
import { planPolyphaseBlocks } from './polyphase.ts';

/** Excerpts begin at multiples of this, so that blocks of both periods lie alike in all of them. */
export const EXCERPT_STEP = 9216;
/** Excerpts that are looked at, the loudest. */
const MAX_PLACES = 16,
  FEWEST = 6;
/** Neighbours that show what the level would be with no blocks there. */
const NEIGHBOURS = [-12, -9, -7, -5, 5, 7, 9, 12];
const SPREAD = NEIGHBOURS.reduce((s, d) => s + d * d, 0);
/** What all drops together must come to in deviations, and how many binary orders of power the least that counts. */
const SURE = 6.5;
const MIN_DEVIATION = 0.02;
/** No excerpt counts for more than this. */
const MAX_OF_ONE = 8;

export interface Trace {
  transform: 'layer III' | 'lapped';
  /** Samples into the period, or into what its beginnings move by. */ offset: number;
  /** In deviations of all offsets. */ sureness: number;
}

/** Two sides of an excerpt. */
export type Excerpt = readonly [left: Float32Array, right: Float32Array];

/** What is looked at: the difference of the sides, where encoders leave most out, and one side. */
const VIEWS: ((l: number, r: number) => number)[] = [(l, r) => (l - r) / 2, (l) => l];

/** The surest trace in excerpts of EXCERPT samples from multiples of EXCERPT_STEP; null when there is none. */
export function findTrace(excerpts: readonly Excerpt[]): Trace | null {
  if (excerpts.length < FEWEST) return null;
  const chosen = loudest(excerpts);
  const views = VIEWS.map((view) => chosen.map(([l, r]) => l.map((v, i) => view(v, r[i]!)))).filter((seen) =>
    seen.some((x) => x.some((v) => Math.abs(v) > 1e-4)),
  );
  const kernels = createKernels();
  let best: Trace | null = null;
  for (const [transform, plan] of [
    ['layer III', planPolyphaseBlocks],
    ['lapped', planLappedBlocks],
  ] as const) {
    // Blocks of one kind show a little in the other transform too; what is beyond doubt needs no second look.
    if (best && best.sureness > 2 * SURE) break;
    const blocks = plan(kernels);
    const found = surest(views.map((seen) => scan(blocks, seen)));
    if (found.sureness >= SURE && found.sureness > (best?.sureness ?? 0)) best = { transform, ...found };
  }
  kernels.release();
  return best;
}

function loudest(excerpts: readonly Excerpt[]): Excerpt[] {
  const power = ([l, r]: Excerpt): number => l.reduce((sum, v, i) => sum + v * v + r[i]! * r[i]!, 0);
  return excerpts
    .map((e) => ({ e, power: power(e) }))
    .sort((a, b) => b.power - a.power)
    .slice(0, MAX_PLACES)
    .map(({ e }) => e);
}

/** How far all levels drop at each offset, in deviations: for each group, and once more where beginnings may move. */
function scan(blocks: Blocks, seen: readonly Float32Array[]): Float64Array[] {
  const { period, shift } = blocks;
  const drops = new Float64Array(period);
  const same = Array.from({ length: LEVELS }, () => new Float64Array(period));
  const moving = Array.from({ length: LEVELS }, () => new Float64Array(shift));
  for (const x of seen) {
    const levels = blocks.sweep(x);
    for (let g = 0; g < LEVELS; g++) {
      dropsOf(levels, g, period, drops);
      for (let o = 0; o < period; o++) same[g]![o]! += drops[o]!;
      for (let o = 0; o < shift; o++) {
        let most = drops[o]!;
        for (let at = o + shift; at < period; at += shift) most = Math.max(most, drops[at]!);
        moving[g]![o]! += most;
      }
    }
  }
  return [...same, ...moving].map((sums) => {
    const middle = median(sums),
      deviation = 1.4826 * median(sums.map((v) => Math.abs(v - middle)));
    return sums.map((v) => (v - middle) / Math.max(deviation, Math.sqrt(seen.length)));
  });
}

/** The highest of all offsets, in one view or in all together. */
function surest(scans: Float64Array[][]): { offset: number; sureness: number } {
  let best = { offset: 0, sureness: 0 };
  const together = (scans[0] ?? []).map((row, r) =>
    row.map((_, o) => scans.reduce((sum, scan) => sum + scan[r]![o]!, 0) / Math.sqrt(scans.length)),
  );
  for (const row of [...scans.flat(), ...together])
    row.forEach((sureness, o) => {
      if (sureness > best.sureness) best = { offset: o + MARGIN, sureness };
    });
  return best;
}

/**
 * How far the level at each offset lies under that of its neighbours, in deviations of these from a line through them.
 */
function dropsOf(levels: Float32Array, group: number, period: number, out: Float64Array): void {
  const count = NEIGHBOURS.length;
  for (let o = 0; o < period; o++) {
    let sum = 0,
      squares = 0,
      along = 0;
    for (let i = 0; i < count; i++) {
      const d = NEIGHBOURS[i]!,
        v = levels[(MARGIN + o + d) * LEVELS + group]!;
      sum += v;
      squares += v * v;
      along += v * d;
    }
    const mean = sum / count;
    const off = Math.sqrt(Math.max(0, squares - sum * mean - (along * along) / SPREAD) / (count - 2)) + MIN_DEVIATION;
    out[o] = clamp((mean - levels[(MARGIN + o) * LEVELS + group]!) / off, -3, MAX_OF_ONE);
  }
}
