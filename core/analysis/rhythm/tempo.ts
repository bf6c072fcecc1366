/**
 * The period at which onsets repeat most: averaged autocorrelation over windows, combed over multiples (Percival &
 * Tzanetakis 2014); and what is known of any period, by which it is told later which of its parts and multiples is
 * the beat (`readings`).
 */
import { summedAutocorrelation } from '../../signal/fft.ts';
import { meanOrOne } from '../../signal/statistics.ts';
import type { Onsets } from './onsets.ts';

export interface TempoEstimate {
  /** Some part or multiple of the beat; null without a pulse. */
  bpm: number | null;
  /** How strongly it repeats, 0 … 1. */
  pulse: number;
  /** The normalised onset function used, at the onset frame rate. */
  novelty: Float32Array;
  /** What speaks for or against any tempo: KNOWN_OF_TEMPO values. */
  knownOf: (bpm: number) => Float64Array;
}

const WINDOW_SECONDS = 12;
const MAX_LAG_SECONDS = 5;
const MIN_BPM = 46;
const MAX_BPM = 220;
const PRIOR_BPM = 120;
const PRIOR_OCTAVES = 0.8;
/** Parts and multiples of a beat at which repetition is looked at. */
const MULTIPLES = [1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4, 1, 4 / 3, 3 / 2, 2, 3, 4] as const;
/**
 * Removes the local mean, half-wave rectifies and levels to the local strength.
 * @param into is overwritten and given back where there is one of that length; so is `room`
 */
export function normaliseNovelty(
  bands: readonly Float32Array[],
  weights: readonly number[],
  frameRate: number,
  into?: Float32Array,
  room?: Float32Array,
): Float32Array {
  const n = bands[0]?.length ?? 0;
  const sum = into?.length === n ? into.fill(0) : new Float32Array(n);
  for (const [b, band] of bands.entries()) {
    const weight = weights[b] ?? 1;
    for (let i = 0; i < n; i++) sum[i] = sum[i]! + band[i]! * weight;
  }
  const means = movingMean(sum, Math.round(frameRate * 0.4), false, room);
  let power = 0;
  for (let i = 0; i < n; i++) {
    const over = Math.max(0, sum[i]! - means[i]!);
    sum[i] = over;
    power += over * over;
  }
  movingMean(sum, Math.round(frameRate * 4), true, means);
  const overall = Math.sqrt(power / Math.max(1, n)) * 0.5 + 1e-6;
  for (let i = 0; i < n; i++) sum[i] = sum[i]! / (Math.sqrt(means[i]!) + overall);
  return sum;
}

/**
 * Means over ±radius, shorter at the ends, of values that are not negative.
 * @param squared of their squares
 * @param into is overwritten and given back where there is one of that length
 */
export function movingMean(values: Float32Array, radius: number, squared = false, into?: Float32Array): Float32Array {
  const n = values.length;
  const out = into?.length === n ? into : new Float32Array(n);
  let sum = 0;
  for (let next = 0; next < n + radius; next++) {
    const gone = next - 2 * radius - 1;
    if (gone >= 0) sum -= squared ? values[gone]! * values[gone]! : values[gone]!;
    if (next < n) sum += squared ? values[next]! * values[next]! : values[next]!;
    const i = next - radius;
    if (i >= 0) out[i] = Math.max(0, sum) / (Math.min(n, i + radius + 1) - Math.max(0, i - radius));
  }
  return out;
}

/** Autocorrelation averaged over windows, each normalised by its energy; lag in frames. */
function averageAutocorrelation(novelty: Float32Array, frameRate: number): Float64Array {
  const size = Math.round(WINDOW_SECONDS * frameRate);
  const maxLag = Math.round(MAX_LAG_SECONDS * frameRate);
  const length = Math.min(size, novelty.length);
  let weight = 0;
  /** Each window about its mean, at the fourth root of its energy: so loud ones count for more, but not by far. */
  function* windows(): Generator<Float64Array> {
    const part = new Float64Array(length);
    for (let from = 0; from === 0 || from + size <= novelty.length; from += size >> 1) {
      let sum = 0,
        energy = 0;
      for (let i = 0; i < length; i++) sum += novelty[from + i]!;
      const mean = sum / Math.max(1, length);
      for (let i = 0; i < length; i++) {
        part[i] = novelty[from + i]! - mean;
        energy += part[i]! ** 2;
      }
      if (energy <= 0) continue;
      const own = Math.sqrt(energy);
      weight += own;
      const share = 1 / Math.sqrt(own);
      for (let i = 0; i < length; i++) part[i]! *= share;
      yield part;
    }
  }
  const total = summedAutocorrelation(windows(), length, maxLag);
  // Short lags are summed over more products; level that out.
  if (weight > 0) for (let lag = 0; lag <= maxLag; lag++) total[lag]! *= length / Math.max(1, length - lag) / weight;
  return total;
}

const at = (acf: Float64Array, lag: number): number => {
  const low = Math.floor(lag);
  if (low + 1 >= acf.length) return 0;
  return acf[low]! + (acf[low + 1]! - acf[low]!) * (lag - low);
};

/** The best value within ±2 % of a lag (at least half a frame), so that a slightly drifting pulse still counts. */
function near(acf: Float64Array, lag: number): number {
  const reach = Math.max(0.5, lag * 0.02);
  let best = -1;
  for (let k = -2; k <= 2; k++) best = Math.max(best, at(acf, lag + (k * reach) / 2));
  return best;
}

