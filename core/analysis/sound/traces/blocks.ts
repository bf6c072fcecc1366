/** What the transforms of encoders have in common, for those who look for where their blocks began. */

/** Beginnings looked at beyond the period, so that each within it has neighbours on both sides. */
export const MARGIN = 12;
/** Samples of an excerpt: what the longest blocks need. */
export const EXCERPT = 3072 + 2 * MARGIN;

/** Groups of lines, low to high, whose levels are told apart. */
export const LEVELS = 3;

export interface Blocks {
  /** Samples from one block to the next. */
  period: number;
  /** Where an encoder may change to shorter blocks and back, beginnings move by multiples of this; else the period. */
  shift: number;
  /**
   * Levels of the blocks beginning at each of the first `period` + 2 MARGIN of EXCERPT samples, LEVELS numbers each.
   */
  sweep(x: Float32Array, out: Float64Array): void;
}

/** Far below the rounding to 16 bits, in steps of which lines are counted. */
const NOTHING = 1e-3;

/**
 * Mean binary logarithms of the powers of lines from … to − 1, in LEVELS groups of equal width, each mean as one number
 * from `at` on. Logarithms are taken of products of eight.
 */
export function meanLevels(lines: Float64Array, from: number, to: number, out: Float64Array, at: number): void {
  const width = Math.floor((to - from) / LEVELS);
  for (let g = 0; g < LEVELS; g++) {
    const end = from + (g + 1) * width;
    let sum = 0;
    for (let l = from + g * width; l < end;) {
      let product = 1;
      for (const stop = Math.min(end, l + 8); l < stop; l++) {
        const v = lines[l]! * 32_768;
        product *= v * v + NOTHING;
      }
      sum += Math.log2(product);
    }
    out[at + g] = sum / width;
  }
}
