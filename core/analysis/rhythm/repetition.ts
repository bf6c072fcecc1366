/**
 * How alike the beats of a track are some beats apart, in what is heard in each: bars of three repeat after three, six
 * and twelve beats, and few things do after five (after Gainza, "Automatic musical meter detection", ICASSP 2009).
 */

/** Beats apart. */
export const LAGS = [1, 2, 3, 4, 5, 6, 8, 12, 16, 32] as const;
const LONGEST = LAGS[LAGS.length - 1]!;

export interface Repetition {
  /** The next beat. The row is copied. */
  push(row: ArrayLike<number>): void;
  /** For each of LAGS, against the mean of all of them and by how much they differ: about −1 to 1, zeros at first. */
  finish(): Float32Array;
}

/**
 * Correlation of beats with later ones, each value about its own mean over the track. Beats are not kept, but for the
 * first and last LONGEST, so that it does not matter how many there are.
 * @param width values of a beat
 */
export function repetitionOf(width: number): Repetition {
  const ring = Array.from({ length: LONGEST }, () => new Float64Array(width));
  const first: Float64Array[] = [];
  const sum = new Float64Array(width);
  const products = new Float64Array(LAGS.length);
  let count = 0,
    squares = 0;

  return {
    push(values) {
      // The place of the beat LONGEST before this one is only taken when nothing asks for that any more.
      const row = Float64Array.from(values);
      LAGS.forEach((lag, n) => {
        if (lag <= count) products[n]! += dot(row, ring[(count - lag) % LONGEST]!);
      });
      for (let i = 0; i < width; i++) sum[i]! += row[i]!;
      squares += dot(row, row);
      if (first.length < LONGEST) first.push(row);
      ring[count++ % LONGEST] = row;
    },
    finish() {
      const mean = sum.map((v) => v / Math.max(1, count));
      const alike = LAGS.map((lag, n) => {
        const pairs = count - lag;
        if (pairs <= 0) return 0;
        // Without the last, and without the first `lag` beats: their sums, and their squares about the mean.
        let outer = 0,
          apart = 2 * squares - 2 * count * dot(mean, mean);
        for (let k = 0; k < lag; k++)
          for (const row of [first[k]!, ring[(count - 1 - k) % LONGEST]!]) {
            outer += dot(row, mean);
            apart -= squaresAbout(row, mean);
          }
        const both = products[n]! - (2 * count * dot(mean, mean) - outer) + pairs * dot(mean, mean);
        return both / (apart / 2 + 1e-9);
      });
      return againstEachOther(alike);
    },
  };
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

function squaresAbout(row: Float64Array, mean: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < row.length; i++) sum += (row[i]! - mean[i]!) ** 2;
  return sum;
}

/** A loop is alike at all lags and a band is not: only what differs between lags says something of the metre. */
function againstEachOther(alike: readonly number[]): Float32Array {
  const mean = alike.reduce((sum, v) => sum + v, 0) / alike.length;
  const spread = Math.sqrt(alike.reduce((sum, v) => sum + (v - mean) ** 2, 0) / alike.length);
  return Float32Array.from(alike, (v) => (2 * (v - mean)) / (3 * spread + 0.1));
}
