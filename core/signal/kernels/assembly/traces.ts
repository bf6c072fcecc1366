/**
 * Kernels that look at the lines of encoders' blocks, four at once: lane i of each vector belongs to the block that
 * begins i samples later. See ../../../analysis/sound/traces for the tables and for the literature.
 */
import { log10, passByFours, passByTwo } from './vectors';

/** Lines of the lapped transform, and those that are looked at. */
const LAPPED: usize = 1024, FIRST_LINE: usize = 96, LAPPED_WIDTH: usize = 216;
/** Layer III: bands that are looked at, samples of each in a block, lines of each, room for those filtered. */
const BANDS: usize = 20, FIRST_BAND: usize = 3, SLOTS: usize = 36, LINES: usize = 18, ROOM: usize = 54, TAPS: usize = 512;

/** In three groups of `width` lines (even), the mean binary logarithms of their powers in steps of 16 bits. */
// @ts-ignore: decorator
@inline
function levels(lines: usize, width: usize, out: usize): void {
  const scale = f32x4.splat(32768), nothing = f32x4.splat(1e-3);
  for (let g: usize = 0; g < 3; g++) {
    let sum = f32x4.splat(0);
    for (const end = lines + (width << 4); lines < end; lines += 32) {
      const a = f32x4.mul(v128.load(lines), scale), b = f32x4.mul(v128.load(lines, 16), scale);
      sum = f32x4.add(sum, log10(f32x4.mul(f32x4.add(f32x4.mul(a, a), nothing), f32x4.add(f32x4.mul(b, b), nothing))));
    }
    const mean = f32x4.mul(sum, f32x4.splat(3.32192809489 / <f32>width)), at = out + (g << 2);
    store<f32>(at, f32x4.extract_lane(mean, 0));
    store<f32>(at, f32x4.extract_lane(mean, 1), 12);
    store<f32>(at, f32x4.extract_lane(mean, 2), 24);
    store<f32>(at, f32x4.extract_lane(mean, 3), 36);
  }
}

/**
 * Levels of the lapped transform of 2,048 samples from each of the first `count` of x (a multiple of 4): three floats
 * each.
 * @param tables window (2,048), cosines and sines of the turns (512 each), twiddles of a transform of 512
 * @param work 12,288 floats
 */
export function lappedSweep(x: usize, count: usize, tables: usize, work: usize, out: usize): void {
  const half = LAPPED >> 1, window = tables, turnRe = tables + (LAPPED << 3), turnIm = turnRe + (half << 2);
  const size = half << 4, folded = work;
  for (let at: usize = 0; at < count; at += 4) {
    const from = x + (at << 2);
    for (let i: usize = 0; i < half; i++) {
      const a = (3 * half - 1 - i) << 2, b = (3 * half + i) << 2, c = i << 2, e = (LAPPED - 1 - i) << 2;
      const low = f32x4.add(f32x4.mul(v128.load(from + a), v128.load32_splat(window + a)), f32x4.mul(v128.load(from + b), v128.load32_splat(window + b)));
      v128.store(folded + (i << 4), f32x4.neg(low));
      v128.store(folded + ((half + i) << 4), f32x4.sub(f32x4.mul(v128.load(from + c), v128.load32_splat(window + c)), f32x4.mul(v128.load(from + e), v128.load32_splat(window + e))));
    }
    let fromR = work + (LAPPED << 4), fromI = fromR + size, toR = fromI + size, toI = toR + size;
    for (let i: usize = 0; i < half; i++) {
      const a = v128.load(folded + (i << 5)), b = v128.load(folded + ((LAPPED - 1 - 2 * i) << 4));
      const c = v128.load32_splat(turnRe + (i << 2)), s = v128.load32_splat(turnIm + (i << 2));
      v128.store(fromR + (i << 4), f32x4.sub(f32x4.mul(a, c), f32x4.mul(b, s)));
      v128.store(fromI + (i << 4), f32x4.add(f32x4.mul(a, s), f32x4.mul(b, c)));
    }
    let wide: usize = 16, w = turnIm + (half << 2);
    for (let left = half; left >= 4; left >>= 2) {
      passByFours(fromR, fromI, toR, toI, left, wide, w);
      w += (left >> 2) * 24;
      wide <<= 2;
      const r = fromR, i = fromI;
      fromR = toR; fromI = toI;
      toR = r; toI = i;
    }
    passByTwo(fromR, fromI, toR, toI, size >> 1);
    for (let k: usize = 0; k < half; k++) {
      const re = v128.load(toR + (k << 4)), im = v128.load(toI + (k << 4));
      const c = v128.load32_splat(turnRe + (k << 2)), s = v128.load32_splat(turnIm + (k << 2));
      v128.store(folded + (k << 5), f32x4.sub(f32x4.mul(re, c), f32x4.mul(im, s)));
      v128.store(folded + ((LAPPED - 1 - 2 * k) << 4), f32x4.neg(f32x4.add(f32x4.mul(re, s), f32x4.mul(im, c))));
    }
    levels(folded + (FIRST_LINE << 4), LAPPED_WIDTH, out + at * 12);
  }
}

