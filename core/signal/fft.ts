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

/** A planned complex FFT: what is put into `inRe` and `inIm` (overwritten by the call) comes out in `re` and `im`. */
export interface ComplexFft {
  readonly inRe: Float64Array;
  readonly inIm: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
  transform(): void;
}

/**
 * Plans a complex FFT: Stockham's self-sorting one in radix 4, with one pass of radix 2 where the size asks for it
 * (Van Loan, Computational Frameworks for the Fast Fourier Transform, 1992, 1.7 and 2.4). No allocation per call.
 * @param room length of the buffers, where more than `size` is wanted
 * @throws RangeError when the size is not a power of two of at least 2.
 */
export function planComplexFft(size: number, room = size): ComplexFft {
  if (size < 2 || (size & (size - 1)) !== 0) throw new RangeError(`FFT size must be a power of two, not ${size}`);
  const re = new Float64Array(room),
    im = new Float64Array(room);
  const otherRe = new Float64Array(room),
    otherIm = new Float64Array(room);
  const passes: Twiddles[] = [];
  let left = size;
  for (; left >= 4; left >>= 2) passes.push(twiddles(left));
  const odd = left === 2;
  // Each pass swaps the two buffers; begin in the one that lets the last pass end in `re` and `im`.
  const swapped = ((passes.length + (odd ? 1 : 0)) & 1) === 1;
  const inRe = swapped ? otherRe : re,
    inIm = swapped ? otherIm : im;

  const transform = (): void => {
    let fromRe = inRe,
      fromIm = inIm;
    let toRe = swapped ? re : otherRe,
      toIm = swapped ? im : otherIm;
    let stride = 1;
    for (let p = 0; p < passes.length; p++) {
      if (p === 0) firstPass(fromRe, fromIm, toRe, toIm, passes[0]!);
      else laterPass(fromRe, fromIm, toRe, toIm, passes[p]!, stride);
      stride <<= 2;
      const heldRe = fromRe,
        heldIm = fromIm;
      fromRe = toRe;
      fromIm = toIm;
      toRe = heldRe;
      toIm = heldIm;
    }
    if (odd) {
      for (let q = 0, r = stride; q < stride; q++, r++) {
        const ar = fromRe[q]!,
          ai = fromIm[q]!,
          br = fromRe[r]!,
          bi = fromIm[r]!;
        toRe[q] = ar + br;
        toIm[q] = ai + bi;
        toRe[r] = ar - br;
        toIm[r] = ai - bi;
      }
    }
  };
  return { inRe, inIm, re, im, transform };
}

/**
 * Plans a real FFT of `size` samples (a power of two, 4 or more): a complex transform of half the
 * size over interleaved even and odd samples, then the split into the spectrum of the real signal
 * (Press et al., Numerical Recipes, 12.3).
 * @throws RangeError when the size is not a power of two of at least 4.
 */
export function planRealFft(size: number): RealFft {
  if (size < 4 || (size & (size - 1)) !== 0) throw new RangeError(`FFT size must be a power of two, not ${size}`);
  const half = size >> 1;
  const { inRe, inIm, re, im, transform: complex } = planComplexFft(half, half + 1);
  const cos = new Float64Array(half),
    sin = new Float64Array(half);
  for (let i = 0; i < half; i++) {
    cos[i] = Math.cos((2 * Math.PI * i) / size);
    sin[i] = -Math.sin((2 * Math.PI * i) / size);
  }
  const transform = (input: ArrayLike<number>, offset = 0, window?: ArrayLike<number>): void => {
    if (window) {
      for (let i = 0, at = offset, w = 0; i < half; i++, at += 2, w += 2) {
        inRe[i] = input[at]! * window[w]!;
        inIm[i] = input[at + 1]! * window[w + 1]!;
      }
    } else {
      for (let i = 0, at = offset; i < half; i++, at += 2) {
        inRe[i] = input[at]!;
        inIm[i] = input[at + 1]!;
      }
    }
    complex();
    splitReal(re, im, half, cos, sin);
  };
  return { size, re, im, transform };
}

/** w, w², w³ of e^(−2πi p / n) for p < n/4, six numbers each. */
type Twiddles = Float64Array;

function twiddles(n: number): Twiddles {
  const out = new Float64Array((n >> 2) * 6);
  for (let p = 0; p < n >> 2; p++) {
    for (let m = 1; m <= 3; m++) {
      out[p * 6 + m * 2 - 2] = Math.cos((2 * Math.PI * p * m) / n);
      out[p * 6 + m * 2 - 1] = -Math.sin((2 * Math.PI * p * m) / n);
    }
  }
  return out;
}

/** Radix-4 butterflies with stride 1: every butterfly has twiddles of its own. */
function firstPass(xr: Float64Array, xi: Float64Array, yr: Float64Array, yi: Float64Array, w: Twiddles): void {
  const quarter = w.length / 6;
  for (
    let p = 0, b = quarter, c = 2 * quarter, d = 3 * quarter, t = 0, o = 0;
    p < quarter;
    p++, b++, c++, d++, t += 6, o += 4
  ) {
    const sumR = xr[p]! + xr[c]!,
      sumI = xi[p]! + xi[c]!,
      difR = xr[p]! - xr[c]!,
      difI = xi[p]! - xi[c]!;
    const oddR = xr[b]! + xr[d]!,
      oddI = xi[b]! + xi[d]!,
      turnR = xi[d]! - xi[b]!,
      turnI = xr[b]! - xr[d]!; // i·(b − d)
    const r1 = difR - turnR,
      i1 = difI - turnI,
      r2 = sumR - oddR,
      i2 = sumI - oddI,
      r3 = difR + turnR,
      i3 = difI + turnI;
    const w1r = w[t]!,
      w1i = w[t + 1]!,
      w2r = w[t + 2]!,
      w2i = w[t + 3]!,
      w3r = w[t + 4]!,
      w3i = w[t + 5]!;
    yr[o] = sumR + oddR;
    yi[o] = sumI + oddI;
    yr[o + 1] = r1 * w1r - i1 * w1i;
    yi[o + 1] = r1 * w1i + i1 * w1r;
    yr[o + 2] = r2 * w2r - i2 * w2i;
    yi[o + 2] = r2 * w2i + i2 * w2r;
    yr[o + 3] = r3 * w3r - i3 * w3i;
    yi[o + 3] = r3 * w3i + i3 * w3r;
  }
}

