/** What the transforms of encoders have in common, for those who look for where their blocks began. */
import type { Kernels } from '../../../signal/kernels/kernels.ts';

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
   * Mean binary logarithms of the powers of lines, in LEVELS groups of equal width from low to high, in steps of 16
   * bits over a floor far below these: of the blocks beginning at each of the first `period` + 2 MARGIN of EXCERPT
   * samples, LEVELS numbers each. They stay until the next sweep.
   */
  sweep(x: Float32Array): Float32Array;
}

/** Gives a kernel its samples, tables and room. @param floats that it works in */
export function planSweep(
  kernels: Kernels,
  period: number,
  values: readonly number[],
  floats: number,
  run: (x: number, tables: number, work: number, out: number) => void,
): Blocks['sweep'] {
  const samples = kernels.floats(EXCERPT),
    tables = kernels.floats(values.length),
    work = kernels.floats(floats),
    out = kernels.floats((period + 2 * MARGIN) * LEVELS);
  tables.set(values);
  return (x) => {
    samples.set(x);
    run(samples.byteOffset, tables.byteOffset, work.byteOffset, out.byteOffset);
    return out;
  };
}
