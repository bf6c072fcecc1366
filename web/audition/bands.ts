/** What every drawn waveform shares: a canvas at the screen's resolution, and the loudest of each band in a stretch. */
import { BYTE_LEVELS } from '@early-set/core/analysis/waveform';
import type { WaveformData } from '../data/hooks.ts';

/** Makes a canvas ready to be drawn on in CSS pixels; null where it cannot be seen or drawn on. */
export function blankCanvas(canvas: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D | null {
  const scale = window.devicePixelRatio || 1;
  canvas.width = Math.round(width * scale);
  canvas.height = Math.round(height * scale);
  const g = canvas.getContext('2d');
  if (!g || width <= 0) return null;
  g.scale(scale, scale);
  return g;
}

/**
 * The loudest of each band from one column of the waveform up to another, and how high the whole is drawn, 0 to 255.
 */
export function loudestOf(
  { data }: WaveformData,
  from: number,
  to: number,
): Record<'low' | 'mid' | 'high' | 'whole', number> {
  let low = 0,
    mid = 0,
    high = 0;
  for (let i = from; i < to; i++) {
    low = Math.max(low, data[i * 3]!);
    mid = Math.max(mid, data[i * 3 + 1]!);
    high = Math.max(high, data[i * 3 + 2]!);
  }
  [low, mid, high] = [low, mid, high].map((byte) => 255 * BYTE_LEVELS[byte]!) as [number, number, number];
  // The loudest band together with some of the others, so that a full mix stands higher than a bare bass.
  const top = Math.max(low, mid, high);
  return { low, mid, high, whole: Math.min(255, top + (low + mid + high - top) * 0.35) };
}
