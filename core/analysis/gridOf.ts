/** The grid of a track as it stands: what was measured, with what a person has set by hand laid over it. */
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

/** The grid for the measured result and the values that count now (bpm, gridStartSeconds, beatsPerBar). */
export function gridOf(result: Pick<AnalysisResult, 'tempo' | 'durationSeconds'>, values: TrackValues): Grid {
  const { tempo, durationSeconds } = result;
  const number = (value: unknown): number | null => (typeof value === 'number' && Number.isFinite(value) ? value : null);
  const bpm = number(values.bpm), first = number(values.gridStartSeconds) ?? tempo.firstDownbeatSeconds;
  const beatsPerBar = number(values.beatsPerBar) ?? tempo.beatsPerBar;
  if (bpm === null || bpm <= 0) return { beats: [], firstDownbeatSeconds: null, beatsPerBar, byHand: tempo.bpm !== null };
  const measured = tempo.bpm, measuredFirst = tempo.firstDownbeatSeconds;
  const moved = measuredFirst !== null && first !== null && Math.abs(first - measuredFirst) > 0.0006;
  const ratio = measured === null ? null : RATIOS.find((r) => Math.abs(bpm / measured / r - 1) < 0.0005);
  const byHand = moved || ratio !== 1 || beatsPerBar !== tempo.beatsPerBar;
  const start = first ?? 0;
  if (measured !== null && measuredFirst !== null && ratio !== undefined && ratio !== null && (tempo.driftingBeats || ratio === 1)) {
    const shift = start - measuredFirst;
    const beats = beatsOf(result);
    return { beats: atRatio(beats, measuredFirst, ratio).map((t) => t + shift).filter((t) => t >= 0 && t < durationSeconds), firstDownbeatSeconds: start, beatsPerBar, byHand };
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
    const at = from + k / ratio, low = Math.floor(at + 1e-9);
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
  const n = own.length, mx = (n - 1) / 2, my = own.reduce((a, b) => a + b, 0) / n;
  let xx = 0, xy = 0;
  own.forEach((t, i) => { xx += (i - mx) ** 2; xy += (i - mx) * (t - my); });
  return 60 / (xy / xx);
}
