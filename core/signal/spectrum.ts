/**
 * Magnitude spectra of a running signal: a real FFT through a complex one of half the size over interleaved even
 * and odd samples, then the split into the spectrum of the real signal (Press et al., Numerical Recipes, 12.3).
 * The complex transform is Stockham's self-sorting one in radix 4, with one pass of radix 2 where the size asks
 * for it (Van Loan, Computational Frameworks for the Fast Fourier Transform, 1992, 1.7 and 2.4), four butterflies
 * to a vector.
 */
import { BLOCK, type Kernels } from './kernels/kernels.ts';

/** What the passes by fours of a complex transform of `size` need, in turn: cosines and −sines of p, 2p, 3p. */
export function twiddlesOf(size: number): number[] {
  const out: number[] = [];
  for (let left = size; left >= 4; left >>= 2)
    for (let m = 1; m <= 3; m++) {
      for (let p = 0; p < left >> 2; p++) out.push(Math.cos((2 * Math.PI * p * m) / left));
      for (let p = 0; p < left >> 2; p++) out.push(-Math.sin((2 * Math.PI * p * m) / left));
    }
  return out;
}

/**
 * Takes magnitudes of `size` samples at an address: of bins first … first + out.length − 1, both between 1 and size/2
 * − 1.
 */
export type MagnitudeSpectrum = (pointer: number, out: Float32Array, first: number) => void;

/**
 * Plans magnitude spectra under a window whose length is the size. `out` must have room for a multiple of 4.
 * @throws RangeError when the size is not a power of two of at least 128
 */
export function planMagnitudes(kernels: Kernels, window: ArrayLike<number>): MagnitudeSpectrum {
  const size = window.length,
    half = size >> 1;
  if (size < 128 || (size & (size - 1)) !== 0)
    throw new RangeError(`FFT size must be a power of two from 128 on, not ${size}`);
  const own = kernels.floats(size);
  own.set(window);
  const room = half + 8;
  const work = kernels.floats(4 * room);
  const tables = kernels.floats(2 * half + 8 + 2 * room);
  const twiddles = twiddlesOf(half),
    at = twiddles.length;
  tables.set(twiddles);
  for (let k = 0; k < half; k++) {
    tables[at + 4 + k] = Math.cos((2 * Math.PI * k) / size);
    tables[at + room + 4 + k] = -Math.sin((2 * Math.PI * k) / size);
  }
  const [ownAt, workAt, tablesAt] = [own.byteOffset, work.byteOffset, tables.byteOffset];
  return (pointer, out, first) =>
    kernels.magnitudes(pointer, ownAt, size, workAt, tablesAt, out.byteOffset, first, out.length);
}

/**
 * Cuts a stream into frames of `size` samples every `hop`, frame k centred on k·hop (half a frame of silence goes
 * before), and calls with the address of each.
 */
export function createFramer(
  kernels: Kernels,
  size: number,
  hop: number,
  take: (pointer: number) => void,
): (x: Float32Array, length: number) => void {
  const buffer = kernels.floats(size + Math.max(size, BLOCK));
  const start = buffer.byteOffset,
    room = buffer.length;
  let filled = size / 2;
  return (x, length) => {
    for (let from = 0; from < length;) {
      const count = Math.min(length - from, room - filled);
      buffer.set(x.subarray(from, from + count), filled);
      filled += count;
      from += count;
      let at = 0;
      for (; at + size <= filled; at += hop) take(start + at * 4);
      buffer.copyWithin(0, at, filled);
      filled -= at;
    }
  };
}
