/** The grid of a track as it stands: what was measured, with what a person has set by hand laid over it. */
import { marksOf } from '../fields/marks.ts';
import type { TrackValues } from '../fields/values.ts';
import { beatsOf, type AnalysisResult } from './engine.ts';

export interface Grid {
  /** Seconds, rising. */
  beats: number[];
  /** null without a beat. */
  firstDownbeatSeconds: number | null;
  beatsPerBar: number;
  /** Tempo, first bar or bar length differ from what was measured. */
  byHand: boolean;
}

/** Simple ratios by which a drifting grid can be taken slower or faster without losing its drift. */
const RATIOS = [1, 2, 1 / 2, 3 / 2, 2 / 3, 3, 1 / 3];

/** The times at first + k·period inside [0, duration). */
function steady(first: number, bpm: number, duration: number): number[] {
  const period = 60 / bpm;
  let start = first % period;
  if (start < 0) start += period;
  return Array.from({ length: Math.max(0, Math.ceil((duration - start) / period)) }, (_, k) => start + k * period);
}

/**
 * The grid for the measured result and the values that count now (bpm, gridStartSeconds, beatsPerBar), pulled onto
 * the anchored beats (gridAnchors).
 */
export function gridOf(result: Pick<AnalysisResult, 'tempo' | 'durationSeconds'>, values: TrackValues): Grid {
  const grid = unanchored(result, values);
  const anchors = marksOf(values.gridAnchors).map((m) => m.at);
  if (anchors.length === 0 || grid.beats.length < 2) return grid;
  const warp = warpOnto(grid.beats, anchors);
  const start = grid.firstDownbeatSeconds;
  return {
    ...grid,
    beats: grid.beats.map(warp).filter((t) => t >= 0 && t < result.durationSeconds),
    firstDownbeatSeconds: start === null ? null : warp(start),
    byHand: true,
  };
}

/**
 * Moves the beat nearest to each anchor onto it, and what lies between two of them in proportion; outside, all move
 * alike.
 */
export function warpOnto(beats: readonly number[], anchors: readonly number[]): (time: number) => number {
  const pins = new Map<number, number>();
  for (const at of anchors) {
    let nearest = beats[0]!;
    for (const t of beats) if (Math.abs(t - at) < Math.abs(nearest - at)) nearest = t;
    pins.set(nearest, at);
  }
  // Anchors that would turn the order of beats around are left out.
  const from: number[] = [];
  for (const t of [...pins.keys()].sort((a, b) => a - b))
    if (from.length === 0 || pins.get(t)! > pins.get(from.at(-1)!)!) from.push(t);
  return (time) => {
    let i = from.findIndex((t) => t >= time);
    if (i === 0) return time + pins.get(from[0]!)! - from[0]!;
    if (i < 0) i = from.length;
    const low = from[i - 1]!,
      high = from[i];
    if (high === undefined) return time + pins.get(low)! - low;
    return pins.get(low)! + ((time - low) / (high - low)) * (pins.get(high)! - pins.get(low)!);
  };
}

/**
 * One tempo through two beats: how many beats lie between them follows from the tempo they were marked at.
 * @returns null when they are the same, or the tempo would leave 20 to 400
 */
export function fitThrough(first: number, second: number, bpm: number): { bpm: number; start: number } | null {
  const low = Math.min(first, second),
    apart = Math.abs(second - first);
  const count = Math.max(1, Math.round((apart * bpm) / 60));
  const fitted = apart > 0 ? (60 * count) / apart : 0;
  return fitted >= 20 && fitted <= 400 ? { bpm: fitted, start: low } : null;
}

function unanchored(result: Pick<AnalysisResult, 'tempo' | 'durationSeconds'>, values: TrackValues): Grid {
  const { tempo, durationSeconds } = result;
  const number = (value: unknown): number | null =>
    typeof value === 'number' && Number.isFinite(value) ? value : null;
  const bpm = number(values.bpm),
    first = number(values.gridStartSeconds) ?? tempo.firstDownbeatSeconds;
  const beatsPerBar = number(values.beatsPerBar) ?? tempo.beatsPerBar;
  if (bpm === null || bpm <= 0)
    return { beats: [], firstDownbeatSeconds: null, beatsPerBar, byHand: tempo.bpm !== null };
  const measured = tempo.bpm,
    measuredFirst = tempo.firstDownbeatSeconds;
  const moved = measuredFirst !== null && first !== null && Math.abs(first - measuredFirst) > 0.0006;
  const ratio = measured === null ? null : RATIOS.find((r) => Math.abs(bpm / measured / r - 1) < 0.0005);
  const byHand = moved || ratio !== 1 || beatsPerBar !== tempo.beatsPerBar;
  const start = first ?? 0;
  if (
    measured !== null &&
    measuredFirst !== null &&
    ratio !== undefined &&
    ratio !== null &&
    (tempo.driftingBeats || ratio === 1)
  ) {
    const shift = start - measuredFirst;
    const beats = beatsOf(result);
    return {
      beats: atRatio(beats, measuredFirst, ratio)
        .map((t) => t + shift)
        .filter((t) => t >= 0 && t < durationSeconds),
      firstDownbeatSeconds: start,
      beatsPerBar,
      byHand,
    };
  }
  return { beats: steady(start, bpm, durationSeconds), firstDownbeatSeconds: start, beatsPerBar, byHand };
}

/** Beats taken `ratio` times as often, counted from the beat at `anchor`. */
function atRatio(beats: number[], anchor: number, ratio: number): number[] {
  if (ratio === 1 || beats.length < 2) return beats;
  let from = 0;
  for (let i = 1; i < beats.length; i++) if (Math.abs(beats[i]! - anchor) < Math.abs(beats[from]! - anchor)) from = i;
  const out: number[] = [];
  for (let k = Math.ceil(-from * ratio); ; k++) {
    const at = from + k / ratio,
      low = Math.floor(at + 1e-9);
    if (low >= beats.length - 1) {
      if (Math.abs(at - (beats.length - 1)) < 1e-6) out.push(beats.at(-1)!);
      return out;
    }
    out.push(beats[low]! + (beats[low + 1]! - beats[low]!) * Math.max(0, at - low));
  }
}

/**
 * Tempo of a series of taps in seconds: a straight line through them, once there are four.
 * @returns null for fewer, or when a pause of more than two seconds began them anew
 */
export function tappedBpm(taps: readonly number[]): number | null {
  let from = taps.length - 1;
  while (from > 0 && taps[from]! - taps[from - 1]! <= 2) from--;
  const own = taps.slice(from);
  if (own.length < 4) return null;
  const n = own.length,
    mx = (n - 1) / 2,
    my = own.reduce((a, b) => a + b, 0) / n;
  let xx = 0,
    xy = 0;
  own.forEach((t, i) => {
    xx += (i - mx) ** 2;
    xy += (i - mx) * (t - my);
  });
  return 60 / (xy / xx);
}
