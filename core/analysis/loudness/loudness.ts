/**
 * Loudness by ITU-R BS.1770-5 (K-weighting, gating), EBU Tech 3341 (modes) and EBU Tech 3342 (range).
 */
import { growing } from '../../signal/windows.ts';
import type { Biquad } from '../../signal/filters.ts';
import { createKernels, type Kernels } from '../../signal/kernels/kernels.ts';

export interface Loudness {
  /** Integrated loudness in LUFS; null when no block passes the gate (silence, under 0.4 s). */
  integratedLufs: number | null;
  /** Loudness range in LU; null with the integrated value. */
  rangeLu: number | null;
  maxMomentaryLufs: number | null;
  maxShortTermLufs: number | null;
  /** Short-term loudness once a second, the first at 3 s; −120 stands for silence. */
  shortTermCurve: number[];
}

/** The two K-weighting sections for a sample rate, from the standard's 48 kHz filters by bilinear transform. */
export function kWeighting(sampleRate: number): [Biquad, Biquad] {
  const shelfGain = 10 ** (3.999843853973347 / 20);
  const shelfMid = shelfGain ** 0.4996667741545416;
  const section = (frequency: number, q: number) => {
    const k = Math.tan((Math.PI * frequency) / sampleRate);
    return { k, kq: k / q, k2: k * k, a0: 1 + k / q + k * k };
  };
  const s = section(1681.974450955533, 0.7071752369554196);
  const h = section(38.13547087602444, 0.5003270373238773);
  return [
    {
      b0: (shelfGain + shelfMid * s.kq + s.k2) / s.a0,
      b1: (2 * (s.k2 - shelfGain)) / s.a0,
      b2: (shelfGain - shelfMid * s.kq + s.k2) / s.a0,
      a1: (2 * (s.k2 - 1)) / s.a0,
      a2: (1 - s.kq + s.k2) / s.a0,
    },
    { b0: 1, b1: -2, b2: 1, a1: (2 * (h.k2 - 1)) / h.a0, a2: (1 - h.kq + h.k2) / h.a0 },
  ];
}

/** Channel weights of BS.1770 for the usual layouts: surrounds +1.5 dB, no low-frequency effects. */
export function channelWeights(channels: number): number[] {
  const layouts: Record<number, number[]> = {
    4: [1, 1, 1.41, 1.41],
    5: [1, 1, 1, 1.41, 1.41],
    6: [1, 1, 1, 0, 1.41, 1.41],
    7: [1, 1, 1, 0, 1, 1.41, 1.41],
    8: [1, 1, 1, 0, 1.41, 1.41, 1.41, 1.41],
  };
  return layouts[channels] ?? Array.from({ length: channels }, () => 1);
}

export interface LoudnessMeter {
  /** Takes `frames` samples of each channel (one array per channel). */
  push(channels: Float32Array[], frames: number): void;
  /** Also the mean weighted power of each 100 ms. */
  finish(): Loudness & { powers: Float32Array };
}

const toLufs = (power: number): number => (power > 0 ? -0.691 + 10 * Math.log10(power) : -Infinity);
const fromLufs = (lufs: number): number => 10 ** ((lufs + 0.691) / 10);

/** Starts a meter; its state grows by one number for each 100 ms. */
export function createLoudnessMeter(
  sampleRate: number,
  channelCount: number,
  kernels: Kernels = createKernels(),
): LoudnessMeter {
  const [shelf, highPass] = kWeighting(sampleRate);
  const coefficients = kernels.doubles(7);
  coefficients.set([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2, highPass.a1, highPass.a2]);
  const energies = kernels.doubles(2);
  const pairs = channelPairs(channelWeights(channelCount)).map((pair) => ({
    ...pair,
    state: kernels.doubles(8).byteOffset,
  }));
  const coefficientsAt = coefficients.byteOffset,
    energiesAt = energies.byteOffset;
  const stepFrames = Math.max(1, Math.round(sampleRate / (10 * FINE_STEPS)));
  const powers = growing(); // mean weighted power of each 100 ms
  const momentary = slidingMaximum(4 * FINE_STEPS),
    shortTerm = slidingMaximum(30 * FINE_STEPS);
  let inStep = 0;
  let sum = 0;
  let fine = 0;
  let coarse = 0;

  const endStep = (): void => {
    const power = sum / stepFrames;
    momentary.push(power);
    shortTerm.push(power);
    coarse += power;
    if (++fine === FINE_STEPS) {
      powers.push(coarse / FINE_STEPS);
      coarse = 0;
      fine = 0;
    }
    sum = 0;
    inStep = 0;
  };

  return {
    push(channels, frames) {
      kernels.visit(channels, frames, (pointers, _from, count) => {
        for (let at = 0; at < count;) {
          const length = Math.min(count - at, stepFrames - inStep);
          for (const { left, right, leftWeight, rightWeight, state } of pairs) {
            kernels.kWeight(
              pointers[left]! + at * 4,
              pointers[right]! + at * 4,
              length,
              coefficientsAt,
              state,
              energiesAt,
            );
            sum += leftWeight * energies[0]! + rightWeight * energies[1]!;
          }
          inStep += length;
          at += length;
          if (inStep === stepFrames) endStep();
        }
      });
    },
    finish() {
      const all = powers.take();
      return { ...summarise(all, momentary.maximum(), shortTerm.maximum()), powers: all };
    },
  };
}

