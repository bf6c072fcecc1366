/**
 * From a tempo candidate to beats: the hypothesis of one steady grid is fitted to the attacks of the
 * whole track by least squares; where it does not hold, beats are tracked.
 */
import { median, quantile } from '../../signal/statistics.ts';
import type { Bands } from './bands.ts';
import type { Features } from '../features.ts';
import type { BeatGrid } from './beatGrid.ts';
import { layChanging } from './tempoChanges.ts';
import { refinePeriod } from './refinePeriod.ts';
import { followPeriod, periodsOf, strengthsOf, trackBeats } from './beatTracking.ts';

interface Line {
  phase: number;
  period: number;
  periodError: number;
  support: number;
  /** On how many of its points an attack was found. */
  hits: number;
}

/** Attacks found on the points of a line. */
interface Hits {
  count: number;
  index: Float64Array;
  time: Float64Array;
  weight: Float64Array;
}

interface Attack {
  time: number;
  strength: number;
}

/**
 * Where the attack function is strongest within ±reach of a time, weighed towards the middle.
 * @param into is overwritten and given back, as there are very many
 */
function attackNear(bands: Bands, time: number, reach: number, into: Attack): Attack {
  const { attack, attackStep } = bands;
  const centre = time / attackStep;
  const from = Math.max(1, Math.floor(centre - reach / attackStep));
  const to = Math.min(attack.length - 2, Math.ceil(centre + reach / attackStep));
  let best = -1,
    bestValue = 0;
  for (let i = from; i <= to; i++) {
    const off = ((i - centre) * attackStep) / reach;
    const value = attack[i]! * (1 - 0.5 * off * off);
    if (value > bestValue) {
      bestValue = value;
      best = i;
    }
  }
  into.time = time;
  into.strength = 0;
  if (best < 0) return into;
  // The centre of the rise: neighbouring slices share one attack.
  const a = attack[best - 1]!,
    b = attack[best]!,
    c = attack[best + 1]!;
  const offset = (c - a) / (a + b + c + 1e-9);
  into.time = (best + offset) * attackStep;
  into.strength = b;
  return into;
}

/**
 * The phase of a steady line at which attacks gather most; whether they are beats or lie between is for the readings to
 * say.
 */
function attackPhase(bands: Bands, period: number): number {
  const step = bands.attackStep;
  const bins = Math.max(8, Math.round(period / step));
  const folded = new Float64Array(bins);
  for (let i = 0; i < bands.attack.length; i++)
    folded[Math.min(bins - 1, Math.floor((((i * step) / period) % 1) * bins))]! += Math.min(1.5, bands.attack[i]!);
  let best = 0,
    bestValue = -1;
  for (let i = 0; i < bins; i++) {
    const value = folded[i]! + 0.7 * (folded[(i + 1) % bins]! + folded[(i + bins - 1) % bins]!);
    if (value > bestValue) {
      bestValue = value;
      best = i;
    }
  }
  return ((best + 0.5) / bins) * period;
}

/** Points of a line up to a duration, the first at or after 0. */
export function pointsOf(phase: number, period: number, duration: number): Float64Array {
  let first = phase % period;
  if (first < 0) first += period;
  return Float64Array.from(
    { length: Math.max(0, Math.floor((duration - first) / period) + 1) },
    (_, k) => first + k * period,
  );
}

export function fitLine(bands: Bands, phase: number, period: number, duration: number): Line {
  let line: Line = { phase: phase % period, period, periodError: Infinity, support: 0, hits: 0 };
  let hits: Hits | null = null;
  for (const reach of [0.06, 0.035, 0.02, 0.015]) {
    const count = Math.floor((duration - line.phase) / line.period);
    hits = hitsOn(bands, line, count, reach);
    if (hits.count < 4) return { ...line, hits: hits.count };
    line = { ...leastSquares(hits), support: hits.count / (count + 1), hits: hits.count };
    while (line.phase - line.period >= 0) line.phase -= line.period;
    while (line.phase < 0) line.phase += line.period;
  }
  const { time, weight } = hits!;
  line.phase += weightedMedian(
    time.map((t) => t - expectedTime(line, t)),
    weight,
  );
  return line;
}

