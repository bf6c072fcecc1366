/**
 * The lapped transform (MDCT) with blocks of 2,048 samples, as AAC (ISO/IEC 14496-3) and Vorbis I have it for sound
 * that goes on steadily. The window is that of Vorbis; that of AAC for tonal sound is so close to it that its traces
 * show as well.
 */
import { planComplexFft } from '../../../signal/fft.ts';
import { LEVELS, MARGIN, meanLevels, type Blocks } from './blocks.ts';

const LINES = 1024;
/** Lines that are looked at: about 2 to 16 kHz. */
const FIRST_LINE = 96,
  END_LINE = 744;

/**
 * Plans the blocks of the lapped transform: through a complex FFT of a quarter of the block (Duhamel, Mahieux & Petit
 * 1991).
 */
export function planLappedBlocks(): Blocks {
  const n = LINES,
    half = n / 2;
  const window = Float64Array.from({ length: 2 * n }, (_, i) =>
    Math.sin((Math.PI / 2) * Math.sin((Math.PI / (2 * n)) * (i + 0.5)) ** 2),
  );
  const turnRe = Float64Array.from({ length: half }, (_, i) => Math.cos((Math.PI * (4 * i + 1)) / (4 * n)));
  const turnIm = Float64Array.from({ length: half }, (_, i) => -Math.sin((Math.PI * (4 * i + 1)) / (4 * n)));
  const folded = new Float64Array(n),
    lines = new Float64Array(n);
  const { inRe, inIm, re, im, transform } = planComplexFft(half);

  const levels = (x: Float32Array, at: number, out: Float64Array, to: number): void => {
    for (let i = 0; i < half; i++) {
      folded[i] =
        -x[at + 3 * half - 1 - i]! * window[3 * half - 1 - i]! - x[at + 3 * half + i]! * window[3 * half + i]!;
      folded[half + i] = x[at + i]! * window[i]! - x[at + n - 1 - i]! * window[n - 1 - i]!;
    }
    for (let i = 0; i < half; i++) {
      const a = folded[2 * i]!,
        b = folded[n - 1 - 2 * i]!,
        c = turnRe[i]!,
        s = turnIm[i]!;
      inRe[i] = a * c - b * s;
      inIm[i] = a * s + b * c;
    }
    transform();
    for (let k = 0; k < half; k++) {
      const c = turnRe[k]!,
        s = turnIm[k]!;
      lines[2 * k] = re[k]! * c - im[k]! * s;
      lines[n - 1 - 2 * k] = -(re[k]! * s + im[k]! * c);
    }
    meanLevels(lines, FIRST_LINE, END_LINE, out, to);
  };
  return {
    period: n,
    shift: 64,
    sweep(x, out) {
      for (let at = 0; at < n + 2 * MARGIN; at++) levels(x, at, out, at * LEVELS);
    },
  };
}
