/** How much the harmony and the density of onsets change at given times: bars and phrases begin where they do. */
import { foldChroma, type Chroma } from '../harmony/chroma.ts';
import type { Onsets } from './onsets.ts';

/** How much something changes at each time, by the length of a beat in seconds; takes the places of the times. */
export type ChangeAt = (times: Float64Array, beat: number) => Float64Array;

/** Puts the mean of the folded profiles, bass added, between two times in seconds into 12 values. */
export type HarmonyBetween = (from: number, to: number, into: Float64Array) => void;

/** Profiles between any two times; zeros where there are none. */
export function harmonyBetween(chroma: Chroma): HarmonyBetween {
  const { frameCount, frameRate } = chroma;
  if (frameCount < 3) return (_from, _to, into) => void into.fill(0);
  const sums = runningSums(chroma);
  return (from, to, into) => {
    const first = Math.max(0, Math.min(frameCount - 1, Math.round(from * frameRate)));
    const count = Math.max(1, Math.min(frameCount - first, Math.round((to - from) * frameRate)));
    for (let i = 0; i < 12; i++) into[i] = (sums[(first + count) * 12 + i]! - sums[first * 12 + i]!) / count;
  };
}

/** How far the pitch classes of the beat after a time differ from those of the beat before it. */
export function harmonicChanges(profile: HarmonyBetween): ChangeAt {
  const before = new Float64Array(12),
    after = new Float64Array(12);
  return (times, beat) => {
    for (let k = 0; k < times.length; k++) {
      const t = times[k]!;
      profile(t - beat * 1.5, t - beat * 0.2, before);
      profile(t + beat * 0.2, t + beat * 1.5, after);
      let sum = 0;
      for (let i = 0; i < 12; i++) sum += Math.abs(before[i]! - after[i]!);
      times[k] = sum;
    }
    return times;
  };
}

/** Sums of the folded profiles, bass added, of all frames before each; 12 values a frame. */
function runningSums(chroma: Chroma): Float64Array {
  const sums = new Float64Array((chroma.frameCount + 1) * 12);
  const classes = new Float64Array(12);
  for (let f = 0; f < chroma.frameCount; f++) {
    foldChroma(chroma.frames, f, 1, chroma.tuningCents, classes);
    foldChroma(chroma.bass, f, 1, chroma.tuningCents, classes);
    sums.set(classes, (f + 1) * 12);
  }
  return sums;
}

/** How far, at each time, the onset density of the four beats after differs from that of the four before. */
export function densityChanges({ bands, frameRate }: Onsets): ChangeAt {
  const length = bands[0]!.length;
  const within = (from: number, to: number): number => {
    let sum = 0;
    for (const band of bands) for (let i = from; i < to; i++) sum += band[i]!;
    return sum;
  };
  // Sums up to every eighth frame: the rest is quickly added.
  const sums = new Float64Array((length >> 3) + 1);
  for (let k = 1; k < sums.length; k++) sums[k] = sums[k - 1]! + within((k - 1) << 3, k << 3);
  const upTo = (time: number): number => {
    const end = Math.max(0, Math.min(length, Math.round(time * frameRate)));
    return sums[end >> 3]! + within(end & ~7, end);
  };
  const between = (from: number, to: number): number => upTo(to) - upTo(from);
  return (times, beat) => {
    for (let k = 0; k < times.length; k++) {
      const t = times[k]!;
      const before = between(t - beat * 4, t),
        after = between(t, t + beat * 4);
      times[k] = Math.abs(after - before) / (after + before + 1);
    }
    return times;
  };
}
