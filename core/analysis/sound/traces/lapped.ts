/**
 * The lapped transform (MDCT) with blocks of 2,048 samples, as AAC (ISO/IEC 14496-3) and Vorbis I have it for sound
 * that goes on steadily. The window is that of Vorbis; that of AAC for tonal sound is so close to it that its traces
 * show as well. About 2 to 16 kHz are looked at: lines 96 to 743.
 */
import type { Kernels } from '../../../signal/kernels/kernels.ts';
import { twiddlesOf } from '../../../signal/spectrum.ts';
import { MARGIN, planSweep, type Blocks } from './blocks.ts';

const LINES = 1024;
/** Folded samples, and two complex buffers of half of them, four at once. */
const WORK = 4 * 3 * LINES;

/**
 * Plans the blocks of the lapped transform: through a complex FFT of a quarter of the block (Duhamel, Mahieux & Petit
 * 1991).
 */
export function planLappedBlocks(kernels: Kernels): Blocks {
  const each = (count: number, value: (i: number) => number): number[] =>
    Array.from({ length: count }, (_, i) => value(i));
  const turn = (i: number): number => (Math.PI * (4 * i + 1)) / (4 * LINES);
  const tables = [
    ...each(2 * LINES, (i) => Math.sin((Math.PI / 2) * Math.sin((Math.PI / (2 * LINES)) * (i + 0.5)) ** 2)),
    ...each(LINES / 2, (i) => Math.cos(turn(i))),
    ...each(LINES / 2, (i) => -Math.sin(turn(i))),
    ...twiddlesOf(LINES / 2),
  ];
  const beginnings = LINES + 2 * MARGIN;
  return {
    period: LINES,
    shift: 64,
    sweep: planSweep(kernels, LINES, tables, WORK, (x, at, work, out) =>
      kernels.lappedSweep(x, beginnings, at, work, out),
    ),
  };
}
