/**
 * How alike the beats of a track are some beats apart, in what is heard in each: bars of three repeat after three, six
 * and twelve beats, and few things do after five (after Gainza, "Automatic musical meter detection", ICASSP 2009).
 */

/** Beats apart. */
export const LAGS = [1, 2, 3, 4, 5, 6, 8, 12, 16, 32] as const;
const LONGEST = LAGS[LAGS.length - 1]!;

export interface Repetition {
  /** The next beat. The row is copied. */
  push(row: Float64Array): void;
  /** For each of LAGS, against the mean of all of them and by how much they differ: about −2 to 2. */
  finish(): Float32Array;
}

/**
 * Correlation of beats with later ones, each value about its own mean over the track. Beats are not kept, but for the
 * first and last LONGEST, so that it does not matter how many there are.
 * @param width values of a beat
 */
export function repetitionOf(width: number): Repetition {
  // One list of values: what is asked of each beat is asked hundreds of thousands of times.
  const ring = new Float64Array(LONGEST * width),
    first = new Float64Array(LONGEST * width);
  const sum = new Float64Array(width);
  const products = new Float64Array(LAGS.length);
  let count = 0,
    squares = 0;

  return {
    push(row) {
      // The beat LONGEST before this one has its place until it has been looked at.
      for (let n = 0; n < LAGS.length && LAGS[n]! <= count; n++) {
        const from = ((count - LAGS[n]!) % LONGEST) * width;
        let product = 0;
        for (let i = 0; i < width; i++) product += row[i]! * ring[from + i]!;
        products[n]! += product;
      }
      const at = (count % LONGEST) * width;
      for (let i = 0; i < width; i++) {
        const value = row[i]!;
        ring[at + i] = value;
        sum[i]! += value;
        squares += value * value;
      }
      if (count < LONGEST) first.set(ring.subarray(at, at + width), at);
      count++;
    },
    finish() {
      const mean = sum.map((v) => v / Math.max(1, count));
      const level = mean.reduce((total, v) => total + v * v, 0);
      const alike = LAGS.map((lag, n) => {
        const pairs = count - lag;
        if (pairs <= 0) return 0;
        // Without the last, and without the first `lag` beats: their sums, and their squares about the mean.
        let outer = 0,
          apart = 2 * squares - 2 * count * level;
        for (let k = 0; k < lag; k++)
          for (const [rows, place] of [[first, k] as const, [ring, (count - 1 - k) % LONGEST] as const])
            for (let i = 0; i < width; i++) {
              const value = rows[place * width + i]!;
              outer += value * mean[i]!;
              apart -= (value - mean[i]!) ** 2;
            }
        return (products[n]! - (2 * count * level - outer) + pairs * level) / (apart / 2 + 1e-9);
      });
      return againstEachOther(alike);
    },
  };
}

/** A loop is alike at all lags and a band is not: only what differs between lags says something of the metre. */
function againstEachOther(alike: readonly number[]): Float32Array {
  const mean = alike.reduce((sum, v) => sum + v, 0) / alike.length;
  const spread = Math.sqrt(alike.reduce((sum, v) => sum + (v - mean) ** 2, 0) / alike.length);
  return Float32Array.from(alike, (v) => (2 * (v - mean)) / (3 * spread + 0.1));
}
