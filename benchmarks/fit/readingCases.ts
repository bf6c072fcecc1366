/** What the networks that read grids are taught: every reading of a piece's grid, and which of them are right. */
import { layGrid } from '@early-set/core/analysis/rhythm/grid';
import { BARS, placeOf } from '@early-set/core/analysis/rhythm/barFold';
import { firstAttack } from '@early-set/core/analysis/rhythm/beginning';
import { heardPeriods, picturesOf, type HeardPeriod, type Reading } from '@early-set/core/analysis/rhythm/readings';
import { estimateTempo } from '@early-set/core/analysis/rhythm/tempo';
import { median } from '@early-set/core/signal/statistics';
import type { PieceTruth } from '../pieces/produce.ts';
import type { Heard } from './featurePool.ts';

export interface ReadingCase {
  periods: HeardPeriod[];
  /** By period, then by what picturesOf gives, for each of BARS. */
  right: Rightness[][][];
}

/** Neither; its beats; its bars as well. */
export type Rightness = 0 | 1 | 2;

/** Null where no grid can be laid, or none of its readings is right. */
export function readingCase(truth: PieceTruth, heard: Heard): ReadingCase | null {
  const { bpm, novelty, knownOf } = estimateTempo(heard.onsets);
  if (bpm === null || truth.bpm === null) return null;
  const { beats } = layGrid(heard, novelty, bpm);
  if (beats.length < MIN_BEATS) return null;
  const periods = heardPeriods(beats, { ...heard, firstAttack: firstAttack(heard.onsets) }, knownOf);
  const right = periods.map((period) =>
    BARS.map((bar) => picturesOf(period, bar).map(({ reading }) => rightness(truth, beats, reading))),
  );
  return right.flat(2).some((r) => r > 0) ? { periods, right } : null;
}

const MIN_BEATS = 13;
/** A reading's beats may lie so far beside the true ones, in seconds and as a share of a beat. */
const BESIDE_SECONDS = 0.06,
  BESIDE_SHARE = 0.16;

/** How right a reading of a grid is. @param beats of the grid, seconds */
export function rightness(truth: PieceTruth, beats: ArrayLike<number>, reading: Reading): Rightness {
  const all = truth.beats;
  const first = all.findIndex((t) => t > beats[0]! - 1);
  const within = all.flatMap((t, i) => (i >= first && first >= 0 && t < beats[beats.length - 1]! + 0.2 ? [i] : []));
  if (within.length < 8) return 0;
  const period = median(within.slice(1).map((i) => all[i]! - all[i - 1]!));
  const own = ((beats[beats.length - 1]! - beats[0]!) / (beats.length - 1)) * reading.ratio;
  if (Math.abs(own / period - 1) > 0.035) return 0;
  const at = within.map((i) => placeOf(beats, all[i]!) / reading.ratio - reading.offset / 12);
  const off = at.map((y) => Math.abs(y - Math.round(y)));
  if (median(off) * own > Math.min(BESIDE_SECONDS, BESIDE_SHARE * own)) return 0;
  const wanted = truth.compound ? 2 : truth.beatsPerBar === 2 ? 4 : truth.beatsPerBar;
  if (wanted !== reading.beatsPerBar) return 1;
  // A bar of two quarters is half of one of four.
  const bar = truth.beatsPerBar;
  let met = 0,
    counted = 0;
  within.forEach((i, k) => {
    if (off[k]! > 0.25) return;
    counted++;
    const beat = Math.round(at[k]!) - reading.firstDownbeat;
    if ((((beat % bar) + bar) % bar === 0) === (i % bar === 0)) met++;
  });
  return met > 0.85 * counted ? 2 : 1;
}
