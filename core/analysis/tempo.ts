/**
 * Tempo candidates from the onset functions: averaged autocorrelation over windows, combed over
 * multiples (Percival & Tzanetakis 2014), weighed by a log-normal prior, with the octave decided by
 * where the back-beat repeats.
 */
import { autocorrelation } from '../signal/fft.ts';
import type { Onsets } from './onsets.ts';

export interface TempoCandidate { bpm: number; weight: number }

export interface TempoEstimate {
  /** Best first; weights sum to 1. Empty when there is no pulse. */
  candidates: TempoCandidate[];
  /** How strongly the best period repeats, 0 … 1. */
  pulse: number;
  /** The normalised onset function used, at the onset frame rate. */
  novelty: Float32Array;
}

const WINDOW_SECONDS = 12;
const MAX_LAG_SECONDS = 5;
const MIN_BPM = 48;
const MAX_BPM = 215;
const PRIOR_BPM = 120;
const PRIOR_OCTAVES = 0.62;

/** Removes the local mean, half-wave rectifies and levels to the local strength. */
export function normaliseNovelty(bands: Float32Array[], weights: readonly number[], frameRate: number): Float32Array {
  const n = bands[0]?.length ?? 0;
  const sum = new Float32Array(n);
  bands.forEach((band, b) => { for (let i = 0; i < n; i++) sum[i] = sum[i]! + band[i]! * (weights[b] ?? 1); });
  const mean = movingMean(sum, Math.round(frameRate * 0.4));
  for (let i = 0; i < n; i++) sum[i] = Math.max(0, sum[i]! - mean[i]!);
  const squares = sum.map((v) => v * v);
  const level = movingMean(squares, Math.round(frameRate * 4));
  const overall = Math.sqrt(squares.reduce((a, b) => a + b, 0) / Math.max(1, n));
  for (let i = 0; i < n; i++) sum[i] = sum[i]! / (Math.sqrt(level[i]!) + overall * 0.5 + 1e-6);
  return sum;
}

/** Means over ±radius, shorter at the ends. */
export function movingMean(values: Float32Array, radius: number): Float32Array {
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  return values.map((_, i) => {
    const from = Math.max(0, i - radius), to = Math.min(values.length, i + radius + 1);
    return (sums[to]! - sums[from]!) / (to - from);
  });
}

/** Autocorrelation averaged over windows, each normalised by its energy; lag in frames. */
function averageAutocorrelation(novelty: Float32Array, frameRate: number): Float64Array {
  const size = Math.round(WINDOW_SECONDS * frameRate);
  const maxLag = Math.round(MAX_LAG_SECONDS * frameRate);
  const total = new Float64Array(maxLag + 1);
  let weight = 0;
  for (let from = 0; from === 0 || from + size <= novelty.length; from += size >> 1) {
    const part = Float64Array.from(novelty.subarray(from, from + size));
    const mean = part.reduce((a, b) => a + b, 0) / Math.max(1, part.length);
    for (let i = 0; i < part.length; i++) part[i] = part[i]! - mean;
    const acf = autocorrelation(part, maxLag);
    const energy = acf[0]!;
    if (energy <= 0) continue;
    // Short lags are summed over more products; level that out.
    for (let lag = 0; lag <= maxLag; lag++) total[lag]! += (acf[lag]! / energy) * (part.length / Math.max(1, part.length - lag)) * Math.sqrt(energy);
    weight += Math.sqrt(energy);
  }
  if (weight > 0) for (let lag = 0; lag <= maxLag; lag++) total[lag]! /= weight;
  return total;
}

const at = (acf: Float64Array, lag: number): number => {
  const low = Math.floor(lag);
  if (low + 1 >= acf.length) return 0;
  return acf[low]! + (acf[low + 1]! - acf[low]!) * (lag - low);
};

/** The best value within ±3 % of a lag, so that a slightly drifting pulse still counts. */
function near(acf: Float64Array, lag: number): number {
  let best = -1;
  for (let f = -0.02; f <= 0.0201; f += 0.01) best = Math.max(best, at(acf, lag * (1 + f)));
  return best;
}

