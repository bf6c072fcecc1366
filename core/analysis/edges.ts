/** Where a track audibly starts and ends, to 10 ms. */
import { growing } from '../signal/windows.ts';
import { RUN } from './peaks.ts';

export interface Edges {
  /** Seconds; null for silence. */
  audibleStartSeconds: number | null;
  audibleEndSeconds: number | null;
}

export interface EdgeFinder {
  /** Takes the peaks of `count` runs of each channel (see peaks.ts). */
  push(runs: Float32Array[], count: number): void;
  finish(integratedLufs: number | null): Edges;
}

const BLOCK_SECONDS = 0.006;

/** Starts a finder over all channels of a stream. */
export function createEdgeFinder(sampleRate: number): EdgeFinder {
  const perBlock = Math.max(1, Math.round((sampleRate * BLOCK_SECONDS) / RUN));
  const block = perBlock * RUN;
  const peaks = growing();
  let inBlock = 0;
  let peak = 0;
  return {
    push(runs, count) {
      for (let r = 0; r < count; r++) {
        for (const channel of runs) if (channel[r]! > peak) peak = channel[r]!;
        if (++inBlock === perBlock) { peaks.push(peak); peak = 0; inBlock = 0; }
      }
    },
    finish(integratedLufs) {
      if (inBlock > 0) peaks.push(peak);
      const all = peaks.view();
      // Audible: within 45 dB of the programme's loudness, and never below −70 dBFS.
      const threshold = 10 ** (Math.max(-70, (integratedLufs ?? -25) - 45) / 20);
      let first = 0;
      while (first < all.length && all[first]! < threshold) first++;
      if (first === all.length) return { audibleStartSeconds: null, audibleEndSeconds: null };
      let last = all.length - 1;
      while (all[last]! < threshold) last--;
      const step = block / sampleRate;
      return { audibleStartSeconds: first * step, audibleEndSeconds: (last + 1) * step };
    },
  };
}
