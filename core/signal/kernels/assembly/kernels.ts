/**
 * The loops that see every sample, in AssemblyScript: compiled to WebAssembly with 128-bit vectors by
 * `npm run kernels`. All pointers are byte addresses in the instance's memory; samples are 32-bit floats
 * unless said otherwise. Nothing here allocates.
 */

const RUN: usize = 32;

// @ts-ignore: decorator
@inline
function f(base: usize, index: usize): f32 { return load<f32>(base + (index << 2)); }

// @ts-ignore: decorator
@inline
function d(base: usize, index: usize): f64 { return load<f64>(base + (index << 3)); }

/** NaN and absurd values of a broken float file count as silence. */
// @ts-ignore: decorator
@inline
function sane(v: v128): v128 { return v128.and(v, f32x4.lt(f32x4.abs(v), f32x4.splat(64))); }

// @ts-ignore: decorator
@inline
function saneOne(v: f32): f32 { return abs<f32>(v) < 64 ? v : 0; }

/** Tells n interleaved stereo frames apart, and mixes them. */
export function splitStereo(src: usize, n: usize, left: usize, right: usize, mono: usize): void {
  const whole = n & ~3;
  let i: usize = 0;
  const half = f32x4.splat(0.5);
  for (; i < whole; i += 4) {
    const a = sane(v128.load(src + (i << 3))), b = sane(v128.load(src + (i << 3), 16));
    const l = v128.shuffle<f32>(a, b, 0, 2, 4, 6), r = v128.shuffle<f32>(a, b, 1, 3, 5, 7);
    v128.store(left + (i << 2), l);
    v128.store(right + (i << 2), r);
    v128.store(mono + (i << 2), f32x4.mul(f32x4.add(l, r), half));
  }
  for (; i < n; i++) {
    const l = saneOne(f(src, i * 2)), r = saneOne(f(src, i * 2 + 1));
    store<f32>(left + (i << 2), l);
    store<f32>(right + (i << 2), r);
    store<f32>(mono + (i << 2), (l + r) * 0.5);
  }
}

/** The same for any number of channels; the planes lie `stride` bytes apart. */
export function splitMany(src: usize, n: usize, channels: usize, planes: usize, stride: usize, mono: usize): void {
  for (let i: usize = 0; i < n; i++) {
    let sum: f32 = 0;
    for (let c: usize = 0; c < channels; c++) {
      const v = saneOne(f(src, i * channels + c));
      store<f32>(planes + c * stride + (i << 2), v);
      sum += v;
    }
    store<f32>(mono + (i << 2), sum / <f32>channels);
  }
}

/** Largest magnitude of each run of RUN samples; returns how many runs there are. */
export function runPeaks(x: usize, n: usize, out: usize): usize {
  const whole = n & ~(RUN - 1);
  let r: usize = 0;
  for (let i: usize = 0; i < whole; i += RUN, r++) {
    const at = x + (i << 2);
    let top = f32x4.abs(v128.load(at));
    for (let k: usize = 16; k < RUN * 4; k += 16) top = f32x4.pmax(top, f32x4.abs(v128.load(at + k)));
    top = f32x4.pmax(top, v128.shuffle<f32>(top, top, 2, 3, 0, 1));
    store<f32>(out + (r << 2), max<f32>(f32x4.extract_lane(top, 0), f32x4.extract_lane(top, 1)));
  }
  if (whole < n) {
    let top: f32 = 0;
    for (let i = whole; i < n; i++) top = max<f32>(top, abs<f32>(f(x, i)));
    store<f32>(out + (r << 2), top);
    r++;
  }
  return r;
}

// @ts-ignore: decorator
@inline
function calm(v: v128): v128 { return v128.and(v, f64x2.gt(f64x2.abs(v), f64x2.splat(1e-20))); }

/**
 * Energies of two channels after K-weighting, added up over n samples.
 * @param coefficients b0 b1 b2 a1 a2 of the shelf, then a1 a2 of the high-pass (b = 1 −2 1), doubles
 * @param state 8 doubles, of both channels side by side
 * @param out two doubles
 */
