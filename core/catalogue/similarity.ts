/** How alike two names are. */
import { nameKey } from '../clean/known.ts';
import { fold } from '../fields/fold.ts';

/** Pairs of neighbouring letters with how often they come. */
function pairsOf(text: string): Map<string, number> {
  const out = new Map<string, number>();
  for (let i = 0; i + 1 < text.length; i++) {
    const pair = text.slice(i, i + 2);
    out.set(pair, (out.get(pair) ?? 0) + 1);
  }
  return out;
}

/** Dice's coefficient of two bags, 0 … 1. */
function dice(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  let shared = 0,
    total = 0;
  for (const [key, n] of a) {
    total += n;
    shared += Math.min(n, b.get(key) ?? 0);
  }
  for (const n of b.values()) total += n;
  return total === 0 ? 0 : (2 * shared) / total;
}

const wordsOf = (text: string): Map<string, number> =>
  new Map((fold(text).match(/[\p{L}\p{N}]+/gu) ?? []).map((w) => [w, 1]));

/**
 * Likeness of two names, 0 (nothing shared) to 1 (the same but for case, accents and marks): the better of the Dice
 * coefficients of letter pairs and of words (Dice 1945; Adamson and Boreham 1974 for letter pairs).
 */
export function similarity(a: string, b: string): number {
  const ka = nameKey(a),
    kb = nameKey(b);
  if (ka === '' || kb === '') return 0;
  if (ka === kb) return 1;
  return Math.min(0.99, Math.max(dice(pairsOf(ka), pairsOf(kb)), 0.95 * dice(wordsOf(a), wordsOf(b))));
}

/** Likeness of two sets of names: each with its best partner, from both sides. */
export function namesSimilarity(a: readonly string[], b: readonly string[]): number {
  if (a.length === 0 || b.length === 0) return 0;
  const best = (one: string, others: readonly string[]): number => Math.max(...others.map((o) => similarity(one, o)));
  const sum = (of: readonly string[], others: readonly string[]): number => of.reduce((n, x) => n + best(x, others), 0);
  return (sum(a, b) + sum(b, a)) / (a.length + b.length);
}
