/** Everything fitted without some pieces and measured on them, fold by fold; and what confidences mean then. */
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { sureness } from '@early-set/core/analysis/engine';
import { keyParts } from '@early-set/core/fields/keys';
import type { Excerpt } from '../excerpts.ts';
import type { PieceTruth } from '../pieces/produce.ts';
import { kept } from './caseShelf.ts';
import type { Heard } from './featurePool.ts';
import type { Fold, FoldWish, Shelf, Unseen } from './foldThread.ts';
import { keyCases } from './keyCases.ts';
import { readingCase } from './readingCases.ts';

export interface FoldPool {
  /** Fits without some pieces and hears some of them. */
  without(wish: FoldWish): Promise<Fold>;
  close(): Promise<void>;
}

/** One in so many excerpts teaches keys: parts of whole pieces do so already. */
const EXCERPTS = 5;

/** Lays all cases out in memory that the threads share. @param files with what is heard of each piece */
export function openFolds(
  pieces: readonly (PieceTruth | Excerpt)[],
  heard: readonly Heard[],
  files: string[],
): FoldPool {
  const shelf: Shelf = {
    readings: pieces.map((piece, i) => {
      const one = readingCase(piece, heard[i]!);
      return one && kept(one);
    }),
    keys: pieces.map((piece, i) => ('from' in piece && i % EXCERPTS !== 0 ? [] : keyCases(piece, heard[i]!))),
    heard: files,
    loops: readFileSync(process.env.BENCH_LOOPS!),
  };
  const pool = new Piscina<FoldWish, Fold>({
    filename: new URL('./foldThread.mjs', import.meta.url).href,
    maxThreads: availableParallelism(),
    workerData: shelf,
  });
  return { without: (wish) => pool.run(wish), close: () => pool.destroy() };
}

/** Indices of pieces by what they have in common; those of which there are few are left out together. */
export function foldsBy(
  pieces: readonly PieceTruth[],
  of: (piece: PieceTruth, i: number) => string,
  fewest = 1,
): { name: string; leftOut: number[] }[] {
  const groups = new Map<string, number[]>();
  pieces.forEach((piece, i) => {
    groups.set(of(piece, i), [...(groups.get(of(piece, i)) ?? []), i]);
  });
  const few = [...groups].filter(([, list]) => list.length < fewest);
  const folds = [...groups]
    .filter(([, list]) => list.length >= fewest)
    .map(([name, leftOut]) => ({ name, leftOut }))
    .sort((a, b) => a.name.localeCompare(b.name));
  if (few.length > 0) folds.push({ name: 'all others', leftOut: few.flatMap(([, list]) => list) });
  return folds;
}

const tempoRight = ({ bpm }: PieceTruth, { tempo }: Unseen): boolean =>
  bpm !== null && tempo.bpm !== null && Math.abs(tempo.bpm / bpm - 1) < 0.04;

/** A logistic sum of what speaks for a tempo, fitted on unseen pieces by Newton's method with a small penalty. */
export function fitSureness(cases: readonly { truth: PieceTruth; unseen: Unseen }[]): number[] {
  const used = cases.filter((c) => c.unseen.speaks.length > 0);
  const width = used[0]!.unseen.speaks.length;
  let weights = new Array<number>(width).fill(0);
  for (let round = 0; round < 30; round++) {
    const gradient = weights.map((w, i) => (i === 0 ? 0 : PENALTY * w));
    const hessian = weights.map((_, i) => weights.map((__, k) => (i === k ? PENALTY : 0)));
    for (const { truth, unseen } of used) {
      const x = unseen.speaks;
      const p = 1 / (1 + Math.exp(-x.reduce((sum, v, i) => sum + v * weights[i]!, 0)));
      const error = p - (tempoRight(truth, unseen) ? 1 : 0);
      for (let i = 0; i < width; i++) {
        gradient[i]! += error * x[i]!;
        for (let k = 0; k < width; k++) hessian[i]![k]! += p * (1 - p) * x[i]! * x[k]!;
      }
    }
    const step = solved(hessian, gradient);
    weights = weights.map((w, i) => w - step[i]!);
  }
  return weights;
}
const PENALTY = 1;

/** Gaussian elimination with pivots. */
function solved(matrix: number[][], right: number[]): number[] {
  const rows = matrix.map((row, i) => [...row, right[i]!]);
  const n = rows.length;
  for (let c = 0; c < n; c++) {
    const pivot = rows
      .slice(c)
      .reduce((best, row, i) => (Math.abs(row[c]!) > Math.abs(rows[best]![c]!) ? c + i : best), c);
    [rows[c], rows[pivot]] = [rows[pivot]!, rows[c]!];
    for (let r = c + 1; r < n; r++) {
      const factor = rows[r]![c]! / rows[c]![c]!;
      for (let k = c; k <= n; k++) rows[r]![k]! -= factor * rows[c]![k]!;
    }
  }
  const out = new Array<number>(n).fill(0);
  for (let r = n - 1; r >= 0; r--)
    out[r] = (rows[r]![n]! - out.reduce((sum, v, k) => sum + (k > r ? rows[r]![k]! * v : 0), 0)) / rows[r]![r]!;
  return out;
}

/** By how much scores of keys are to be divided so that unseen keys are as often right as is said. */
export function fitCalm(cases: readonly { truth: PieceTruth; unseen: Unseen }[]): number {
  let best = 1,
    least = Infinity;
  for (let calm = 0.6; calm <= 4; calm += 0.05) {
    let loss = 0;
    for (const { truth, unseen } of cases) {
      if (truth.key === null) continue;
      const { tonic, mode } = keyParts(truth.key)!;
      const p = calmed(unseen.keyProbabilities, calm)[tonic + (mode === 'minor' ? 12 : 0)]!;
      loss -= Math.log(p + 1e-9);
    }
    if (loss < least) {
      least = loss;
      best = calm;
    }
  }
  return Number(best.toFixed(2));
}

const calmed = (probabilities: readonly number[], calm: number): number[] => {
  const all = probabilities.map((p) => (p + 1e-12) ** (1 / calm));
  const sum = all.reduce((a, b) => a + b, 0);
  return all.map((v) => v / sum);
};

/** An unseen piece's result with the confidences that a fit of others gives. */
export function withConfidence(unseen: Unseen, tempoSure: readonly number[], calm: number): Unseen {
  const confidence = unseen.speaks.length > 0 ? sureness(tempoSure, unseen.speaks) : 0;
  const key = { ...unseen.key, confidence: Math.max(...calmed(unseen.keyProbabilities, calm)) };
  return { ...unseen, tempo: { ...unseen.tempo, confidence }, key: unseen.key.key === null ? unseen.key : key };
}