export function kWeight(left: usize, right: usize, n: usize, coefficients: usize, state: usize, out: usize): void {
  const b0 = f64x2.splat(d(coefficients, 0)), b1 = f64x2.splat(d(coefficients, 1)), b2 = f64x2.splat(d(coefficients, 2));
  const a1 = f64x2.splat(d(coefficients, 3)), a2 = f64x2.splat(d(coefficients, 4));
  const c1 = f64x2.splat(d(coefficients, 5)), c2 = f64x2.splat(d(coefficients, 6));
  const two = f64x2.splat(2);
  let s1 = v128.load(state), s2 = v128.load(state, 16), h1 = v128.load(state, 32), h2 = v128.load(state, 48);
  let energy = f64x2.splat(0);
  for (let i: usize = 0; i < n; i++) {
    const x = f64x2.replace_lane(f64x2.splat(<f64>f(left, i)), 1, <f64>f(right, i));
    const y = f64x2.add(f64x2.mul(b0, x), s1);
    s1 = f64x2.add(f64x2.sub(f64x2.mul(b1, x), f64x2.mul(a1, y)), s2);
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
    const z = f64x2.add(y, h1);
    h1 = f64x2.sub(h2, f64x2.add(f64x2.mul(two, y), f64x2.mul(c1, z)));
    h2 = f64x2.sub(y, f64x2.mul(c2, z));
    energy = f64x2.add(energy, f64x2.mul(z, z));
  }
  // Denormals slow the loop down after a fade to digital silence.
  v128.store(state, calm(s1)); v128.store(state, calm(s2), 16);
  v128.store(state, calm(h1), 32); v128.store(state, calm(h2), 48);
  v128.store(out, energy);
}

/**
 * Halves the rate of 2n samples: odd samples go through the all-passes of one branch, even ones through those
 * of the other, side by side in one vector (even first).
 * @param coefficients `sections` pairs of doubles
 * @param state `sections` times the last input and the last output, pairs of doubles
 */
export function halve(x: usize, n: usize, out: usize, coefficients: usize, state: usize, sections: usize): void {
  const k0 = v128.load(coefficients), k1 = v128.load(coefficients, 16);
  const k2 = sections > 2 ? v128.load(coefficients, 32) : f64x2.splat(0);
  let x0 = v128.load(state), y0 = v128.load(state, 16), x1 = v128.load(state, 32), y1 = v128.load(state, 48);
  let x2 = v128.load(state, 64), y2 = v128.load(state, 80);
  for (let i: usize = 0; i < n; i++) {
    const v = f64x2.promote_low_f32x4(v128.load64_zero(x + (i << 3)));
    y0 = f64x2.add(f64x2.mul(f64x2.sub(v, y0), k0), x0);
    x0 = v;
    y1 = f64x2.add(f64x2.mul(f64x2.sub(y0, y1), k1), x1);
    x1 = y0;
    let last = y1;
    if (sections > 2) {
      y2 = f64x2.add(f64x2.mul(f64x2.sub(y1, y2), k2), x2);
      x2 = y1;
      last = y2;
    }
    store<f32>(out + (i << 2), <f32>(0.5 * (f64x2.extract_lane(last, 0) + f64x2.extract_lane(last, 1))));
  }
  v128.store(state, calm(x0)); v128.store(state, calm(y0), 16);
  v128.store(state, calm(x1), 32); v128.store(state, calm(y1), 48);
  v128.store(state, calm(x2), 64); v128.store(state, calm(y2), 80);
}

/**
 * Splits n samples in three bands and adds up their energies and peaks.
 * @param coefficients b0 b1 b2 a1 a2 as pairs of doubles: low-pass and upper high-pass, then lower high-pass and upper low-pass
 * @param state 10 doubles; the last pair is what left the lower high-pass
 * @param sums energies of low, high, mid and a spare, then squared peaks of the same, doubles
 */
export function bandSplit(x: usize, n: usize, coefficients: usize, state: usize, sums: usize): void {
  const b0 = v128.load(coefficients), b1 = v128.load(coefficients, 16), b2 = v128.load(coefficients, 32), a1 = v128.load(coefficients, 48), a2 = v128.load(coefficients, 64);
  const m0 = v128.load(coefficients, 80), m1 = v128.load(coefficients, 96), m2 = v128.load(coefficients, 112), n1 = v128.load(coefficients, 128), n2 = v128.load(coefficients, 144);
  let s1 = v128.load(state), s2 = v128.load(state, 16), t1 = v128.load(state, 32), t2 = v128.load(state, 48), above = v128.load(state, 64);
  let energy = v128.load(sums), energyMid = v128.load(sums, 16), peak = v128.load(sums, 32), peakMid = v128.load(sums, 48);
  for (let i: usize = 0; i < n; i++) {
    const v = f64x2.splat(<f64>f(x, i) + 1e-12);
    const y = f64x2.add(f64x2.mul(b0, v), s1);
    s1 = f64x2.add(f64x2.sub(f64x2.mul(b1, v), f64x2.mul(a1, y)), s2);
    s2 = f64x2.sub(f64x2.mul(b2, v), f64x2.mul(a2, y));
    // Both filters of the middle band side by side: the second takes what left the first a sample before.
    const w = v128.shuffle<f64>(v, above, 0, 2);
    const z = f64x2.add(f64x2.mul(m0, w), t1);
    t1 = f64x2.add(f64x2.sub(f64x2.mul(m1, w), f64x2.mul(n1, z)), t2);
    t2 = f64x2.sub(f64x2.mul(m2, w), f64x2.mul(n2, z));
    above = z;
    const y2 = f64x2.mul(y, y), z2 = f64x2.mul(z, z);
    energy = f64x2.add(energy, y2);
    energyMid = f64x2.add(energyMid, z2);
    peak = f64x2.pmax(peak, y2);
    peakMid = f64x2.pmax(peakMid, z2);
  }
  v128.store(state, calm(s1)); v128.store(state, calm(s2), 16); v128.store(state, calm(t1), 32); v128.store(state, calm(t2), 48); v128.store(state, calm(above), 64);
  v128.store(sums, energy); v128.store(sums, energyMid, 16); v128.store(sums, peak, 32); v128.store(sums, peakMid, 48);
}