/**
 * Snare and clap strokes: noise that rises from 600 Hz to the top at once. The geometric mean of the
 * bands keeps chords (low only) and hats (high only) out.
 */
export function snareStrokes(onsets: Onsets): Float32Array {
  const parts = onsets.bands.slice(2).map((band) => {
    const mean = band.reduce((a, b) => a + b, 0) / Math.max(1, band.length) || 1;
    return band.map((v) => v / mean);
  });
  return parts[0]!.map((v, i) => Math.cbrt(v * parts[1]![i]! * parts[2]![i]!));
}

/**
 * How evenly accents fall on every second beat and on the ones between, 0 … 1. Low when a candidate
 * counts twice as fast as the music: then every other "beat" carries little.
 */
function alternateBalance(accents: Float32Array, lag: number, frameRate: number): number {
  const size = Math.round(8 * frameRate);
  let weighted = 0, total = 0;
  for (let from = 0; from + size <= accents.length; from += size) {
    let best = 0, even = 0, odd = 0;
    for (let phase = 0; phase < lag; phase += 2) {
      let first = 0, second = 0;
      for (let k = 0, t = from + phase; t + 2 < from + size; k++, t = from + phase + k * lag) {
        const i = Math.round(t);
        const here = accents[i]!, next = accents[i + 1]!;
        if (k & 1) second += here > next ? here : next; else first += here > next ? here : next;
      }
      if (first + second > best) { best = first + second; even = first; odd = second; }
    }
    if (best > 0) { weighted += best * (Math.min(even, odd) / Math.max(even, odd)); total += best; }
  }
  return total > 0 ? weighted / total : 1;
}

/** Estimates tempo candidates; `bands` as from the onset detector. */
export function estimateTempo(onsets: Onsets): TempoEstimate {
  const { frameRate, bands } = onsets;
  const novelty = normaliseNovelty(bands, [1.5, 0.8, 1, 1, 0.7], frameRate);
  if (novelty.length < frameRate * 4) return { candidates: [], pulse: 0, novelty };
  const all = averageAutocorrelation(novelty, frameRate);
  const low = averageAutocorrelation(normaliseNovelty([bands[0]!], [1], frameRate), frameRate);
  const strokes = snareStrokes(onsets);
  const snare = averageAutocorrelation(normaliseNovelty([strokes], [1], frameRate), frameRate);

  const scored: (TempoCandidate & { pulse: number })[] = [];
  for (let bpm = MIN_BPM; bpm <= MAX_BPM; bpm *= 1.004) {
    const lag = (60 / bpm) * frameRate;
    const pulse = at(all, lag);
    const comb = 1.6 * pulse + 0.6 * near(all, lag * 2) + 0.25 * near(all, lag * 3) + 0.6 * near(all, lag * 4);
    if (pulse <= 0 || pulse < at(all, lag * 0.996) || pulse < at(all, lag * 1.004)) continue;
    const prior = Math.exp(-0.5 * (Math.log2(bpm / PRIOR_BPM) / PRIOR_OCTAVES) ** 2);
    const backbeat = near(snare, lag * 2) - near(snare, lag);
    const kick = near(low, lag);
    const accent = 1 + 2.2 * Math.max(0, backbeat) + 0.35 * Math.max(0, kick);
    scored.push({ bpm, weight: Math.max(0, comb) * prior * accent, pulse });
  }
  const accents = normaliseNovelty([bands[0]!, strokes], [2, 1], frameRate);
  for (const candidate of scored) {
    const balance = alternateBalance(accents, (60 / candidate.bpm) * frameRate, frameRate);
    candidate.weight *= 0.4 + 0.6 * Math.min(1, Math.max(0, (balance - 0.2) / 0.35));
  }
  scored.sort((a, b) => b.weight - a.weight);
  const kept = scored.slice(0, 6);
  const total = kept.reduce((sum, c) => sum + c.weight, 0);
  if (total <= 0) return { candidates: [], pulse: 0, novelty };
  return {
    candidates: kept.map(({ bpm, weight }) => ({ bpm, weight: weight / total })),
    pulse: Math.max(0, Math.min(1, kept[0]!.pulse)),
    novelty,
  };
}