/** One sample of each band, the oldest of its 512 samples at x. */
// @ts-ignore: decorator
@inline
function slot(x: usize, window: usize, cosines: usize, sums: usize, slots: usize, into: usize): void {
  const newest = x + ((TAPS - 1) << 2), folded = sums + (64 << 4);
  for (let i: usize = 0; i < 64; i++) {
    let sum = f32x4.splat(0);
    for (let n = i; n < TAPS; n += 64) sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(window + (n << 2)), v128.load(newest - (n << 2))));
    v128.store(sums + (i << 4), sum);
  }
  v128.store(folded, v128.load(sums + (16 << 4)));
  for (let e: usize = 1; e <= 16; e++) v128.store(folded + (e << 4), f32x4.add(v128.load(sums + ((16 + e) << 4)), v128.load(sums + ((16 - e) << 4))));
  for (let e: usize = 1; e < 16; e++) v128.store(folded + ((16 + e) << 4), f32x4.sub(v128.load(sums + ((48 + e) << 4)), v128.load(sums + ((48 - e) << 4))));
  for (let b: usize = 0; b < BANDS; b++) {
    let sum = f32x4.splat(0), other = f32x4.splat(0);
    for (let i: usize = 0; i < 32; i += 2, cosines += 8) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(folded + (i << 4)), v128.load32_splat(cosines)));
      other = f32x4.add(other, f32x4.mul(v128.load(folded + (i << 4), 16), v128.load32_splat(cosines, 4)));
    }
    sum = f32x4.add(sum, other);
    // Odd bands lie upside down: every second sample of theirs is negated.
    v128.store(slots + ((b * ROOM + into) << 4), ((b + FIRST_BAND) & into & 1) == 1 ? f32x4.neg(sum) : sum);
  }
}

/** Lines of the block whose first sample of each band is `first` of those filtered. */
// @ts-ignore: decorator
@inline
function block(slots: usize, first: usize, sines: usize, short: usize, lines: usize): void {
  const half = LINES >> 1, lapped = sines + (SLOTS << 2), straight = lapped + ((LINES * LINES) << 2), crossed = straight + 32;
  for (let b: usize = 0; b < BANDS; b++) {
    const at = slots + ((b * ROOM + first) << 4);
    for (let i: usize = 0; i < half; i++) {
      const a = 3 * half - 1 - i, c = 3 * half + i, e = LINES - 1 - i;
      const low = f32x4.add(f32x4.mul(v128.load(at + (a << 4)), v128.load32_splat(sines + (a << 2))), f32x4.mul(v128.load(at + (c << 4)), v128.load32_splat(sines + (c << 2))));
      v128.store(short + (i << 4), f32x4.neg(low));
      v128.store(short + ((half + i) << 4), f32x4.sub(f32x4.mul(v128.load(at + (i << 4)), v128.load32_splat(sines + (i << 2))), f32x4.mul(v128.load(at + (e << 4)), v128.load32_splat(sines + (e << 2)))));
    }
    let c = lapped;
    for (let m: usize = 0; m < LINES; m++) {
      let sum = f32x4.splat(0), other = f32x4.splat(0);
      for (let i: usize = 0; i < LINES; i += 2, c += 8) {
        sum = f32x4.add(sum, f32x4.mul(v128.load(short + (i << 4)), v128.load32_splat(c)));
        other = f32x4.add(other, f32x4.mul(v128.load(short + (i << 4), 16), v128.load32_splat(c, 4)));
      }
      v128.store(lines + ((b * LINES + m) << 4), f32x4.add(sum, other));
    }
  }
  // Negating by place in the stream instead of in the block turns the sign of odd bands in every second block.
  const turn = f32x4.splat((first & 1) == 1 ? -1 : 1);
  for (let b: usize = 0; b < BANDS - 1; b++) {
    for (let i: usize = 0; i < 8; i++) {
      const up = lines + ((b * LINES + 17 - i) << 4), down = lines + (((b + 1) * LINES + i) << 4);
      const u = v128.load(up), e = v128.load(down), c = v128.load32_splat(straight + (i << 2)), cross = f32x4.mul(v128.load32_splat(crossed + (i << 2)), turn);
      v128.store(up, f32x4.add(f32x4.mul(u, c), f32x4.mul(e, cross)));
      v128.store(down, f32x4.sub(f32x4.mul(e, c), f32x4.mul(u, cross)));
    }
  }
}

/**
 * Levels of the blocks of layer III that begin at each of the first 576 + `more` samples of x (a multiple of 4, at most
 * 32): three floats each.
 * @param tables window (512), cosines (20 times 32), sines (36), the lapped transform of 18 (18 times 18), its
 * butterflies (8 and 8)
 * @param work 6,400 floats
 */
export function layerSweep(x: usize, more: usize, tables: usize, work: usize, out: usize): void {
  const cosines = tables + (TAPS << 2), sines = cosines + ((BANDS * 32) << 2);
  const sums = work, slots = sums + (96 << 4), short = slots + ((BANDS * ROOM) << 4), lines = short + (LINES << 4);
  for (let phase: usize = 0; phase < 32; phase += 4) {
    const count: usize = LINES + (phase < more ? 1 : 0);
    for (let s: usize = 0; s < count + SLOTS - 1; s++) slot(x + ((phase + (s << 5)) << 2), tables, cosines, sums, slots, s);
    for (let first: usize = 0; first < count; first++) {
      block(slots, first, sines, short, lines);
      levels(lines, (BANDS * LINES) / 3, out + ((first << 5) + phase) * 12);
    }
  }
}
