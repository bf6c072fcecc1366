/**
 * Key from pitch-class profiles, decided over segments. Three profile sets are combined:
 * Krumhansl & Kessler 1982, Temperley 1999, and profiles for electronic dance music from
 * Faraldo et al., "Key estimation in electronic dance music", 2016.
 */
import { correlation } from '../signal/statistics.ts';
import { foldChroma, type Chroma } from './chroma.ts';
import { keyOf, type MusicalKey } from '../fields/keys.ts';

export interface KeyCandidate { key: MusicalKey; weight: number }

export interface KeyEstimate {
  key: MusicalKey | null;
  /** 0 … 1. */
  confidence: number;
  tuningCents: number;
  /** Best first, at most 5; weights sum to 1 over all 24. */
  candidates: KeyCandidate[];
  /** The best key of each SEGMENT_SECONDS, null where nothing is pitched. */
  overTime: (MusicalKey | null)[];
}

export const SEGMENT_SECONDS = 8;

const PROFILES: { major: number[]; minor: number[] }[] = [
  {
    major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
    minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
  },
  {
    major: [5, 2, 3.5, 2, 4.5, 4, 2, 4.5, 2, 3.5, 1.5, 4],
    minor: [5, 2, 3.5, 4.5, 2, 4, 2, 4.5, 3.5, 2, 1.5, 4],
  },
  {
    major: [0.165, 0.047, 0.083, 0.067, 0.1, 0.093, 0.053, 0.132, 0.052, 0.074, 0.069, 0.064],
    minor: [0.172, 0.04, 0.076, 0.12, 0.056, 0.085, 0.05, 0.135, 0.075, 0.05, 0.092, 0.055],
  },
];

/** Correlation of a chroma (0 = C) with all 24 keys: index = tonic, +12 for minor. */
function keyScores(chroma: Float64Array, bass: Float64Array): Float64Array {
  const scores = new Float64Array(24);
  const bassTotal = bass.reduce((a, b) => a + b, 0) || 1;
  for (let tonic = 0; tonic < 12; tonic++) {
    const rotated = Array.from({ length: 12 }, (_, i) => chroma[(i + tonic) % 12]!);
    const root = (bass[tonic]! + 0.4 * bass[(tonic + 7) % 12]!) / bassTotal;
    for (const mode of ['major', 'minor'] as const) {
      const fit = PROFILES.reduce((sum, p) => sum + correlation(rotated, p[mode]), 0) / PROFILES.length;
      scores[tonic + (mode === 'minor' ? 12 : 0)] = fit + 0.35 * root;
    }
  }
  return scores;
}

const bestOf = (scores: Float64Array): number => scores.reduce((best, s, i) => (s > scores[best]! ? i : best), 0);
const keyAt = (index: number): MusicalKey => keyOf(index % 12, index >= 12 ? 'minor' : 'major');

/** Estimates the key of a track. */
export function estimateKey(chroma: Chroma): KeyEstimate {
  const { frames, bass, frameCount, frameRate, tuningCents } = chroma;
  const perSegment = Math.max(1, Math.round(SEGMENT_SECONDS * frameRate));
  const total = new Float64Array(12);
  const totalBass = new Float64Array(12);
  const votes = new Float64Array(24);
  const overTime: (MusicalKey | null)[] = [];
  for (let first = 0; first < frameCount; first += perSegment) {
    const count = Math.min(perSegment, frameCount - first);
    const c = foldChroma(frames, first, count, tuningCents);
    const b = foldChroma(bass, first, count, tuningCents);
    const pitched = c.reduce((x, y) => x + y, 0) / count;
    if (pitched < 0.05) { overTime.push(null); continue; }
    const scores = keyScores(c, b);
    overTime.push(keyAt(bestOf(scores)));
    for (let k = 0; k < 24; k++) votes[k]! += (scores[k]! * count) / perSegment;
    for (let i = 0; i < 12; i++) { total[i]! += c[i]!; totalBass[i]! += b[i]!; }
  }
  const segments = overTime.filter((k) => k !== null).length;
  if (segments === 0) return { key: null, confidence: 0, tuningCents, candidates: [], overTime };
  const scores = keyScores(total, totalBass).map((s, k) => 0.75 * s + 0.25 * (votes[k]! / segments));
  const top = Math.max(...scores);
  const weights = scores.map((s) => Math.exp((s - top) * 12));
  const sum = weights.reduce((a, b) => a + b, 0);
  const candidates = Array.from(weights, (w, k) => ({ key: keyAt(k), weight: w / sum }))
    .sort((a, b) => b.weight - a.weight);
  const [first, second] = candidates;
  const clarity = Math.max(0, Math.min(1, (top - 0.3) / 0.6));
  const confidence = Math.min(0.99, (first!.weight / (first!.weight + second!.weight)) * (0.6 + 0.4 * clarity));
  return { key: first!.key, confidence, tuningCents, candidates: candidates.slice(0, 5), overTime };
}
