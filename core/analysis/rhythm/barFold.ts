/**
 * What is heard on each part of a beat and of a bar, folded over a whole track: the picture by which it is told which
 * of several periods is the beat, and where the bar begins.
 */
import type { Chroma } from '../harmony/chroma.ts';
import { meanOrOne } from '../../signal/statistics.ts';
import { densityChanges, harmonicChanges, harmonyBetween, type ChangeAt, type HarmonyBetween } from './changes.ts';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';
import { repetitionOf, type Repetition } from './repetition.ts';

/** Parts of a beat at which attacks are listened for. */
export const PARTS = 12;
/** Beats in the bars that are told apart; of two beats, each has three parts (6/8). */
export const BARS = [2, 3, 4] as const;
export type BarBeats = (typeof BARS)[number];

/** One period's picture of a track. */
export interface BarFold {
  /** Attacks by beat of the bar, part of the beat and band: beats · PARTS · ONSET_BAND_COUNT values for each bar. */
  attacks: Record<BarBeats, Float32Array>;
  /** Change of harmony by half beat of the bar: beats · 2 values. */
  harmony: Record<BarBeats, Float32Array>;
  /** Change of density by beat of the bar. */
  density: Record<BarBeats, Float32Array>;
  /** How alike beats are at LAGS, in their attacks and in their harmony. */
  repeats: { attacks: Float32Array; harmony: Float32Array };
}

/** A time on a grid of beats that lie unevenly, also between and beyond them. */
export function timeAt(beats: ArrayLike<number>, position: number): number {
  const low = Math.max(0, Math.min(beats.length - 2, Math.floor(position)));
  return beats[low]! + (position - low) * (beats[low + 1]! - beats[low]!);
}

/** Where a time lies on such a grid, in its beats: the inverse of timeAt. @param beats at least two */
export function placeOf(beats: ArrayLike<number>, time: number): number {
  let low = 0,
    high = beats.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (beats[middle]! <= time) low = middle;
    else high = middle;
  }
  return low + (time - beats[low]!) / (beats[low + 1]! - beats[low]!);
}

/** What is folded, made ready once for all periods. */
export interface Surroundings {
  bands: readonly Float32Array[];
  /** The mean of each band. */
  means: readonly number[];
  frameRate: number;
  profile: HarmonyBetween;
  harmony: ChangeAt;
  density: ChangeAt;
}

export function surroundingsOf({ onsets, chroma }: { onsets: Onsets; chroma: Chroma }): Surroundings {
  const profile = harmonyBetween(chroma);
  return {
    bands: onsets.bands,
    means: onsets.bands.map(meanOrOne),
    frameRate: onsets.frameRate,
    profile,
    harmony: harmonicChanges(profile),
    density: densityChanges(onsets),
  };
}

/**
 * Folds what is heard over bars of a beat that lasts `ratio` of the given beats, the first bar beginning at the first.
 * @param beats seconds, at least two
 */
export function foldBars(beats: ArrayLike<number>, ratio: number, around: Surroundings): BarFold {
  const count = Math.floor((beats.length - 1) / ratio);
  const beatSeconds = ((beats[beats.length - 1]! - beats[0]!) / (beats.length - 1)) * ratio;
  const at = new Float64Array(count),
    halves = new Float64Array(2 * count);
  for (let k = 0; k < count; k++) {
    halves[2 * k] = at[k] = timeAt(beats, k * ratio);
    halves[2 * k + 1] = timeAt(beats, (k + 0.5) * ratio);
  }
  const harmony = around.harmony(halves, beatSeconds),
    density = around.density(at, beatSeconds);
  const width = PARTS * ONSET_BAND_COUNT;
  const attacks = repetitionOf(width);
  return {
    attacks: folded(count, width, attacksOn(beats, ratio, beatSeconds, around), attacks),
    harmony: folded(count, 2, (beat, row) => row.set(harmony.subarray(2 * beat, 2 * beat + 2))),
    density: folded(count, 1, (beat, row) => row.fill(density[beat]!)),
    repeats: { attacks: attacks.finish(), harmony: harmonyRepeats(beats, ratio, count, around) },
  };
}

function harmonyRepeats(
  beats: ArrayLike<number>,
  ratio: number,
  count: number,
  { profile }: Surroundings,
): Float32Array {
  const repetition = repetitionOf(12);
  const row = new Float64Array(12);
  for (let k = 0; k < count; k++) {
    profile(timeAt(beats, k * ratio), timeAt(beats, (k + 1) * ratio), row);
    repetition.push(row);
  }
  return repetition.finish();
}

/** Puts what is folded of one beat into a row. */
type RowOf = (beat: number, row: Float64Array) => void;

/**
 * The strongest attack close to each part of a beat, by band: in units of the band's mean, as logarithms, so that a few
 * loud ones do not drown the others.
 */
function attacksOn(
  beats: ArrayLike<number>,
  ratio: number,
  beatSeconds: number,
  { bands, means, frameRate }: Surroundings,
): RowOf {
  const reach = Math.max(1, Math.min(2, (beatSeconds * frameRate) / PARTS / 2));
  const last = bands[0]!.length - 1;
  return (beat, row) => {
    for (let part = 0; part < PARTS; part++) {
      const centre = timeAt(beats, ((beat * PARTS + part) / PARTS) * ratio) * frameRate;
      const from = Math.max(0, Math.round(centre - reach)),
        to = Math.min(last, Math.round(centre + reach));
      for (let b = 0; b < ONSET_BAND_COUNT; b++) {
        const band = bands[b]!;
        let top = 0;
        for (let k = from; k <= to; k++) if (band[k]! > top) top = band[k]!;
        row[part * ONSET_BAND_COUNT + b] = Math.log1p(top / means[b]!);
      }
    }
  };
}

/** Means over bars of rows of `width` values, one row a beat. @param repetition takes all rows too */
function folded(count: number, width: number, rowOf: RowOf, repetition?: Repetition): Record<BarBeats, Float32Array> {
  const row = new Float64Array(width);
  const sums = BARS.map((bar) => new Float32Array(bar * width));
  for (let beat = 0; beat < count; beat++) {
    rowOf(beat, row);
    repetition?.push(row);
    for (const [n, bar] of BARS.entries()) addRow(sums[n]!, (beat % bar) * width, row);
  }
  const means = BARS.map((bar, n) =>
    sums[n]!.map((sum, i) => sum / Math.max(1, Math.ceil((count - Math.floor(i / width)) / bar))),
  );
  return { 2: means[0]!, 3: means[1]!, 4: means[2]! };
}

function addRow(sums: Float32Array, at: number, row: Float64Array): void {
  for (let i = 0; i < row.length; i++) sums[at + i]! += row[i]!;
}
