/** Kernels over samples: telling channels apart, K-weighting, halving the rate, bands, peaks. See kernels.ts. */
import { d, f } from './memory';

const RUN: usize = 32;

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
  let s1 = v128.load(state), s2 = v128.load(state, 16), h1 = v128.load(state, 32), h2 = v128.load(state, 48);
  let energy = f64x2.splat(0);
  for (let i: usize = 0; i < n; i += 2) {
    let pair = v128.shuffle<f32>(v128.load64_zero(left + (i << 2)), v128.load64_zero(right + (i << 2)), 0, 4, 1, 5);
    for (let k = i, end = min<usize>(n, i + 2); k < end; k++) {
      const x = f64x2.promote_low_f32x4(pair);
      pair = v128.shuffle<f64>(pair, pair, 1, 0);
      // What does not hang on the output of the same moment is added up first: the loop is as long as its longest
      // chain.
      const y = f64x2.add(f64x2.mul(b0, x), s1);
      s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y));
      s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y));
      const z = f64x2.add(y, h1);
      h1 = f64x2.sub(f64x2.sub(h2, f64x2.add(y, y)), f64x2.mul(c1, z));
      h2 = f64x2.sub(y, f64x2.mul(c2, z));
      energy = f64x2.add(energy, f64x2.mul(z, z));
    }
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
    y0 = f64x2.sub(f64x2.add(f64x2.mul(v, k0), x0), f64x2.mul(y0, k0));
    x0 = v;
    y1 = f64x2.sub(f64x2.add(f64x2.mul(y0, k1), x1), f64x2.mul(y1, k1));
    x1 = y0;
    let last = y1;
    if (sections > 2) {
      y2 = f64x2.sub(f64x2.add(f64x2.mul(y1, k2), x2), f64x2.mul(y2, k2));
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
 * @param coefficients b0 b1 b2 a1 a2 as pairs of doubles: low-pass and upper high-pass, then lower high-pass and upper
 * low-pass
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
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, v), s2), f64x2.mul(a1, y));
    s2 = f64x2.sub(f64x2.mul(b2, v), f64x2.mul(a2, y));
    // Both filters of the middle band side by side: the second takes what left the first a sample before.
    const w = v128.shuffle<f64>(v, above, 0, 2);
    const z = f64x2.add(f64x2.mul(m0, w), t1);
    t1 = f64x2.sub(f64x2.add(f64x2.mul(m1, w), t2), f64x2.mul(n1, z));
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
