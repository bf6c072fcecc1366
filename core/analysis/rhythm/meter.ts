/**
 * Where in the bar a track stands: what is heard on each sixteenth of the bar, folded over the whole track,
 * is compared with what music usually does there (weights fitted on the benchmark's pieces, `npm run bench:fit`).
 */
import { foldChroma, type Chroma } from '../harmony/chroma.ts';
import type { Onsets } from './onsets.ts';
import { DOWNBEAT_WEIGHTS } from '../fitted/weights.ts';

/** Parts of a beat that are told apart. */
export const SLOTS = 4;
/** What is heard in a slot: five onset bands, change of harmony, change of density. */
export const SLOT_KINDS = 7;

export interface Meter {
  beatsPerBar: 3 | 4;
  /**
   * Slots from the first given beat to the first downbeat, 0 … SLOTS·beatsPerBar − 1; not a multiple of SLOTS where
   * the beats lie between the true ones.
   */
  shift: number;
  /** Probability of the shift. */
  confidence: number;
}

/** One series per kind, SLOTS values a beat. */
export function slotSeries(beats: ArrayLike<number>, onsets: Onsets, chroma: Chroma): Float64Array[] {
  const times = slotTimes(beats);
  const { bands, frameRate } = onsets;
  const out = bands.map((band) =>
    Float64Array.from(times, (t, i) =>
      strengthAround(band, t * frameRate, ((times[i + 1] ?? t + (t - (times[i - 1] ?? t))) - t) * frameRate),
    ),
  );
  const beat = beats.length > 1 ? (beats[beats.length - 1]! - beats[0]!) / (beats.length - 1) : 0.5;
  return [...out, harmonicChange(times, beat, chroma), densityChange(times, beat, onsets)];
}

function slotTimes(beats: ArrayLike<number>): Float64Array {
  const times = new Float64Array(Math.max(0, beats.length - 1) * SLOTS);
  for (let b = 0; b + 1 < beats.length; b++) {
    const step = (beats[b + 1]! - beats[b]!) / SLOTS;
    for (let s = 0; s < SLOTS; s++) times[b * SLOTS + s] = beats[b]! + s * step;
  }
  return times;
}

/** Largest value from a third of a slot before to half a slot after a frame. */
function strengthAround(band: Float32Array, centre: number, slot: number): number {
  let best = 0;
  const to = Math.min(band.length - 1, Math.round(centre + Math.min(6, slot * 0.5)));
  for (let i = Math.max(0, Math.round(centre - Math.min(4, slot * 0.34))); i <= to; i++)
    if (band[i]! > best) best = band[i]!;
  return best;
}

/** How far the pitch classes of the beat after a time differ from those of the beat before it. */
function harmonicChange(times: Float64Array, beat: number, chroma: Chroma): Float64Array {
  const { frameCount, frameRate } = chroma;
  if (frameCount < 3) return new Float64Array(times.length);
  const sums = runningSums(chroma);
  const before = new Float64Array(12),
    after = new Float64Array(12);
  const profile = (from: number, to: number, into: Float64Array): void => {
    const first = Math.max(0, Math.min(frameCount - 1, Math.round(from * frameRate)));
    const count = Math.max(1, Math.min(frameCount - first, Math.round((to - from) * frameRate)));
    for (let i = 0; i < 12; i++) into[i] = (sums[(first + count) * 12 + i]! - sums[first * 12 + i]!) / count;
  };
  return times.map((t) => {
    profile(t - beat * 1.5, t - beat * 0.2, before);
    profile(t + beat * 0.2, t + beat * 1.5, after);
    let sum = 0;
    for (let i = 0; i < 12; i++) sum += Math.abs(before[i]! - after[i]!);
    return sum;
  });
}

/** Sums of the folded profiles, bass added, of all frames before each; 12 values a frame. */
function runningSums(chroma: Chroma): Float64Array {
  const sums = new Float64Array((chroma.frameCount + 1) * 12);
  for (let f = 0; f < chroma.frameCount; f++) {
    const all = foldChroma(chroma.frames, f, 1, chroma.tuningCents),
      bass = foldChroma(chroma.bass, f, 1, chroma.tuningCents);
    for (let i = 0; i < 12; i++) sums[(f + 1) * 12 + i] = sums[f * 12 + i]! + all[i]! + bass[i]!;
  }
  return sums;
}