/** Attacks within ±reach of the points 0 … count of a line. */
function hitsOn(bands: Bands, line: { phase: number; period: number }, count: number, reach: number): Hits {
  const room = (): Float64Array => new Float64Array(Math.max(0, count + 1));
  const index = room(),
    time = room(),
    weight = room();
  const found: Attack = { time: 0, strength: 0 };
  let hits = 0;
  for (let k = 0; k <= count; k++) {
    attackNear(bands, line.phase + k * line.period, reach, found);
    if (found.strength <= 0.25) continue;
    index[hits] = k;
    time[hits] = found.time;
    weight[hits++] = Math.min(2, found.strength);
  }
  return {
    count: hits,
    index: index.subarray(0, hits),
    time: time.subarray(0, hits),
    weight: weight.subarray(0, hits),
  };
}

const expectedTime = (line: { phase: number; period: number }, time: number): number =>
  line.phase + Math.round((time - line.phase) / line.period) * line.period;

function leastSquares({ count, index, time, weight }: Hits): { phase: number; period: number; periodError: number } {
  let sw = 0,
    sx = 0,
    sy = 0;
  for (let i = 0; i < count; i++) {
    sw += weight[i]!;
    sx += weight[i]! * index[i]!;
    sy += weight[i]! * time[i]!;
  }
  const mx = sx / sw,
    my = sy / sw;
  let sxx = 0,
    sxy = 0;
  for (let i = 0; i < count; i++) {
    sxx += weight[i]! * (index[i]! - mx) ** 2;
    sxy += weight[i]! * (index[i]! - mx) * (time[i]! - my);
  }
  const period = sxx > 0 ? sxy / sxx : 0;
  const phase = my - period * mx;
  let rss = 0;
  for (let i = 0; i < count; i++) rss += weight[i]! * (time[i]! - phase - period * index[i]!) ** 2;
  const variance = rss / sw;
  return { phase, period, periodError: sxx > 0 ? Math.sqrt(variance / (sxx / sw) / count) : Infinity };
}

