/** What kernels over spectra have in common. */

/** Four butterflies of a transform by fours; see `magnitudes`. */
// @ts-ignore: decorator
@inline
export function butterfly(xr: usize, xi: usize, apart: usize, w: usize, step: usize, yr: usize, yi: usize, stride: usize, transpose: bool): void {
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

/** One pass by fours over values that lie `wide` bytes apart, each of a vector or more. */
// @ts-ignore: decorator
@inline
export function passByFours(fromR: usize, fromI: usize, toR: usize, toI: usize, left: usize, wide: usize, w: usize): void {
  const quarter = left >> 2, step = quarter << 2, apart = quarter * wide;
  for (let p: usize = 0; p < quarter; p++) {
    const base = p * wide;
    for (let q: usize = 0; q < wide; q += 16) butterfly(fromR + base + q, fromI + base + q, apart, w + (p << 2), step, toR + (base << 2) + q, toI + (base << 2) + q, wide, false);
  }
}

/** The last pass, of two values each, which lie `apart` bytes apart. */
// @ts-ignore: decorator
@inline
export function passByTwo(fromR: usize, fromI: usize, toR: usize, toI: usize, apart: usize): void {
  for (let q: usize = 0; q < apart; q += 16) {
    const ar = v128.load(fromR + q), ai = v128.load(fromI + q), br = v128.load(fromR + q + apart), bi = v128.load(fromI + q + apart);
    v128.store(toR + q, f32x4.add(ar, br)); v128.store(toI + q, f32x4.add(ai, bi));
    v128.store(toR + q + apart, f32x4.sub(ar, br)); v128.store(toI + q + apart, f32x4.sub(ai, bi));
  }
}

/** log10 of positive values, to six digits: exponent and the series of the inverse hyperbolic tangent. */
// @ts-ignore: decorator
@inline
export function log10(v: v128): v128 {
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
