/** Where a track audibly starts and ends, to 10 ms, and where it falls silent between. */
import { growingShorts } from '../../signal/windows.ts';
import { RUN } from '../loudness/peaks.ts';

export interface Edges {
  /** Seconds; null for silence. */
  audibleStartSeconds: number | null;
  audibleEndSeconds: number | null;
  /** The longest stretch between them that cannot be heard; null when none is longer than half a second. */
  longestSilence: { startSeconds: number; seconds: number } | null;
}

export interface EdgeFinder {
  /** Takes the peaks of `count` runs of each channel (see peaks.ts). */
  push(runs: Float32Array[], count: number): void;
  finish(integratedLufs: number | null): Edges;
}

const BLOCK_SECONDS = 0.006;
const SILENCE_SECONDS = 0.5;
/** So many make full scale: what is asked of them is never quieter than 20. */
const PEAK_UNITS = 65_535;
const inUnits = (peak: number): number => Math.min(PEAK_UNITS, Math.round(peak * PEAK_UNITS));

/** Starts a finder over all channels of a stream. @param seconds that it may last; 0 where nobody knows */
export function createEdgeFinder(sampleRate: number, seconds = 0): EdgeFinder {
  const perBlock = Math.max(1, Math.round((sampleRate * BLOCK_SECONDS) / RUN));
  const block = perBlock * RUN;
  const peaks = growingShorts((seconds * sampleRate) / block);
  let inBlock = 0;
  let peak = 0;
  return {
    push(runs, count) {
      for (let r = 0; r < count;) {
        const end = Math.min(count, r + perBlock - inBlock);
        for (const channel of runs) for (let i = r; i < end; i++) if (channel[i]! > peak) peak = channel[i]!;
        inBlock += end - r;
        r = end;
        if (inBlock === perBlock) {
          peaks.push(inUnits(peak));
          peak = 0;
          inBlock = 0;
        }
      }
    },
    finish(integratedLufs) {
      if (inBlock > 0) peaks.push(inUnits(peak));
      const all = peaks.take();
      // Audible: within 45 dB of the programme's loudness, and never below −70 dBFS.
      const threshold = PEAK_UNITS * 10 ** (Math.max(-70, (integratedLufs ?? -25) - 45) / 20);
      let first = 0;
      while (first < all.length && all[first]! < threshold) first++;
      if (first === all.length) return { audibleStartSeconds: null, audibleEndSeconds: null, longestSilence: null };
      let last = all.length - 1;
      while (all[last]! < threshold) last--;
      const step = block / sampleRate;
      let longest = 0,
        longestFrom = 0;
      for (let i = first, from = first; i <= last; i++) {
        if (all[i]! >= threshold) from = i + 1;
        else if (i + 1 - from > longest) {
          longest = i + 1 - from;
          longestFrom = from;
        }
      }
      const longestSilence =
        longest * step > SILENCE_SECONDS ? { startSeconds: longestFrom * step, seconds: longest * step } : null;
      return { audibleStartSeconds: first * step, audibleEndSeconds: (last + 1) * step, longestSilence };
    },
  };
}
