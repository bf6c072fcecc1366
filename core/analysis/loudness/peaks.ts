/**
 * Sample peaks of short runs over all channels: for the audible edges, and to spare the true-peak search what cannot
 * matter.
 */
import { BLOCK, type Kernels } from '../../signal/kernels/kernels.ts';

/** Samples a run. */
export const RUN = 32;

/**
 * Starts taking run peaks: writes the largest magnitude of each run of `samples[0 … frames)` to `out`; returns how
 * many runs there are.
 */
export function createRunPeaks(kernels: Kernels): (samples: Float32Array, frames: number, out: Float32Array) => number {
  const block = kernels.floats(BLOCK / RUN);
  return (samples, frames, out) => {
    let runs = 0;
    kernels.visit([samples], frames, ([pointer], from, count) => {
      const inMemory = out.buffer === kernels.memory.buffer;
      const found = kernels.runPeaks(pointer!, count, inMemory ? out.byteOffset + (from / RUN) * 4 : block.byteOffset);
      if (!inMemory) out.set(block.subarray(0, found), from / RUN);
      runs = from / RUN + found;
    });
    return runs;
  };
}
