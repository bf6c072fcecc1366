import type { Kernels } from './kernels/kernels.ts';

/** Coefficients of a second-order section, a0 = 1. */
export interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** Second-order Butterworth low-pass or high-pass by the bilinear transform. */
export function butterworth(kind: 'low' | 'high', cutoffHz: number, sampleRate: number): Biquad {
  const k = Math.tan((Math.PI * Math.min(cutoffHz, sampleRate * 0.49)) / sampleRate);
  const norm = 1 / (1 + Math.SQRT2 * k + k * k);
  const a1 = 2 * (k * k - 1) * norm;
  const a2 = (1 - Math.SQRT2 * k + k * k) * norm;
  return kind === 'low'
    ? { b0: k * k * norm, b1: 2 * k * k * norm, b2: k * k * norm, a1, a2 }
    : { b0: norm, b1: -2 * norm, b2: norm, a1, a2 };
}

/** Low-pass filtering and integer decimation of a mono stream. */
export interface Decimator {
  readonly factor: number;
  /** What the last push gave; overwritten by the next. */
  readonly output: Float32Array;
  /** Decimates `input[0 … length)` into the output; returns how many samples there are. */
  push(input: Float32Array, length: number): number;
}

/**
 * A cascade of half-band filters, one for each factor of 2, and a linear-phase FIR for what is left of the factor.
 * A factor of 1 copies. Blocks may be of up to maxBlock samples.
 * Output k stands for input k·factor; the half-band filters add a few samples of delay, under 0.2 ms at 44.1 kHz.
 */
export function createDecimator(factor: number, maxBlock: number, kernels: Kernels): Decimator {
  const output = kernels.floats(maxBlock + 4);
  if (factor === 1)
    return {
      factor,
      output,
      push: (input, length) => {
        output.set(input.subarray(0, length));
        return length;
      },
    };
  const stages: Stage[] = [];
  let left = factor,
    block = maxBlock;
  // The last stage has the narrowest transition: what it lets fold would lie in the band that is kept.
  for (; left % 2 === 0; left /= 2, block = Math.ceil(block / 2) + 1)
    stages.push(
      createHalving(left === 2 && factor > 2 ? halfBandCoefficients(6, 0.05) : halfBandCoefficients(4, 0.12), kernels),
    );
  if (left > 1) stages.push(createStage(left, lowPass(16 * left + 1, 0.45 / left), block, kernels.memory));
  const between = stages.slice(1).map(() => kernels.floats(Math.ceil(maxBlock / 2) + 4).byteOffset);
  return {
    factor,
    output,
    push(input, length) {
      let written = 0;
      kernels.visit([input], length, ([pointer], _from, part) => {
        let from = pointer!,
          count = part;
        for (let s = 0; s < stages.length; s++) {
          const to = between[s] ?? output.byteOffset + written * 4;
          count = stages[s]!(from, count, to);
          from = to;
        }
        written += count;
      });
      return written;
    },
  };
}

/** One filter and decimation of samples at an address to another: how many it wrote. */
type Stage = (from: number, length: number, to: number) => number;

/**
 * Coefficients of a half-band filter made of two branches of first-order all-passes: an elliptic filter by the
 * series for its nome (Valenzuela & Constantinides, "Digital signal processing schemes for efficient interpolation
 * and decimation", 1983).
 * @param transition width of the transition band in units of the rate
 */
function halfBandCoefficients(count: number, transition: number): Float64Array {
  const { PI, abs, cos, sin, sqrt, tan } = Math;
  const k = tan((1 - transition * 2) * (PI / 4)) ** 2;
  const root = (1 - k * k) ** 0.25;
  const e = (0.5 * (1 - root)) / (1 + root);
  const q = e * (1 + e ** 4 * (2 + e ** 4 * (15 + 150 * e ** 4)));
  const order = count * 2 + 1;
  return Float64Array.from({ length: count }, (_, index) => {
    const c = index + 1;
    let above = 0,
      below = 0.5;
    for (let i = 0, term = 1; abs(term) > 1e-30; i++) {
      term = q ** (i * (i + 1));
      above += term * sin(((2 * i + 1) * c * PI) / order) * (i % 2 ? -1 : 1);
    }
    for (let i = 1, term = 1; abs(term) > 1e-30; i++) {
      term = q ** (i * i);
      below += term * cos((2 * i * c * PI) / order) * (i % 2 ? -1 : 1);
    }
    const w = ((above * q ** 0.25) / below) ** 2;
    const x = sqrt((1 - w * k) * (1 - w / k)) / (1 + w);
    return (1 - x) / (1 + x);
  });
}