/** Radix-4 butterflies with a stride: runs of butterflies share their twiddles. */
function laterPass(
  xr: Float64Array,
  xi: Float64Array,
  yr: Float64Array,
  yi: Float64Array,
  w: Twiddles,
  stride: number,
): void {
  const quarter = w.length / 6;
  const apart = stride * quarter;
  for (let p = 0, t = 0; p < quarter; p++, t += 6) {
    const w1r = w[t]!,
      w1i = w[t + 1]!,
      w2r = w[t + 2]!,
      w2i = w[t + 3]!,
      w3r = w[t + 4]!,
      w3i = w[t + 5]!;
    const end = stride * (p + 1);
    for (
      let a = stride * p, b = a + apart, c = b + apart, d = c + apart, o = stride * 4 * p;
      a < end;
      a++, b++, c++, d++, o++
    ) {
      const sumR = xr[a]! + xr[c]!,
        sumI = xi[a]! + xi[c]!,
        difR = xr[a]! - xr[c]!,
        difI = xi[a]! - xi[c]!;
      const oddR = xr[b]! + xr[d]!,
        oddI = xi[b]! + xi[d]!,
        turnR = xi[d]! - xi[b]!,
        turnI = xr[b]! - xr[d]!;
      const r1 = difR - turnR,
        i1 = difI - turnI,
        r2 = sumR - oddR,
        i2 = sumI - oddI,
        r3 = difR + turnR,
        i3 = difI + turnI;
      const o1 = o + stride,
        o2 = o1 + stride,
        o3 = o2 + stride;
      yr[o] = sumR + oddR;
      yi[o] = sumI + oddI;
      yr[o1] = r1 * w1r - i1 * w1i;
      yi[o1] = r1 * w1i + i1 * w1r;
      yr[o2] = r2 * w2r - i2 * w2i;
      yi[o2] = r2 * w2i + i2 * w2r;
      yr[o3] = r3 * w3r - i3 * w3i;
      yi[o3] = r3 * w3i + i3 * w3r;
    }
  }
}

function splitReal(re: Float64Array, im: Float64Array, half: number, cos: Float64Array, sin: Float64Array): void {
  const r0 = re[0]!,
    i0 = im[0]!;
  re[half] = r0 - i0;
  im[half] = 0;
  re[0] = r0 + i0;
  im[0] = 0;
  for (let k = 1, j = half - 1; k <= j; k++, j--) {
    const evenR = (re[k]! + re[j]!) * 0.5,
      evenI = (im[k]! - im[j]!) * 0.5;
    const oddR = (im[k]! + im[j]!) * 0.5,
      oddI = (re[j]! - re[k]!) * 0.5;
    const tr = oddR * cos[k]! - oddI * sin[k]!;
    const ti = oddR * sin[k]! + oddI * cos[k]!;
    re[k] = evenR + tr;
    im[k] = evenI + ti;
    re[j] = evenR - tr;
    im[j] = ti - evenI;
  }
}

/** A plan with room for a signal and its power; both are overwritten by the next call of that size. */
interface Workspace {
  fft: RealFft;
  signal: Float64Array;
  power: Float64Array;
}

const workspaces = new Map<number, Workspace>();

/**
 * Made once for a size: what is thrown away after each of thousands of calls would pile up faster than it is
 * collected.
 */
function workspaceOf(size: number): Workspace {
  const workspace = workspaces.get(size) ?? {
    fft: planRealFft(size),
    signal: new Float64Array(size),
    power: new Float64Array(size),
  };
  workspaces.set(size, workspace);
  return workspace;
}

/**
 * The sum of the autocorrelations of signals for lags 0 … maxLag (not normalised), through their power spectra: so
 * only one transform leads back.
 * @param signals of at most `length` values each; one may reuse the array of another
 * @param out is overwritten and given back: maxLag + 1 values
 */
export function summedAutocorrelation(
  signals: Iterable<ArrayLike<number>>,
  length: number,
  maxLag: number,
  out: Float64Array = new Float64Array(maxLag + 1),
): Float64Array {
  let size = 4;
  while (size < length + maxLag + 1) size <<= 1;
  const { fft, signal: padded, power } = workspaceOf(size);
  power.fill(0);
  for (const signal of signals) {
    for (let i = 0; i < signal.length; i++) padded[i] = signal[i]!;
    padded.fill(0, signal.length);
    fft.transform(padded);
    for (let k = 0; k <= size / 2; k++) power[k]! += fft.re[k]! ** 2 + fft.im[k]! ** 2;
  }
  // The power spectrum is real and even, so a second forward transform inverts it up to 1/size.
  for (let k = 1; k < size / 2; k++) power[size - k] = power[k]!;
  fft.transform(power);
  for (let lag = 0; lag <= maxLag; lag++) out[lag] = fft.re[lag]! / size;
  return out;
}

/** That of one signal. */
export const autocorrelation = (signal: ArrayLike<number>, maxLag: number, out?: Float64Array): Float64Array =>
  summedAutocorrelation([signal], signal.length, maxLag, out);
