/**
 * Kernels over spectra: transform, filters, onsets, medians. See ../../spectrum.ts for the tables and for the
 * literature.
 */
import { f } from './memory';
import { butterfly, log10, passByFours, passByTwo } from './vectors';

/**
 * Magnitudes of bins first … first + count − 1 of `size` windowed samples (a power of two, at least 128).
 * @param work four arrays of size/2 floats with 16 bytes to spare on either side: two complex buffers
 * @param tables twiddles of the passes (six arrays each), then cos and sin of the split, size/2 floats each with 16
 * bytes to spare
 */
export function magnitudes(x: usize, window: usize, size: usize, work: usize, tables: usize, out: usize, first: usize, count: usize): void {
  const half = size >> 1;
  const room = (half << 2) + 32;
  let fromR = work + 16, fromI = fromR + room, toR = fromI + room, toI = toR + room;
  for (let i: usize = 0; i < half; i += 4) {
    const at = i << 3;
    const a = f32x4.mul(v128.load(x + at), v128.load(window + at)), b = f32x4.mul(v128.load(x + at, 16), v128.load(window + at, 16));
    v128.store(fromR + (i << 2), v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(fromI + (i << 2), v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
  let stride: usize = 1, left = half, w = tables;
  for (; left >= 4; left >>= 2) {
    const quarter = left >> 2, step = quarter << 2, apart = half; // bytes: half / 4 floats
    if (stride == 1) {
      for (let p: usize = 0; p < quarter; p += 4) butterfly(fromR + (p << 2), fromI + (p << 2), apart, w + (p << 2), step, toR + (p << 4), toI + (p << 4), 0, true);
    } else passByFours(fromR, fromI, toR, toI, left, stride << 2, w);
    w += step * 6;
    stride <<= 2;
    const r = fromR, i = fromI;
    fromR = toR; fromI = toI;
    toR = r; toI = i;
  }
  if (left == 2) {
    passByTwo(fromR, fromI, toR, toI, half << 1);
    fromR = toR; fromI = toI;
  }
  const cosines = w + 16, sines = cosines + room;
  const mid = f32x4.splat(0.5);
  for (let i: usize = 0; i < count; i += 4) {
    const k = (first + i) << 2, j = ((half - first - i) << 2) - 12;
    const kr = v128.load(fromR + k), ki = v128.load(fromI + k);
    const jr0 = v128.load(fromR + j), ji0 = v128.load(fromI + j);
    const jr = v128.shuffle<f32>(jr0, jr0, 3, 2, 1, 0), ji = v128.shuffle<f32>(ji0, ji0, 3, 2, 1, 0);
    const evenR = f32x4.add(kr, jr), evenI = f32x4.sub(ki, ji), oddR = f32x4.add(ki, ji), oddI = f32x4.sub(jr, kr);
    const c = v128.load(cosines + k), s = v128.load(sines + k);
    const re = f32x4.mul(mid, f32x4.add(evenR, f32x4.sub(f32x4.mul(oddR, c), f32x4.mul(oddI, s))));
    const im = f32x4.mul(mid, f32x4.add(evenI, f32x4.add(f32x4.mul(oddR, s), f32x4.mul(oddI, c))));
    v128.store(out + (i << 2), f32x4.sqrt(f32x4.add(f32x4.mul(re, re), f32x4.mul(im, im))));
  }
}

/**
 * Weighted sums behind the filters of a bank, as log10(1 + sum), and the centre of the sums in filters.
 * @param magnitudes floats, from bin 1 on
 * @param bank per filter: first bin − 1 and how many weights (a multiple of 4), 32-bit integers
 * @param out one float a filter, padded to a multiple of 4
 * @returns the centre, or −1 for silence
 */
export function filterBank(magnitudes: usize, bank: usize, weights: usize, filters: usize, out: usize): f32 {
  let total: f32 = 0, weighted: f32 = 0;
  for (let i: usize = 0; i < filters; i++) {
    let at = magnitudes + (load<u32>(bank + (i << 3)) << 2);
    let sum = f32x4.splat(0);
    for (const end = at + (load<u32>(bank + (i << 3), 4) << 2); at < end; at += 16, weights += 16) sum = f32x4.add(sum, f32x4.mul(v128.load(at), v128.load(weights)));
    sum = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
    const value = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
    store<f32>(out + (i << 2), value);
    total += value;
    weighted += value * <f32>i;
  }
  for (let i: usize = 0; i < filters; i += 4) v128.store(out + (i << 2), log10(f32x4.add(v128.load(out + (i << 2)), f32x4.splat(1))));
  return total > 1e-3 ? weighted / total : -1;
}

/** log10 of x[i] + floor, for n values (a multiple of 4) and a floor above 0. */
export function logarithms(x: usize, n: usize, floor: f32, out: usize): void {
  for (let i: usize = 0; i < n << 2; i += 16) v128.store(out + i, log10(f32x4.add(v128.load(x + i), f32x4.splat(floor))));
}

/**
 * Adds up, per band, how far each filter has risen over the highest of its three neighbours before. Arrays begin one
 * filter early.
 */
export function riseSince(before: usize, now: usize, bandEnds: usize, bands: usize, flux: usize): void {
  let i: usize = 0;
  for (let b: usize = 0; b < bands; b++) {
    let sum: f32 = 0;
    for (const end = <usize>load<u32>(bandEnds + (b << 2)); i < end; i++) {
      const past = max<f32>(max<f32>(f(before, i), f(before, i + 1)), f(before, i + 2));
      sum += max<f32>(0, f(now, i + 1) - past);
    }
    store<f32>(flux + (b << 2), sum);
  }
}

/** The median over five rows, column by column; n is padded to a multiple of 4. */
export function medianOf5(r0: usize, r1: usize, r2: usize, r3: usize, r4: usize, out: usize, n: usize): void {
  for (let k: usize = 0; k < n << 2; k += 16) {
    const a = v128.load(r0 + k), b = v128.load(r1 + k), c = v128.load(r2 + k), g = v128.load(r3 + k), e = v128.load(r4 + k);
    const low = f32x4.pmax(f32x4.pmin(a, b), f32x4.pmin(c, g)), high = f32x4.pmin(f32x4.pmax(a, b), f32x4.pmax(c, g));
    // The median of five is the median of e and the two that are left in the middle of the four others.
    v128.store(out + k, f32x4.pmax(f32x4.pmin(low, high), f32x4.pmin(e, f32x4.pmax(low, high))));
  }
}