/** Halves the rate: even samples go through the all-passes of one branch, odd ones through those of the other. */
function createHalving(alternating: Float64Array, kernels: Kernels): Stage {
  const sections = alternating.length >> 1;
  const coefficients = kernels.doubles(2 * sections),
    state = kernels.doubles(12),
    pair = kernels.floats(2);
  for (let p = 0; p < sections; p++) coefficients.set([alternating[2 * p + 1]!, alternating[2 * p]!], 2 * p);
  let holds = false;
  const halve = (from: number, count: number, to: number): void =>
    kernels.halve(from, count, to, coefficients.byteOffset, state.byteOffset, sections);
  return (from, length, to) => {
    if (length === 0) return 0; // what is held stays held
    let at = from,
      left = length,
      written = 0;
    if (holds) {
      pair[1] = kernels.memory[at >> 2]!;
      halve(pair.byteOffset, 1, to);
      written = 1;
      at += 4;
      left--;
    }
    const count = left >> 1;
    halve(at, count, to + written * 4);
    holds = left % 2 === 1;
    if (holds) pair[0] = kernels.memory[(at >> 2) + left - 1]!;
    return written + count;
  };
}

/** The taps of a mirrored filter with an odd count: the middle one, and the others by their distance from it. */
interface MirroredFilter {
  middle: number;
  offsets: Int32Array;
  taps: Float64Array;
}

function createStage(factor: number, filter: MirroredFilter, maxBlock: number, memory: Float32Array): Stage {
  const reach = filter.offsets.at(-1)!;
  const buffer = new Float64Array(2 * reach + 1 + maxBlock + factor);
  let filled = reach; // a silent past, so that output k is centred on input k·factor
  let next = reach; // where the next output is centred
  return (from, length, to) => {
    buffer.set(memory.subarray(from >> 2, (from >> 2) + length), filled);
    filled += length;
    const written = Math.max(0, Math.ceil((filled - reach - next) / factor));
    convolve(buffer, next, factor, written, filter, memory.subarray(to >> 2, (to >> 2) + written));
    next += written * factor;
    const keepFrom = Math.min(next - reach, filled);
    buffer.copyWithin(0, keepFrom, filled);
    filled -= keepFrom;
    next -= keepFrom;
    return written;
  };
}

/**
 * `count` outputs of a mirrored filter, centred every `factor` samples from `centre` on; three pairs of taps a round.
 */
function convolve(
  x: Float64Array,
  centre: number,
  factor: number,
  count: number,
  { middle, offsets, taps }: MirroredFilter,
  out: Float32Array,
): void {
  for (let i = 0, at = centre; i < count; i++, at += factor) out[i] = middle * x[at]!;
  const pairs = taps.length;
  for (let k = 0; k < pairs; k += 3) {
    const t0 = taps[k]!,
      t1 = k + 1 < pairs ? taps[k + 1]! : 0,
      t2 = k + 2 < pairs ? taps[k + 2]! : 0;
    const o0 = offsets[k]!,
      o1 = k + 1 < pairs ? offsets[k + 1]! : 0,
      o2 = k + 2 < pairs ? offsets[k + 2]! : 0;
    for (let i = 0, at = centre; i < count; i++, at += factor) {
      out[i] =
        out[i]! +
        t0 * (x[at - o0]! + x[at + o0]!) +
        t1 * (x[at - o1]! + x[at + o1]!) +
        t2 * (x[at - o2]! + x[at + o2]!);
    }
  }
}

function lowPass(length: number, cutoff: number): MirroredFilter {
  const full = windowedSinc(length, cutoff);
  const middle = (length - 1) / 2;
  const offsets = Int32Array.from({ length: middle }, (_, i) => i + 1);
  return { middle: full[middle]!, offsets, taps: Float64Array.from(offsets, (o) => full[middle + o]!) };
}

/** A sinc of the given cut-off (in units of the rate) under a Blackman window, with unit gain at 0 Hz. */
function windowedSinc(length: number, cutoff: number): Float64Array {
  const taps = new Float64Array(length);
  const mid = (length - 1) / 2;
  let sum = 0;
  for (let i = 0; i < length; i++) {
    const x = i - mid;
    const sinc = x === 0 ? 2 * cutoff : Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x);
    const phase = (2 * Math.PI * (i + 1)) / (length + 1);
    taps[i] = sinc * (0.42 - 0.5 * Math.cos(phase) + 0.08 * Math.cos(2 * phase));
    sum += taps[i]!;
  }
  for (let i = 0; i < length; i++) taps[i]! /= sum;
  return taps;
}
