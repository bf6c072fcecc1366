/**
 * Key from pitch-class profiles (of the whole track, of its bass, of the bars at which phrases begin, and of
 * its first seconds) and from its triads. How well a tonic and a mode fit what is seen from the tonic is said by
 * networks that learnt it from music with known keys (`npm run bench:fit`), where Krumhansl's key profiles (1990) were
 * asked of listeners. Beginnings tell a minor key from its relative major.
 */
import { keyOf, type MusicalKey } from '../../fields/keys.ts';
import { CHORD_GROUPS, chordsKnown, triadsOf } from './chords.ts';
import { FINE_BINS, FINE_UNITS, foldChroma, type Chroma } from './chroma.ts';
import { FITTED } from '../fitted/fitted.ts';
import { outputOf, type KeyNetworks } from '../fitted/network.ts';

export interface KeyCandidate {
  key: MusicalKey;
  weight: number;
}

export interface KeyEstimate {
  key: MusicalKey | null;
  /** Probability of the key, 0 … 1. */
  confidence: number;
  tuningCents: number;
  /** Best first, at most 5; weights sum to 1 over all 24. */
  candidates: KeyCandidate[];
  /** The best key of each SEGMENT_SECONDS, null where nothing is pitched. */
  overTime: (MusicalKey | null)[];
}

export const SEGMENT_SECONDS = 8;

/** Where bars begin, and how much the density of onsets changes there. */
export interface Bars {
  times: ArrayLike<number>;
  change: ArrayLike<number>;
  /** The bar that the music begins with, and how sure that is, up to 1; null where nothing is known of it. */
  begins: { bar: number; sure: number } | null;
}

/** Seconds at the start of the pitched part that are looked at on their own. */
const START_SECONDS = 3.5;
const BARS_A_PHRASE = 4;
/** What it counts that music begins with a phrase, as a share of all that changes at bars. */
const BEGUN = 0.25;
/** Four profiles of twelve pitch classes: all, bass, phrase beginnings, the start. */
const PROFILES = 4;
/** How many values are known of a stretch of a track. */
export const KEY_INPUTS = (PROFILES + CHORD_GROUPS) * 12;

const sumOf = (v: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < v.length; i++) sum += v[i]!;
  return sum;
};

/** Zero mean and unit spread; zeros where nothing differs. */
function standardised(v: Float64Array): Float64Array {
  const mean = sumOf(v) / v.length;
  const deviation = Math.sqrt(v.reduce((a, b) => a + (b - mean) ** 2, 0) / v.length);
  return deviation > 1e-9 ? v.map((x) => (x - mean) / deviation) : v.map(() => 0);
}

const both = (chroma: Chroma, first: number, count: number): [Float64Array, Float64Array] => [
  foldChroma(chroma.frames, first, count, chroma.tuningCents),
  foldChroma(chroma.bass, first, count, chroma.tuningCents),
];

/**
 * What is known of the pitch classes of frames first … last: PROFILES + CHORD_GROUPS times 12 numbers, C first.
 * @param bars null leaves out beginnings, as for a short segment
 */
export function pitchKnown(chroma: Chroma, first: number, last: number, bars: Bars | null): Float64Array {
  const out = new Float64Array(KEY_INPUTS);
  const [all, bass] = both(chroma, first, last - first);
  out.set(standardised(all), 0);
  out.set(standardised(bass), 12);
  const { starts, phrases } = windowsOf(chroma, first, last, bars);
  out.set(chordsKnown(triadsOf(chroma, starts), phrases), PROFILES * 12);
  if (!bars) return out;
  out.set(standardised(phraseBeginnings(chroma, first, last, bars)), 24);
  out.set(standardised(startProfile(chroma, first, last)), 36);
  return out;
}

/**
 * The bars inside frames first … last at which phrases of four begin: those where the density changes most; most music
 * begins with a phrase.
 */
function phraseBars(chroma: Chroma, first: number, last: number, bars: Bars): number[] {
  const starts: number[] = [];
  for (let i = 0; i + 1 < bars.times.length; i++)
    if (bars.times[i]! * chroma.frameRate >= first && bars.times[i + 1]! * chroma.frameRate <= last) starts.push(i);
  if (starts.length < 2 * BARS_A_PHRASE) return [];
  const changes = new Float64Array(BARS_A_PHRASE);
  for (const i of starts) changes[i % BARS_A_PHRASE]! += bars.change[i]!;
  if (bars.begins) {
    const { bar, sure } = bars.begins;
    changes[bar % BARS_A_PHRASE]! += BEGUN * sure * Math.max(sumOf(changes), 1e-9);
  }
  const phase = changes.indexOf(Math.max(...changes));
  return starts.filter((i) => i % BARS_A_PHRASE === phase);
}