/** How far, at each time, the onset density of the four beats after differs from that of the four before. */
export function densityChange(times: Float64Array, beat: number, { bands, frameRate }: Onsets): Float64Array {
  const length = bands[0]!.length;
  const sums = new Float64Array(length + 1);
  for (let i = 0; i < length; i++) {
    let v = 0;
    for (const band of bands) v += band[i]!;
    sums[i + 1] = sums[i]! + v;
  }
  const between = (from: number, to: number): number => {
    const a = Math.max(0, Math.min(length, Math.round(from * frameRate))),
      b = Math.max(0, Math.min(length, Math.round(to * frameRate)));
    return sums[b]! - sums[a]!;
  };
  return times.map((t) => {
    const before = between(t - beat * 4, t),
      after = between(t, t + beat * 4);
    return Math.abs(after - before) / (after + before + 1);
  });
}

/** Folds series over bars of `slots` slots: one profile per kind, standardised, behind one another. */
export function barProfile(series: Float64Array[], slots: number): Float64Array {
  const out = new Float64Array(series.length * slots);
  series.forEach((values, kind) => {
    const sums = new Float64Array(slots),
      counts = new Float64Array(slots);
    for (let i = 0; i < values.length; i++) {
      sums[i % slots]! += values[i]!;
      counts[i % slots]!++;
    }
    for (let s = 0; s < slots; s++) sums[s] = counts[s]! > 0 ? sums[s]! / counts[s]! : 0;
    const mean = sums.reduce((a, b) => a + b, 0) / slots;
    const deviation = Math.sqrt(sums.reduce((a, b) => a + (b - mean) ** 2, 0) / slots);
    for (let s = 0; s < slots; s++) out[kind * slots + s] = deviation > 1e-9 ? (sums[s]! - mean) / deviation : 0;
  });
  return out;
}

/** The profile as it would look if the bar began `shift` slots later. */
export function shiftProfile(profile: Float64Array, slots: number, shift: number): Float64Array {
  return profile.map((_, i) => profile[Math.floor(i / slots) * slots + (((i % slots) + shift) % slots)]!);
}

/** Finds the bar over given beats (which may lie between the true ones). */
export function findMeter(beats: ArrayLike<number>, onsets: Onsets, chroma: Chroma): Meter {
  if (beats.length < 12) return { beatsPerBar: 4, shift: 0, confidence: 0 };
  const series = slotSeries(beats, onsets, chroma);
  const beatsPerBar = barContrast(series, 3) > barContrast(series, 4) * 1.15 ? 3 : 4;
  const slots = beatsPerBar * SLOTS;
  const profile = barProfile(series, slots);
  const weights = DOWNBEAT_WEIGHTS[beatsPerBar];
  const scores = Array.from({ length: slots }, (_, shift) =>
    shiftProfile(profile, slots, shift).reduce((sum, v, i) => sum + v * weights[i]!, 0),
  );
  const top = Math.max(...scores);
  const total = scores.reduce((sum, s) => sum + Math.exp(s - top), 0);
  return { beatsPerBar, shift: scores.indexOf(top), confidence: 1 / total };
}

/**
 * How much the beats of a bar differ when the bar has so many: the spread of the folded series against the spread that
 * chance gives.
 */
function barContrast(series: Float64Array[], beatsPerBar: number): number {
  let total = 0;
  for (const values of series) {
    const n = Math.floor(values.length / SLOTS);
    const perBeat = Array.from({ length: n }, (_, b) => values[b * SLOTS]!);
    const mean = perBeat.reduce((a, b) => a + b, 0) / n;
    const variance = perBeat.reduce((a, b) => a + (b - mean) ** 2, 0) / n;
    if (variance <= 0) continue;
    let between = 0;
    for (let p = 0; p < beatsPerBar; p++) {
      const own = perBeat.filter((_, b) => b % beatsPerBar === p);
      between += own.length * (own.reduce((a, b) => a + b, 0) / own.length - mean) ** 2;
    }
    total += between / (beatsPerBar - 1) / variance;
  }
  return total;
}
