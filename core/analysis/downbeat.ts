/** Bars over beats: how many beats make a bar, and which beat is its first. */
import { foldChroma, type Chroma } from './chroma.ts';
import type { Onsets } from './onsets.ts';

export interface Bars {
  beatsPerBar: 3 | 4;
  /** Index of the first downbeat in the beats. */
  firstDownbeat: number;
  /** 0 … 1: how far the chosen phase stands out. */
  confidence: number;
}

/** What is heard at each beat. */
interface BeatFeatures { low: number[]; snare: number[]; change: number[]; rise: number[] }

/** Largest value of a band within ±40 ms of a time. */
function strengthAt(band: Float32Array, frameRate: number, time: number): number {
  const centre = Math.round(time * frameRate);
  let best = 0;
  for (let i = Math.max(0, centre - 4); i <= Math.min(band.length - 1, centre + 4); i++) if (band[i]! > best) best = band[i]!;
  return best;
}

function featuresOf(beats: Float64Array, onsets: Onsets, chroma: Chroma): BeatFeatures {
  const { bands, frameRate } = onsets;
  const times = Array.from(beats);
  const chromaAt = (from: number, to: number): Float64Array => {
    const first = Math.max(0, Math.min(chroma.frameCount - 1, Math.round(from * chroma.frameRate)));
    const count = Math.max(1, Math.min(chroma.frameCount - first, Math.round((to - from) * chroma.frameRate)));
    const c = foldChroma(chroma.frames, first, count, chroma.tuningCents);
    const bass = foldChroma(chroma.bass, first, count, chroma.tuningCents);
    return c.map((v, i) => (v + bass[i]!) / count);
  };
  const bar = times.length > 1 ? (times.at(-1)! - times[0]!) / (times.length - 1) : 0.5;
  const energyAround = (t: number): number => {
    let sum = 0;
    for (let b = 0; b < bands.length; b++) {
      for (let i = Math.max(0, Math.round(t * frameRate)); i < Math.min(bands[b]!.length, Math.round((t + bar * 4) * frameRate)); i += 2) sum += bands[b]![i]!;
    }
    return sum;
  };
  return {
    low: times.map((t) => strengthAt(bands[0]!, frameRate, t)),
    snare: times.map((t) => strengthAt(bands[2]!, frameRate, t) + strengthAt(bands[3]!, frameRate, t)),
    change: times.map((t) => {
      if (chroma.frameCount < 3) return 0;
      const before = chromaAt(t - bar * 1.5, t - bar * 0.3);
      const after = chromaAt(t + bar * 0.3, t + bar * 1.5);
      return before.reduce((sum, v, i) => sum + Math.abs(v - after[i]!), 0);
    }),
    rise: times.map((t) => Math.abs(energyAround(t) - energyAround(t - bar * 4)) / (energyAround(t) + energyAround(t - bar * 4) + 1)),
  };
}

const standardise = (values: number[]): number[] => {
  const mean = values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
  const deviation = Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / Math.max(1, values.length)) || 1;
  return values.map((v) => (v - mean) / deviation);
};

function phaseMeans(values: number[], perBar: number): number[] {
  return Array.from({ length: perBar }, (_, p) => {
    const own = values.filter((_, i) => i % perBar === p);
    return own.reduce((a, b) => a + b, 0) / Math.max(1, own.length);
  });
}

const contrast = (means: number[]): number => Math.max(...means) - means.reduce((a, b) => a + b, 0) / means.length;

/** Finds the bars of a beat grid. */
export function findBars(beats: Float64Array, onsets: Onsets, chroma: Chroma): Bars {
  if (beats.length < 12) return { beatsPerBar: 4, firstDownbeat: 0, confidence: 0 };
  const f = featuresOf(beats, onsets, chroma);
  const low = standardise(f.low), snare = standardise(f.snare), change = standardise(f.change), rise = standardise(f.rise);
  const triple = contrast(phaseMeans(low, 3)) + contrast(phaseMeans(snare, 3)) + contrast(phaseMeans(change, 3));
  const quadruple = contrast(phaseMeans(low, 4)) + contrast(phaseMeans(snare, 4)) + contrast(phaseMeans(change, 4));
  const beatsPerBar = triple > quadruple * 1.25 + 0.1 ? 3 : 4;
  const lowMeans = phaseMeans(low, beatsPerBar), snareMeans = phaseMeans(snare, beatsPerBar);
  const changeMeans = phaseMeans(change, beatsPerBar), riseMeans = phaseMeans(rise, beatsPerBar);
  const scores = lowMeans.map((_, p) => {
    const back = beatsPerBar === 4
      ? snareMeans[(p + 1) % 4]! + snareMeans[(p + 3) % 4]! - snareMeans[p]! - snareMeans[(p + 2) % 4]!
      : snareMeans[(p + 1) % 3]! + snareMeans[(p + 2) % 3]! - 2 * snareMeans[p]!;
    return 0.8 * lowMeans[p]! + 1.6 * changeMeans[p]! + 1.2 * riseMeans[p]! + 0.45 * back;
  });
  const order = scores.map((s, p) => [s, p] as const).sort((a, b) => b[0] - a[0]);
  const margin = order[0]![0] - order[1]![0];
  return { beatsPerBar, firstDownbeat: order[0]![1], confidence: Math.max(0, Math.min(1, margin / 1.5)) };
}