const OVERSHOOT: f32 = 1.6;
const PARABOLA_MARGIN: f32 = 1.3;
const TAPS: usize = 16;

/** The largest magnitude between x[i] and x[i + 1], by `phases` interpolators of TAPS taps. */
function between(x: usize, i: usize, filters: usize, phases: usize): f32 {
  let top: f32 = 0;
  const at = x + ((i - 7) << 2);
  for (let p: usize = 0; p < phases; p++) {
    const w = filters + p * TAPS * 4;
    let sum = f32x4.mul(v128.load(at), v128.load(w));
    sum = f32x4.add(sum, f32x4.mul(v128.load(at, 16), v128.load(w, 16)));
    sum = f32x4.add(sum, f32x4.mul(v128.load(at, 32), v128.load(w, 32)));
    sum = f32x4.add(sum, f32x4.mul(v128.load(at, 48), v128.load(w, 48)));
    sum = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
    top = max<f32>(top, abs<f32>(f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1)));
  }
  return top;
}

/** Raises the two peaks (true, sample) by what stands at and around the local maxima of x[from … to). */
export function searchPeaks(x: usize, from: usize, to: usize, filters: usize, phases: usize, peaks: usize): void {
  let truePeak = f(peaks, 0), samplePeak = f(peaks, 1);
  let gate = min<f32>(truePeak / OVERSHOOT, samplePeak);
  for (let i = from; i < to; i++) {
    const value = f(x, i);
    const height = abs<f32>(value);
    if (height <= gate) continue;
    let left = f(x, i - 1), right = f(x, i + 1);
    if (value < 0) { left = -left; right = -right; }
    if (height < left || height < right) continue;
    samplePeak = max<f32>(samplePeak, height);
    truePeak = max<f32>(truePeak, height);
    const bend = height + height - left - right;
    const top = bend > 0 ? height + ((right - left) * (right - left)) / (<f32>8 * bend) : height;
    if (top * PARABOLA_MARGIN > truePeak) truePeak = max<f32>(truePeak, max<f32>(between(x, i - 1, filters, phases), between(x, i, filters, phases)));
    gate = min<f32>(truePeak / OVERSHOOT, samplePeak);
  }
  store<f32>(peaks, truePeak);
  store<f32>(peaks, samplePeak, 4);
}

/** Searches the runs of n samples from x[first] on whose peak could matter; x[first + n + ahead) are known already. */
export function searchRuns(x: usize, first: usize, n: usize, ahead: usize, runs: usize, filters: usize, phases: usize, peaks: usize): void {
  for (let run: usize = 0, from: usize = 0; from < n; run++, from += RUN) {
    if (f(runs, run) > min<f32>(f(peaks, 0) / OVERSHOOT, f(peaks, 1))) searchPeaks(x, first + from, min<usize>(first + from + RUN, n + ahead), filters, phases, peaks);
  }
}

// ---- Spectra: see spectrum.ts for the tables and for the literature.

