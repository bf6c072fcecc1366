/** Two lists beside each other: what is in one, in the other, in both, and in another order. */

export interface Compared {
  /** Tracks that are only in the first, in its order; each once. */
  onlyFirst: number[];
  onlySecond: number[];
  /** Tracks in both, in the order of the first. */
  both: number[];
  /** Those of both that stand in the same order in each; the longest such row. */
  sameOrder: number;
}

/** Compares two lists of tracks. A track that a list holds twice counts where it stands first. */
export function compareLists(first: readonly number[], second: readonly number[]): Compared {
  const a = [...new Set(first)],
    b = [...new Set(second)];
  const inA = new Set(a),
    place = new Map(b.map((id, i) => [id, i]));
  const both = a.filter((id) => place.has(id));
  return {
    onlyFirst: a.filter((id) => !place.has(id)),
    onlySecond: b.filter((id) => !inA.has(id)),
    both,
    sameOrder: longestRise(both.map((id) => place.get(id)!)).size,
  };
}

/** The places of the longest rising part of a row of different numbers (patience sorting). */
export function longestRise(numbers: readonly number[]): Set<number> {
  const ends: number[] = [],
    before: number[] = [];
  for (const [i, n] of numbers.entries()) {
    let low = 0,
      high = ends.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (numbers[ends[middle]!]! < n) low = middle + 1;
      else high = middle;
    }
    before[i] = low > 0 ? ends[low - 1]! : -1;
    ends[low] = i;
  }
  const rise = new Set<number>();
  for (let i = ends.at(-1) ?? -1; i >= 0; i = before[i]!) rise.add(i);
  return rise;
}

/** Tracks that a list holds more than once. */
export function heldTwice(ids: readonly number[]): number[] {
  const seen = new Set<number>(),
    twice = new Set<number>();
  for (const id of ids) (seen.has(id) ? twice : seen).add(id);
  return [...twice];
}