/** Channels that count, two by two; one that is left over goes with itself and counts once. */
function channelPairs(weights: number[]): { left: number; right: number; leftWeight: number; rightWeight: number }[] {
  const counted = weights.map((weight, channel) => ({ weight, channel })).filter((c) => c.weight !== 0);
  return Array.from({ length: Math.ceil(counted.length / 2) }, (_, i) => {
    const left = counted[2 * i]!,
      right = counted[2 * i + 1];
    return {
      left: left.channel,
      leftWeight: left.weight,
      right: (right ?? left).channel,
      rightWeight: right?.weight ?? 0,
    };
  });
}

/**
 * Steps in 100 ms at which the maxima are looked for, so that they do not depend on where in the file a sound begins.
 */
const FINE_STEPS = 10;

/** The largest mean of `width` values in a row. */
function slidingMaximum(width: number): { push(value: number): void; maximum(): number } {
  const ring = new Float64Array(width);
  let count = 0,
    sum = 0,
    top = 0;
  return {
    push(value) {
      const at = count % width;
      sum += value - ring[at]!;
      ring[at] = value;
      // Rounding adds up: begin anew once a round.
      if (at === width - 1) sum = ring.reduce((a, b) => a + b, 0);
      if (++count >= width && sum > top) top = sum;
    },
    maximum: () => top / width,
  };
}

/** Running means over `width` steps: one value for each step at which a whole window has passed. */
function windowMeans(powers: Float32Array, width: number): Float64Array {
  const count = Math.max(0, powers.length - width + 1);
  const means = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let k = 0; k < width; k++) sum += powers[i + k]!;
    means[i] = sum / width;
  }
  return means;
}

function gatedMean(blocks: Float64Array, threshold: number): { mean: number; kept: Float64Array } {
  const kept = blocks.filter((p) => p >= threshold);
  return { kept, mean: kept.length ? kept.reduce((a, b) => a + b, 0) / kept.length : 0 };
}

/**
 * The value number p·n in order, rounded, as meters that count levels in a histogram have it. Interpolation would give
 * values that never sounded where quiet and loud parts leave a gap at the percentile.
 */
const rank = (sorted: Float64Array, p: number): number => sorted[Math.max(0, Math.round(p * sorted.length) - 1)]!;

function summarise(powers: Float32Array, loudestMomentary: number, loudestShortTerm: number): Loudness {
  const momentary = windowMeans(powers, 4);
  const shortTerm = windowMeans(powers, 30);
  const absolute = fromLufs(-70);
  const first = gatedMean(momentary, absolute);
  const second = gatedMean(first.kept, first.mean / 10);
  const integrated = second.kept.length ? toLufs(second.mean) : null;

  const shortAbsolute = gatedMean(shortTerm, absolute);
  const shortKept = gatedMean(shortAbsolute.kept, shortAbsolute.mean / 100).kept;
  const shortLevels = shortKept.map(toLufs).sort();
  const range = shortLevels.length ? rank(shortLevels, 0.95) - rank(shortLevels, 0.1) : null;

  const curve: number[] = [];
  for (let i = 0; i < shortTerm.length; i += 10) curve.push(round(Math.max(-120, toLufs(shortTerm[i]!)), 1));
  const level = (power: number): number | null => (power > 0 ? toLufs(power) : null);
  return {
    integratedLufs: integrated,
    rangeLu: integrated === null ? null : (range ?? 0),
    maxMomentaryLufs: level(loudestMomentary),
    maxShortTermLufs: level(loudestShortTerm),
    shortTermCurve: curve,
  };
}

const round = (value: number, digits: number): number => Math.round(value * 10 ** digits) / 10 ** digits;