// @ts-ignore: decorator
@inline
function butterfly(xr: usize, xi: usize, apart: usize, w: usize, step: usize, yr: usize, yi: usize, stride: usize, transpose: bool): void {
  const ar = v128.load(xr), ai = v128.load(xi), br = v128.load(xr + apart), bi = v128.load(xi + apart);
  const cr = v128.load(xr + 2 * apart), ci = v128.load(xi + 2 * apart), er = v128.load(xr + 3 * apart), ei = v128.load(xi + 3 * apart);
  let w1r: v128, w1i: v128, w2r: v128, w2i: v128, w3r: v128, w3i: v128;
  if (transpose) {
    w1r = v128.load(w); w1i = v128.load(w + step); w2r = v128.load(w + 2 * step); w2i = v128.load(w + 3 * step); w3r = v128.load(w + 4 * step); w3i = v128.load(w + 5 * step);
  } else {
    w1r = v128.load32_splat(w); w1i = v128.load32_splat(w + step); w2r = v128.load32_splat(w + 2 * step); w2i = v128.load32_splat(w + 3 * step); w3r = v128.load32_splat(w + 4 * step); w3i = v128.load32_splat(w + 5 * step);
  }
  const sumR = f32x4.add(ar, cr), sumI = f32x4.add(ai, ci), difR = f32x4.sub(ar, cr), difI = f32x4.sub(ai, ci);
  const oddR = f32x4.add(br, er), oddI = f32x4.add(bi, ei), turnR = f32x4.sub(ei, bi), turnI = f32x4.sub(br, er);
  const r1 = f32x4.sub(difR, turnR), i1 = f32x4.sub(difI, turnI), r2 = f32x4.sub(sumR, oddR), i2 = f32x4.sub(sumI, oddI), r3 = f32x4.add(difR, turnR), i3 = f32x4.add(difI, turnI);
  const o0r = f32x4.add(sumR, oddR), o0i = f32x4.add(sumI, oddI);
  const o1r = f32x4.sub(f32x4.mul(r1, w1r), f32x4.mul(i1, w1i)), o1i = f32x4.add(f32x4.mul(r1, w1i), f32x4.mul(i1, w1r));
  const o2r = f32x4.sub(f32x4.mul(r2, w2r), f32x4.mul(i2, w2i)), o2i = f32x4.add(f32x4.mul(r2, w2i), f32x4.mul(i2, w2r));
  const o3r = f32x4.sub(f32x4.mul(r3, w3r), f32x4.mul(i3, w3i)), o3i = f32x4.add(f32x4.mul(r3, w3i), f32x4.mul(i3, w3r));
  if (transpose) {
    storeTransposed(yr, o0r, o1r, o2r, o3r);
    storeTransposed(yi, o0i, o1i, o2i, o3i);
  } else {
    v128.store(yr, o0r); v128.store(yr + stride, o1r); v128.store(yr + 2 * stride, o2r); v128.store(yr + 3 * stride, o3r);
    v128.store(yi, o0i); v128.store(yi + stride, o1i); v128.store(yi + 2 * stride, o2i); v128.store(yi + 3 * stride, o3i);
  }
}

// @ts-ignore: decorator
@inline
function storeTransposed(at: usize, a: v128, b: v128, c: v128, e: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), ce = v128.shuffle<f32>(c, e, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7), ceHigh = v128.shuffle<f32>(c, e, 2, 6, 3, 7);
  v128.store(at, v128.shuffle<f64>(ab, ce, 0, 2));
  v128.store(at, v128.shuffle<f64>(ab, ce, 1, 3), 16);
  v128.store(at, v128.shuffle<f64>(abHigh, ceHigh, 0, 2), 32);
  v128.store(at, v128.shuffle<f64>(abHigh, ceHigh, 1, 3), 48);
}

