/** A planned real-input FFT of one size. Buffers are owned by the plan and overwritten by each call. */
export interface RealFft {
  readonly size: number;
  /** Real parts, length size/2 + 1. */
  readonly re: Float64Array;
  /** Imaginary parts, length size/2 + 1. */
  readonly im: Float64Array;
  /** Transforms `size` real samples starting at `offset` of `input`, times `window` when given. */
  transform(input: ArrayLike<number>, offset?: number, window?: ArrayLike<number>): void;
}

/**
 * Plans a real FFT of `size` samples (a power of two, 4 or more): a complex transform of half the
 * size over interleaved even and odd samples, then the split into the spectrum of the real signal
 * (Press et al., Numerical Recipes, 12.3). No allocation per call.
 * @throws RangeError when the size is not a power of two of at least 4.
 */
export function planRealFft(size: number): RealFft {
  if (size < 4 || (size & (size - 1)) !== 0) throw new RangeError(`FFT size must be a power of two, not ${size}`);
  const half = size >> 1;
  const re = new Float64Array(half + 1);
  const im = new Float64Array(half + 1);
  const cos = new Float64Array(half);
  const sin = new Float64Array(half);
  for (let i = 0; i < half; i++) {
    cos[i] = Math.cos((2 * Math.PI * i) / size);
    sin[i] = -Math.sin((2 * Math.PI * i) / size);
  }
  const reversed = bitReversal(half);

  const transform = (input: ArrayLike<number>, offset = 0, window?: ArrayLike<number>): void => {
    for (let i = 0; i < half; i++) {
      const at = 2 * i;
      const to = reversed[i]!;
      if (window) {
        re[to] = input[offset + at]! * window[at]!;
        im[to] = input[offset + at + 1]! * window[at + 1]!;
      } else {
        re[to] = input[offset + at]!;
        im[to] = input[offset + at + 1]!;
      }
    }
    complexInPlace(re, im, half, cos, sin);
    splitReal(re, im, half, cos, sin);
  };
  return { size, re, im, transform };
}

function bitReversal(n: number): Uint32Array {
  const out = new Uint32Array(n);
  const bits = Math.log2(n);
  for (let i = 0; i < n; i++) {
    let r = 0;
    for (let b = 0; b < bits; b++) r |= ((i >> b) & 1) << (bits - 1 - b);
    out[i] = r;
  }
  return out;
}

/** Radix-2 butterflies on bit-reversed input of length n; the twiddle tables are for length 2n. */
function complexInPlace(re: Float64Array, im: Float64Array, n: number, cos: Float64Array, sin: Float64Array): void {
  for (let i = 0; i < n; i += 2) {
    const ar = re[i]!, ai = im[i]!, br = re[i + 1]!, bi = im[i + 1]!;
    re[i] = ar + br; im[i] = ai + bi;
    re[i + 1] = ar - br; im[i + 1] = ai - bi;
  }
  for (let span = 2; span < n; span <<= 1) {
    const step = n / span;
    for (let k = 0; k < span; k++) {
      const wr = cos[k * step]!, wi = sin[k * step]!;
      for (let i = k; i < n; i += span << 1) {
        const j = i + span;
        const br = re[j]! * wr - im[j]! * wi;
        const bi = re[j]! * wi + im[j]! * wr;
        const ar = re[i]!, ai = im[i]!;
        re[i] = ar + br; im[i] = ai + bi;
        re[j] = ar - br; im[j] = ai - bi;
      }
    }
  }
}

function splitReal(re: Float64Array, im: Float64Array, half: number, cos: Float64Array, sin: Float64Array): void {
  const r0 = re[0]!, i0 = im[0]!;
  re[half] = r0 - i0; im[half] = 0;
  re[0] = r0 + i0; im[0] = 0;
  for (let k = 1; k <= half >> 1; k++) {
    const j = half - k;
    const evenR = (re[k]! + re[j]!) / 2, evenI = (im[k]! - im[j]!) / 2;
    const oddR = (im[k]! + im[j]!) / 2, oddI = (re[j]! - re[k]!) / 2;
    const tr = oddR * cos[k]! - oddI * sin[k]!;
    const ti = oddR * sin[k]! + oddI * cos[k]!;
    re[k] = evenR + tr; im[k] = evenI + ti;
    re[j] = evenR - tr; im[j] = ti - evenI;
  }
}

/**
 * Autocorrelation of `signal` for lags 0 … maxLag (not normalised), through the power spectrum.
 * @returns Float64Array of length maxLag + 1.
 */
export function autocorrelation(signal: ArrayLike<number>, maxLag: number): Float64Array {
  const n = signal.length;
  let size = 4;
  while (size < n + maxLag + 1) size <<= 1;
  const padded = new Float64Array(size);
  for (let i = 0; i < n; i++) padded[i] = signal[i]!;
  const fft = planRealFft(size);
  fft.transform(padded);
  // The power spectrum is real and even, so a second forward transform inverts it up to 1/size.
  const power = new Float64Array(size);
  for (let k = 0; k <= size / 2; k++) {
    const p = fft.re[k]! ** 2 + fft.im[k]! ** 2;
    power[k] = p;
    if (k > 0 && k < size / 2) power[size - k] = p;
  }
  fft.transform(power);
  return Float64Array.from({ length: maxLag + 1 }, (_, lag) => fft.re[lag]! / size);
}