/**
 * Snare and clap strokes: noise that rises from 600 Hz to the top at once. The geometric mean of the
 * bands keeps chords (low only) and hats (high only) out.
 */
export function snareStrokes(onsets: Onsets): Float32Array {
  const [a, b, c] = onsets.bands.slice(2) as [Float32Array, Float32Array, Float32Array];
  const means = meanOrOne(a) * meanOrOne(b) * meanOrOne(c);
  return a.map((v, i) => Math.cbrt((v * b[i]! * c[i]!) / means));
}

/** Onsets a second: local maxima of the novelty that stand out. */
function onsetRate(novelty: Float32Array, frameRate: number): number {
  let count = 0;
  for (let i = 1; i + 1 < novelty.length; i++)
    if (novelty[i]! > 0.8 && novelty[i]! >= novelty[i - 1]! && novelty[i]! > novelty[i + 1]!) count++;
  return (count * frameRate) / Math.max(1, novelty.length);
}

/** What a tempo itself says, by its octaves above PRIOR_BPM. */
export function tempoKnown(octaves: number): [number, number, number, number] {
  return [
    octaves,
    octaves * octaves,
    Math.max(0, Math.log2(85 / PRIOR_BPM) - octaves),
    Math.max(0, octaves - Math.log2(160 / PRIOR_BPM)),
  ];
}
/** How many values are known of a period: of five series at MULTIPLES, of its tempo, of attacks in it. */
export const KNOWN_OF_TEMPO = 5 * MULTIPLES.length + 6;

/** Below this a pulse says nothing. */
export const MIN_PULSE = 0.03;
/** Frames on both sides over which onsets are blurred where they come slowly (bows, pedals, room). */
const BLUR = 4;

/**
 * Finds the period that repeats most. Where attacks show no pulse, blurred onsets are asked, in which slow attacks meet
 * their beat.
 */
export function estimateTempo(onsets: Onsets): TempoEstimate {
  const sharp = estimateFrom(onsets);
  if (sharp.bpm === null || sharp.pulse >= MIN_PULSE) return sharp;
  const slow = estimateFrom({ ...onsets, bands: onsets.bands.map((band) => movingMean(band, BLUR)) });
  return slow.pulse >= MIN_PULSE ? slow : sharp;
}

/**
 * Of kicks, body, snares and hats alone. Apart from estimateFrom, since what that answers holds on to all that is named
 * there, and lists as long as the track are not to be kept.
 */
function autocorrelationsOf(onsets: Onsets, room: Float32Array): Float64Array[] {
  const { bands, frameRate } = onsets;
  const own = new Float32Array(room.length);
  return [bands[0]!, bands[1]!, snareStrokes(onsets), bands[4]!].map((band) =>
    averageAutocorrelation(normaliseNovelty([band], [1], frameRate, own, room), frameRate),
  );
}

function estimateFrom(onsets: Onsets): TempoEstimate {
  const { frameRate, bands } = onsets;
  const room = new Float32Array(bands[0]?.length ?? 0);
  const novelty = normaliseNovelty(bands, [1.5, 0.8, 1, 1, 0.7], frameRate, undefined, room);
  if (novelty.length < frameRate * 4)
    return { bpm: null, pulse: 0, novelty, knownOf: () => new Float64Array(KNOWN_OF_TEMPO) };
  const all = averageAutocorrelation(novelty, frameRate);
  const parts = autocorrelationsOf(onsets, room);
  const rate = onsetRate(novelty, frameRate);
  let best: number | null = null,
    bestScore = 0;
  for (let bpm = MIN_BPM; bpm <= MAX_BPM; bpm *= 1.004) {
    const lag = (60 / bpm) * frameRate;
    const pulse = at(all, lag);
    if (pulse <= 0 || pulse < at(all, lag * 0.996) || pulse < at(all, lag * 1.004)) continue;
    const comb = 1.6 * pulse + 0.6 * near(all, lag * 2) + 0.25 * near(all, lag * 3) + 0.6 * near(all, lag * 4);
    const score = comb * Math.exp(-0.5 * (Math.log2(bpm / PRIOR_BPM) / PRIOR_OCTAVES) ** 2);
    if (score > bestScore) {
      best = bpm;
      bestScore = score;
    }
  }
  const bpm = best === null ? null : topNear(all, best, frameRate);
  return {
    bpm,
    pulse: bpm === null ? 0 : Math.max(0, Math.min(1, near(all, (60 / bpm) * frameRate))),
    novelty,
    knownOf(asked) {
      const lag = (60 / asked) * frameRate;
      const events = Math.log2(Math.max(0.05, (rate * 60) / asked));
      return Float64Array.from([
        ...[all, ...parts].flatMap((acf) => MULTIPLES.map((m) => near(acf, lag * m))),
        ...tempoKnown(Math.log2(asked / PRIOR_BPM)),
        events,
        events * events,
      ]);
    },
  };
}

/** The tempo within ±3 % at which the autocorrelation is highest. */
function topNear(acf: Float64Array, bpm: number, frameRate: number): number {
  let best = bpm,
    bestValue = -Infinity;
  for (let f = 0.97; f <= 1.0301; f += 0.003) {
    const value = at(acf, (60 / (bpm * f)) * frameRate);
    if (value > bestValue) {
      bestValue = value;
      best = bpm * f;
    }
  }
  return best;
}
