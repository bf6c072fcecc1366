/** Sample peaks of short runs over all channels: for the audible edges, and to spare the true-peak search what cannot matter. */

/** Samples a run. */
export const RUN = 32;

/** Writes the largest magnitude of each run of `samples[0 … frames)` to `out`; returns how many runs there are. */
export function runPeaks(samples: Float32Array, frames: number, out: Float32Array): number {
  const whole = frames - (frames % RUN);
  let r = 0;
  for (let from = 0; from < whole; from += RUN) {
    let high = 0, low = 0;
    for (let i = from, end = from + RUN; i < end; i++) {
      const v = samples[i]!;
      high = v > high ? v : high;
      low = v < low ? v : low;
    }
    out[r++] = high > -low ? high : -low;
  }
  if (whole < frames) {
    let top = 0;
    for (let i = whole; i < frames; i++) top = Math.max(top, Math.abs(samples[i]!));
    out[r++] = top;
  }
  return r;
}
