/** A beat period sharpened far beyond the frame rate, by Fourier sums of the novelty over the whole track. */

/** Harmonics of the beat at which a period is sharpened, with their weights. */
const HARMONICS = [
  [1, 1],
  [2, 0.7],
  [4, 0.4],
] as const;
/** Frames of which the Fourier sums are developed together. */
const ZOOM = 16;

/**
 * The magnitude of the Fourier sum of a series at angles a frame near a given one. Each block of ZOOM frames is
 * developed about its middle to the second order in the difference of the angles: within 2 % of an angle of half a
 * radian the error lies under a ten-thousandth, at a sixteenth of the work.
 */
export function zoomedSpectrum(series: Float32Array, angle: number): (near: number) => number {
  const blocks = Math.ceil(series.length / ZOOM);
  const moments = new Float64Array(blocks * 6);
  const cos = Float64Array.from({ length: ZOOM }, (_, k) => Math.cos(angle * (k - ZOOM / 2))),
    sin = Float64Array.from({ length: ZOOM }, (_, k) => Math.sin(angle * (k - ZOOM / 2)));
  for (let b = 0; b < blocks; b++) {
    let r0 = 0,
      i0 = 0,
      r1 = 0,
      i1 = 0,
      r2 = 0,
      i2 = 0;
    for (let k = 0, at = b * ZOOM, end = Math.min(ZOOM, series.length - at); k < end; k++) {
      const off = k - ZOOM / 2,
        r = series[at + k]! * cos[k]!,
        i = series[at + k]! * sin[k]!;
      r0 += r;
      i0 += i;
      r1 += off * r;
      i1 += off * i;
      r2 += off * off * r;
      i2 += off * off * i;
    }
    moments[b * 6] = r0;
    moments[b * 6 + 1] = i0;
    moments[b * 6 + 2] = r1;
    moments[b * 6 + 3] = i1;
    moments[b * 6 + 4] = r2;
    moments[b * 6 + 5] = i2;
  }
  return (near) => {
    const d = near - angle,
      half = (d * d) / 2;
    const rotR = Math.cos(near * ZOOM),
      rotI = Math.sin(near * ZOOM);
    let r = 1,
      i = 0,
      re = 0,
      im = 0;
    for (let at = 0; at < moments.length; at += 6) {
      const br = moments[at]! - d * moments[at + 3]! - half * moments[at + 4]!,
        bi = moments[at + 1]! + d * moments[at + 2]! - half * moments[at + 5]!;
      re += br * r - bi * i;
      im += br * i + bi * r;
      const next = r * rotR - i * rotI;
      i = r * rotI + i * rotR;
      r = next;
    }
    return Math.hypot(re, im);
  };
}

/** Sharpens a period by the strength of the Fourier sum of the novelty at the beat and its multiples. */
export function refinePeriod(novelty: Float32Array, frameRate: number, period: number): number {
  const angle = (harmonic: number, p: number): number => (2 * Math.PI * harmonic) / (p * frameRate);
  const sums = HARMONICS.map(([harmonic, weight]) => ({
    harmonic,
    weight,
    at: zoomedSpectrum(novelty, angle(harmonic, period)),
  }));
  const strength = (p: number): number =>
    sums.reduce((total, { harmonic, weight, at }) => total + weight * at(angle(harmonic, p)), 0);
  const seconds = novelty.length / frameRate;
  let best = period;
  let bestValue = strength(period);
  let reach = 0.012;
  // First a scan no coarser than a quarter of the main lobe, then by halving.
  const step = Math.max(0.0002, Math.min(0.002, (period / seconds) * 0.2));
  for (let f = -reach; f <= reach; f += step) {
    const value = strength(period * (1 + f));
    if (value > bestValue) {
      bestValue = value;
      best = period * (1 + f);
    }
  }
  for (reach = step; reach > 4e-6; reach /= 2) {
    for (const f of [-reach / 2, reach / 2]) {
      const value = strength(best * (1 + f));
      if (value > bestValue) {
        bestValue = value;
        best *= 1 + f;
      }
    }
  }
  return best;
}