function weightedMedian(values: Float64Array, weights: Float64Array): number {
  const order = Uint32Array.from(values, (_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const half = weights.reduce((a, b) => a + b, 0) / 2;
  let sum = 0;
  for (const i of order) if ((sum += weights[i]!) >= half) return values[i]!;
  return 0;
}

/**
 * Does one line hold everywhere? In each group of 16 beats the attacks must lie on it: neither beside it
 * together (the tempo wanders) nor spread around it (these are other attacks).
 */
function isSteady(bands: Bands, line: Line, duration: number): boolean {
  const misses: number[] = [];
  const found: Attack = { time: 0, strength: 0 };
  const group = line.period * 16;
  const reach = Math.min(0.08, line.period * 0.2);
  for (let from = line.phase; from + group / 2 < duration; from += group) {
    const residuals: number[] = [];
    for (let k = 0; k < 16; k++) {
      const expected = from + k * line.period;
      attackNear(bands, expected, reach, found);
      if (found.strength > 0.5) residuals.push(found.time - expected);
    }
    if (residuals.length < 6) continue;
    const middle = median(residuals);
    const spread = median(residuals.map((r) => Math.abs(r - middle)));
    misses.push(Math.max(Math.abs(middle) / MAX_OFFSET, spread / (reach * MAX_SPREAD)));
  }
  return misses.length === 0 || quantile(misses, 0.8) < 1;
}

/** Is the local period the line's, but for moments? */
function holdsItsTempo(periods: Float64Array, period: number): boolean {
  return periods.filter((p) => Math.abs(p / period - 1) > 0.025).length < periods.length * 0.3;
}

/** Seconds that a group of beats may lie beside a steady line. */
const MAX_OFFSET = 0.013;
/** Share of the reach that attacks may spread; attacks that have nothing to do with the line spread by half of it. */
const MAX_SPREAD = 0.33;

/** Snaps to a whole or half BPM only where the measured value is inside its own error of it. */
export function snapBpm(bpm: number, error: number): number {
  const tolerance = Math.min(0.04, Math.max(0.006, 2.5 * error));
  for (const unit of [1, 2]) {
    const rounded = Math.round(bpm * unit) / unit;
    if (Math.abs(rounded - bpm) <= tolerance / unit) return rounded;
  }
  return bpm;
}

/** Moves tracked beats onto the attacks close by, then evens out single outliers. */
export function refineBeats(bands: Bands, beats: number[]): Float64Array {
  const found: Attack = { time: 0, strength: 0 };
  const placed = Float64Array.from(beats, (t) => (attackNear(bands, t, 0.03, found).strength > 0.4 ? found.time : t));
  return placed.map((t, i) => {
    if (i === 0 || i === placed.length - 1) return t;
    const between = (placed[i - 1]! + placed[i + 1]!) / 2;
    return Math.abs(t - between) > 0.025 ? between : t;
  });
}

/** Another grid on the same attacks. */
export type Read = (grid: BeatGrid, heard: Heard) => BeatGrid;

type Heard = Pick<Features, 'bands' | 'onsets' | 'chroma' | 'durationSeconds'>;

/**
 * Lays beats and bars for a tempo.
 * @param novelty onset function at the onsets' frame rate
 * @param read lays a grid anew as it is best read; each stretch between changes of tempo has a reading of its own
 */
export function layGrid(heard: Heard, novelty: Float32Array, bpm: number, read: Read = (grid) => grid): BeatGrid {
  const whole = laySteady(heard, novelty, bpm);
  const found: Attack = { time: 0, strength: 0 };
  const changing = layChanging(
    heard,
    novelty,
    whole,
    (own, ownNovelty, ownBpm) => {
      const { grid, ...rest } = laySteady(own, ownNovelty, ownBpm);
      return read(grid ?? layTracked(own, ownNovelty, rest), own);
    },
    (time) => attackNear(heard.bands, time, 0.03, found).strength,
  );
  return changing ?? read(whole.grid ?? layTracked(heard, novelty, whole), heard);
}

/** What is known of a track after one line was tried on it. */
interface Tried {
  period: number;
  strengths: Float64Array[];
  periods: Float64Array;
}

/** Lays one steady line; no grid where it does not hold. */
function laySteady(
  { bands, onsets, durationSeconds: duration }: Heard,
  novelty: Float32Array,
  bpm: number,
): Tried & { grid: BeatGrid | null } {
  const { frameRate } = onsets;
  const period = refinePeriod(novelty, frameRate, 60 / bpm);
  const line = fitLine(bands, attackPhase(bands, period), period, duration);
  const bpmError = (60 / line.period ** 2) * line.periodError;
  const fitted = line.period || period;
  const strengths = strengthsOf(novelty, frameRate, fitted);
  const periods = periodsOf(followPeriod(strengths, 'wanders'), fitted);
  const tried = { period: fitted, strengths, periods };
  if (
    line.hits < 8 ||
    !Number.isFinite(bpmError) ||
    !holdsItsTempo(periods, line.period) ||
    !isSteady(bands, line, duration)
  )
    return { ...tried, grid: null };
  const snapped = snapBpm(60 / line.period, bpmError);
  const exact = 60 / snapped;
  // The snapped line keeps the fitted one's middle, where it is surest.
  const middle = line.phase + Math.round((duration / 2 - line.phase) / line.period) * line.period;
  const beats = pointsOf(middle, exact, duration);
  return {
    ...tried,
    grid: {
      bpm: snapped,
      steady: true,
      beats,
      support: line.support,
      bpmError,
      segments: [],
      ...UNREAD,
    },
  };
}

/** Bars are for the readings to say. */
const UNREAD = { beatsPerBar: 4, firstDownbeat: 0 } as const;

/** Lays beats that follow a wandering tempo. */
function layTracked({ bands, onsets }: Heard, novelty: Float32Array, { period, periods }: Tried): BeatGrid {
  const beats = refineBeats(bands, trackBeats(novelty, onsets.frameRate, periods));
  const intervals = beats.length - 1;
  const open = { steady: false, beats, bpmError: Infinity, segments: [], ...UNREAD };
  if (intervals < 4) return { ...open, bpm: 60 / period, support: 0 };
  const found: Attack = { time: 0, strength: 0 };
  const supported = beats.filter((t) => attackNear(bands, t, 0.03, found).strength > 0.4).length;
  const mean = (beats.at(-1)! - beats[0]!) / intervals;
  return { ...open, bpm: 60 / mean, support: supported / beats.length };
}
