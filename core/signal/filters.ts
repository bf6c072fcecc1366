/** Coefficients of a second-order section, a0 = 1. */
export interface Biquad { b0: number; b1: number; b2: number; a1: number; a2: number }

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

/**
 * Low-pass filtering and integer decimation of a mono stream by a windowed-sinc FIR
 * (Blackman window, cut-off at 0.45 of the new rate, 16 taps per unit of the factor).
 */
export interface Decimator {
  readonly factor: number;
  /** Writes the decimated samples of `input[0 … length)` to `output`; returns how many. */
  push(input: Float32Array, length: number, output: Float32Array): number;
}

/** A factor of 1 copies. Output must hold length/factor + 1 samples. */
export function createDecimator(factor: number, maxBlock: number): Decimator {
  if (factor === 1) {
    return { factor, push: (input, length, output) => { output.set(input.subarray(0, length)); return length; } };
  }
  const taps = designLowPass(16 * factor + 1, 0.45 / factor);
  const n = taps.length;
  const middle = taps[(n - 1) / 2]!;
  const half = taps.slice(0, (n - 1) / 2);
  const buffer = new Float64Array(n + maxBlock + factor);
  let filled = (n - 1) / 2; // a silent past of half the filter, so that output k is centred on input k·factor
  let skip = 0;
  return {
    factor,
    push(input, length, output) {
      for (let i = 0; i < length; i++) buffer[filled + i] = input[i]!;
      filled += length;
      let at = skip;
      let written = 0;
      for (; at + n <= filled; at += factor) {
        output[written++] = symmetricFir(buffer, at, half, middle);
      }
      const keepFrom = Math.min(at, filled);
      buffer.copyWithin(0, keepFrom, filled);
      skip = at - keepFrom;
      filled -= keepFrom;
      return written;
    },
  };
}

/** One output of a filter with an odd number of mirrored taps: `half` holds those before the middle. */
function symmetricFir(x: Float64Array, at: number, half: Float64Array, middle: number): number {
  const n = half.length;
  let left = at, right = at + 2 * n;
  let even = 0, odd = 0;
  for (let k = 0; k < n; k += 2, left += 2, right -= 2) {
    even += half[k]! * (x[left]! + x[right]!);
    odd += half[k + 1]! * (x[left + 1]! + x[right - 1]!);
  }
  return even + odd + middle * x[at + n]!;
}

function designLowPass(length: number, cutoff: number): Float64Array {
  const taps = new Float64Array(length);
  const mid = (length - 1) / 2;
  let sum = 0;
  for (let i = 0; i < length; i++) {
    const x = i - mid;
    const sinc = x === 0 ? 2 * cutoff : Math.sin(2 * Math.PI * cutoff * x) / (Math.PI * x);
    const phase = (2 * Math.PI * i) / (length - 1);
    taps[i] = sinc * (0.42 - 0.5 * Math.cos(phase) + 0.08 * Math.cos(2 * phase));
    sum += taps[i]!;
  }
  for (let i = 0; i < length; i++) taps[i] = taps[i]! / sum;
  return taps;
}
