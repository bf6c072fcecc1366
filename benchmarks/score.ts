/** Scores one analysis against the truth. */
import { beatsOf, type AnalysisResult } from '@early-set/core/analysis/engine';
import { fifthsApart, keyParts } from '@early-set/core/fields/keys';
import type { PieceTruth } from './pieces/produce.ts';

export interface Score {
  truth: PieceTruth;
  /** What plain ways say, where they were asked. */
  plain: { bpm: number | null; key: string } | null;
  bpm: number | null;
  key: string | null;
  within4: boolean;
  octave: boolean;
  exact: boolean;
  /** Distance of each true beat in the graded part to the nearest given one, seconds. */
  gridErrors: number[];
  fMeasure: number | null;
  downbeat: boolean | null;
  /** Beats per bar said rightly; of two quarters also as four, since two such bars are one. */
  barRight: boolean | null;
  keyRight: boolean;
  mirex: number;
  tuningError: number;
  tempoConfidence: number;
  keyConfidence: number;
  steadySaid: boolean;
}

/** MIREX key score: same 1, fifth 0.5, relative 0.3, parallel 0.2. */
export function mirex(found: string | null, truth: string | null): number {
  if (found === null || truth === null) return 0;
  if (found === truth) return 1;
  const a = keyParts(found),
    b = keyParts(truth);
  if (!a || !b) return 0;
  const interval = (a.tonic - b.tonic + 12) % 12;
  if (a.mode === b.mode && (interval === 7 || interval === 5)) return 0.5;
  if (a.mode !== b.mode && fifthsApart(found!, truth) === 0) return 0.3;
  return a.mode !== b.mode && interval === 0 ? 0.2 : 0;
}

/** F-measure of beats with a window of ±70 ms (Davies, Degara & Plumbley 2009). */
export function beatFMeasure(found: number[], truth: number[]): number {
  let hits = 0,
    at = 0;
  for (const t of truth) {
    while (at < found.length && found[at]! < t - 0.07) at++;
    if (at < found.length && Math.abs(found[at]! - t) <= 0.07) {
      hits++;
      at++;
    }
  }
  return found.length + truth.length ? (2 * hits) / (found.length + truth.length) : 0;
}

/** Distance to the nearest of sorted times. */
export function nearest(times: number[], t: number): number {
  let low = 0,
    high = times.length - 1;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (times[mid]! < t) low = mid + 1;
    else high = mid;
  }
  return Math.min(Math.abs(times[low]! - t), low > 0 ? Math.abs(times[low - 1]! - t) : Infinity);
}

/** Scores a result. */
export function score(truth: PieceTruth, result: Pick<AnalysisResult, 'tempo' | 'key' | 'durationSeconds'>): Score {
  const { bpm, confidence, firstDownbeatSeconds } = result.tempo;
  const ratio = bpm === null || truth.bpm === null ? 0 : bpm / truth.bpm;
  const near = (m: number): boolean => Math.abs(ratio / m - 1) < 0.04;
  const beats = beatsOf(result);
  const inner = truth.beats.slice(0, -truth.beatsPerBar);
  const bar =
    firstDownbeatSeconds === null ? -1 : truth.beats.findIndex((x) => Math.abs(x - firstDownbeatSeconds) < 0.06);
  // A first bar that lies before the first true beat is counted on along the true period.
  const before =
    bar < 0 && truth.bpm !== null && firstDownbeatSeconds !== null && firstDownbeatSeconds < truth.beats[0]!
      ? Math.round(((truth.beats[0]! - firstDownbeatSeconds) * truth.bpm) / 60)
      : null;
  const tuningOff = Math.abs(result.key.tuningCents - truth.tuningCents);
  return {
    truth,
    plain: null,
    bpm,
    key: result.key.key,
    within4: near(1),
    octave: [1, 2, 0.5, 3, 1 / 3].some(near),
    exact: bpm !== null && truth.bpm !== null && Math.abs(bpm - truth.bpm) <= 0.05,
    gridErrors: truth.bpm === null || beats.length === 0 ? [] : inner.map((t) => nearest(beats, t)),
    fMeasure: truth.bpm === null ? null : beatFMeasure(beats, truth.beats),
    downbeat:
      truth.bpm === null
        ? null
        : bar >= 0
          ? bar % truth.beatsPerBar === 0
          : before !== null && before % truth.beatsPerBar === 0,
    barRight:
      truth.bpm === null
        ? null
        : result.tempo.beatsPerBar === truth.beatsPerBar ||
          (truth.beatsPerBar === 2 && !truth.compound && result.tempo.beatsPerBar === 4),
    keyRight: truth.key !== null && result.key.key === truth.key,
    mirex: mirex(result.key.key, truth.key),
    tuningError: Math.min(tuningOff, 100 - tuningOff),
    tempoConfidence: confidence,
    keyConfidence: result.key.confidence,
    steadySaid: result.tempo.steady,
  };
}