/** The profile of the bars at which phrases begin. */
function phraseBeginnings(chroma: Chroma, first: number, last: number, bars: Bars): Float64Array {
  const sum = new Float64Array(12);
  for (const i of phraseBars(chroma, first, last, bars)) {
    const from = Math.round(bars.times[i]! * chroma.frameRate);
    const count = Math.max(1, Math.round((bars.times[i + 1]! - bars.times[i]!) * chroma.frameRate * 0.9));
    const bar = foldChroma(
      chroma.frames,
      from,
      Math.max(0, Math.min(count, chroma.frameCount - from)),
      chroma.tuningCents,
    );
    for (let k = 0; k < 12; k++) sum[k]! += bar[k]!;
  }
  return sum;
}

/**
 * Windows in which one chord sounds, most likely: half bars, or seconds where there are no bars; and which of them
 * begin a phrase.
 */
function windowsOf(
  chroma: Chroma,
  first: number,
  last: number,
  bars: Bars | null,
): { starts: number[]; phrases: number[] } {
  const starts: number[] = [],
    phrases: number[] = [];
  const begun = new Set(bars ? phraseBars(chroma, first, last, bars) : []);
  for (let i = 0; bars && i + 1 < bars.times.length; i++) {
    const from = bars.times[i]! * chroma.frameRate,
      to = bars.times[i + 1]! * chroma.frameRate;
    if (from < first || to > last) continue;
    if (begun.has(i)) phrases.push(starts.length);
    starts.push(Math.round(from), Math.round((from + to) / 2));
  }
  if (starts.length >= 8) return { starts, phrases };
  const step = Math.max(1, Math.round(chroma.frameRate));
  return {
    starts: Array.from({ length: Math.max(0, Math.floor((last - first) / step)) + 1 }, (_, i) => first + i * step),
    phrases: [],
  };
}

/** The profile of the first seconds in which anything is pitched, bass added. */
function startProfile(chroma: Chroma, first: number, last: number): Float64Array {
  const count = Math.round(START_SECONDS * chroma.frameRate);
  let from = first;
  const least = 0.5 * FINE_UNITS;
  while (from < last - count && sumOf(chroma.frames.subarray(from * FINE_BINS, (from + 1) * FINE_BINS)) < least) from++;
  const [all, bass] = both(chroma, from, Math.min(count, chroma.frameCount - from));
  return all.map((v, i) => v + bass[i]!);
}

/** The profiles as seen from a tonic. */
export function seenFrom(known: Float64Array, tonic: number): Float64Array {
  return known.map((_, i) => known[Math.floor(i / 12) * 12 + ((i + tonic) % 12)]!);
}

const keyAt = (index: number): MusicalKey => keyOf(index % 12, index >= 12 ? 'minor' : 'major');

/** Probability of each key: index = tonic, +12 for minor. */
export function keyProbabilities(known: Float64Array, networks: KeyNetworks): Float64Array {
  const scores = new Float64Array(24);
  for (let tonic = 0; tonic < 12; tonic++) {
    const seen = seenFrom(known, tonic);
    for (const [m, mode] of (['major', 'minor'] as const).entries()) {
      scores[m * 12 + tonic] = outputOf(networks[mode], seen) / networks.calm;
    }
  }
  const top = Math.max(...scores);
  const all = scores.map((s) => Math.exp(s - top));
  const sum = sumOf(all);
  return all.map((v) => v / sum);
}

/** Estimates the key of a track. */
export function estimateKey(chroma: Chroma, bars: Bars, networks: KeyNetworks = FITTED.keys): KeyEstimate {
  const { frameCount, frameRate, tuningCents } = chroma;
  const perSegment = Math.max(1, Math.round(SEGMENT_SECONDS * frameRate));
  const overTime: (MusicalKey | null)[] = [];
  for (let first = 0; first < frameCount; first += perSegment) {
    const last = Math.min(frameCount, first + perSegment);
    const pitched = sumOf(foldChroma(chroma.frames, first, last - first, tuningCents)) / (last - first);
    const p = keyProbabilities(pitchKnown(chroma, first, last, null), networks);
    overTime.push(pitched < 0.05 ? null : keyAt(p.indexOf(Math.max(...p))));
  }
  if (overTime.every((k) => k === null)) return { key: null, confidence: 0, tuningCents, candidates: [], overTime };
  const probabilities = keyProbabilities(pitchKnown(chroma, 0, frameCount, bars), networks);
  const candidates = Array.from(probabilities, (weight, i) => ({ key: keyAt(i), weight })).sort(
    (a, b) => b.weight - a.weight,
  );
  return {
    key: candidates[0]!.key,
    confidence: candidates[0]!.weight,
    tuningCents,
    candidates: candidates.slice(0, 5),
    overTime,
  };
}