/**
 * Magnitudes of bins first … first + count − 1 of `size` windowed samples (a power of two, at least 128).
 * @param work four arrays of size/2 floats with 16 bytes to spare on either side: two complex buffers
 * @param tables twiddles of the passes (six arrays each), then cos and sin of the split, size/2 floats each with 16 bytes to spare
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
    } else {
      const wide = stride << 2;
      for (let p: usize = 0; p < quarter; p++) {
        const base = p * wide;
        for (let q: usize = 0; q < wide; q += 16) butterfly(fromR + base + q, fromI + base + q, apart, w + (p << 2), step, toR + (base << 2) + q, toI + (base << 2) + q, wide, false);
      }
    }
    w += step * 6;
    stride <<= 2;
    const r = fromR, i = fromI;
    fromR = toR; fromI = toI;
    toR = r; toI = i;
  }
  if (left == 2) {
    const apart = half << 1;
    for (let q: usize = 0; q < apart; q += 16) {
      const ar = v128.load(fromR + q), ai = v128.load(fromI + q), br = v128.load(fromR + q + apart), bi = v128.load(fromI + q + apart);
      v128.store(toR + q, f32x4.add(ar, br)); v128.store(toI + q, f32x4.add(ai, bi));
      v128.store(toR + q + apart, f32x4.sub(ar, br)); v128.store(toI + q + apart, f32x4.sub(ai, bi));
    }
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

/** log10 of values of at least 1, to six digits: exponent and the series of the inverse hyperbolic tangent. */
// @ts-ignore: decorator
@inline
function log10(v: v128): v128 {
  const exponent = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(v, 23), i32x4.splat(127)));
  const m = v128.or(v128.and(v, i32x4.splat(0x007fffff)), i32x4.splat(0x3f800000));
  const one = f32x4.splat(1);
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one)), t2 = f32x4.mul(t, t);
  let s = f32x4.add(f32x4.splat(1.0 / 9.0), f32x4.mul(t2, f32x4.splat(1.0 / 11.0)));
  s = f32x4.add(f32x4.splat(1.0 / 7.0), f32x4.mul(t2, s));
  s = f32x4.add(f32x4.splat(1.0 / 5.0), f32x4.mul(t2, s));
  s = f32x4.add(f32x4.splat(1.0 / 3.0), f32x4.mul(t2, s));
  s = f32x4.mul(t, f32x4.add(one, f32x4.mul(t2, s)));
  return f32x4.add(f32x4.mul(exponent, f32x4.splat(0.30102999566)), f32x4.mul(s, f32x4.splat(0.86858896381)));
}

/** Adds up, per band, how far each filter has risen over the highest of its three neighbours before. Arrays begin one filter early. */
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

/**
 * Counts flat tops: three or more samples in a row that differ by less than a ten-thousandth and are reached and left
 * by a step (so that the round top of a low note does not count), in runs that reach at least 0.9 of the highest run
 * so far. Looks at x[2 … n − 1).
 * @param state two floats: the highest run, the length of the longest flat top
 */
export function flatTops(x: usize, n: usize, runs: usize, state: usize): u32 {
  let high = f(state, 0), longest = f(state, 1);
  let tops: u32 = 0;
  const step: f32 = 0.003;
  for (let run: usize = 0, from: usize = 0; from < n; run++, from += RUN) {
    const peak = f(runs, run);
    if (peak > high) high = peak;
    if (peak < <f32>0.9 * high || peak < <f32>0.1) continue;
    const limit = <f32>0.97 * peak, end = min<usize>(n - 1, from + RUN);
    for (let i = max<usize>(from, 2); i < end; i++) {
      const first = f(x, i);
      if (abs<f32>(first) <= limit || abs<f32>(first - f(x, i - 1)) < step) continue;
      let last = i;
      while (last + 1 < n && abs<f32>(f(x, last + 1) - first) < <f32>1e-4) last++;
      const length = last - i + 1;
      if (length >= 3 && last + 1 < n && abs<f32>(f(x, last + 1) - first) >= step && abs<f32>(f(x, last + 1)) < abs<f32>(first)) {
        tops++;
        longest = max<f32>(longest, <f32>length);
      }
      i = last;
    }
  }
  store<f32>(state, high);
  store<f32>(state, longest, 4);
  return tops;
}

/** Adds sums of l, r, l², r² and l·r to five doubles. */
export function stereoSums(left: usize, right: usize, n: usize, out: usize): void {
  let l = f32x4.splat(0), r = l, ll = l, rr = l, lr = l;
  const whole = n & ~3;
  for (let i: usize = 0; i < whole; i += 4) {
    const a = v128.load(left + (i << 2)), b = v128.load(right + (i << 2));
    l = f32x4.add(l, a); r = f32x4.add(r, b);
    ll = f32x4.add(ll, f32x4.mul(a, a)); rr = f32x4.add(rr, f32x4.mul(b, b)); lr = f32x4.add(lr, f32x4.mul(a, b));
  }
  let sl = across(l), sr = across(r), sll = across(ll), srr = across(rr), slr = across(lr);
  for (let i = whole; i < n; i++) {
    const a = <f64>f(left, i), b = <f64>f(right, i);
    sl += a; sr += b; sll += a * a; srr += b * b; slr += a * b;
  }
  store<f64>(out, d(out, 0) + sl); store<f64>(out, d(out, 1) + sr, 8); store<f64>(out, d(out, 2) + sll, 16);
  store<f64>(out, d(out, 3) + srr, 24); store<f64>(out, d(out, 4) + slr, 32);
}

// @ts-ignore: decorator
@inline
function across(v: v128): f64 {
  return <f64>f32x4.extract_lane(v, 0) + <f64>f32x4.extract_lane(v, 1) + <f64>f32x4.extract_lane(v, 2) + <f64>f32x4.extract_lane(v, 3);
}
