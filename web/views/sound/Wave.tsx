/** The waveform of the shown stretch in three bands, with its grid and what lies over it, on one canvas. */
import { useEffect, useRef } from 'react';
import type { Mark } from '@early-set/core/fields/marks';
import type { Grid } from '@early-set/core/analysis/gridOf';
import { clockLength } from '@early-set/core/clock/clock';
import type { WaveformData } from '../../data/hooks.ts';
import { blankCanvas, loudestOf } from '../../audition/bands.ts';
import { markColour } from '../../ui/colours.ts';
import type { Span } from './timeline.ts';

export const WAVE_HEIGHT = 252;
const RULER = 18;
/** Room for the numbers of bars. */
export const NUMBERS = 14;

export interface WaveProps {
  waveform: WaveformData | null;
  duration: number;
  span: Span;
  width: number;
  grid: Grid;
  position: number | null;
  cues: readonly Mark[];
  theme: number;
}

export function Wave(props: WaveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (canvas.current) draw(canvas.current, props);
  }, [props]);
  return <canvas ref={canvas} aria-hidden="true" className="block w-full" style={{ height: WAVE_HEIGHT }} />;
}

function draw(canvas: HTMLCanvasElement, { waveform, duration, span, width, grid, position, cues }: WaveProps): void {
  const g = blankCanvas(canvas, width, WAVE_HEIGHT);
  if (!g) return;
  const css = getComputedStyle(canvas);
  const colour = (name: string): string => css.getPropertyValue(`--${name}`).trim();
  const perSecond = width / (span.to - span.from);
  const xOf = (t: number): number => (t - span.from) * perSecond;
  const bottom = WAVE_HEIGHT - RULER,
    middle = (bottom + NUMBERS) / 2;
  g.font = '10.5px "Spline Sans Mono Variable", monospace';

  for (const loop of cues) {
    if (loop.end === undefined) continue;
    g.globalAlpha = 0.16;
    g.fillStyle = colour(markColour(loop.colour));
    g.fillRect(xOf(loop.at), 0, (loop.end - loop.at) * perSecond, bottom);
    g.globalAlpha = 1;
  }
  drawBeats(g, grid, span, perSecond, xOf, bottom, colour);

  if (waveform && waveform.data.length >= 3 && duration > 0) {
    const columns = waveform.data.length / 3,
      rate = columns / duration;
    for (let x = 0; x < width; x++) {
      const from = Math.max(0, Math.floor((span.from + x / perSecond) * rate)),
        to = Math.min(columns, Math.max(from + 1, Math.floor((span.from + (x + 1) / perSecond) * rate)));
      const { low, high, whole } = loudestOf(waveform, from, to);
      const bar = (level: number, name: string): void => {
        const h = (level / 255) * (bottom - NUMBERS - 6);
        g.fillStyle = colour(name);
        g.fillRect(x, middle - h / 2, 1, h);
      };
      bar(whole, 'tide');
      bar(low, 'tide-deep');
      bar(high * 0.5, 'energy');
    }
  }
  if (position !== null && position >= span.from && position <= span.to) {
    g.fillStyle = colour('buoy');
    g.fillRect(Math.round(xOf(position)) - 1, 0, 2, bottom);
  }
  drawRuler(g, span, perSecond, xOf, bottom, colour);
}

/**
 * Beats where they can be told apart, else bars, else every fourth or sixteenth; bars are numbered where there is
 * room.
 */
function drawBeats(
  g: CanvasRenderingContext2D,
  grid: Grid,
  span: Span,
  perSecond: number,
  xOf: (t: number) => number,
  bottom: number,
  colour: (name: string) => string,
): void {
  const { beats, firstDownbeatSeconds, beatsPerBar } = grid;
  if (beats.length < 2 || firstDownbeatSeconds === null) return;
  const first = beats.reduce(
    (best, t, i) => (Math.abs(t - firstDownbeatSeconds) < Math.abs(beats[best]! - firstDownbeatSeconds) ? i : best),
    0,
  );
  const spacing = ((beats.at(-1)! - beats[0]!) / (beats.length - 1)) * perSecond;
  const every = [1, beatsPerBar, beatsPerBar * 4, beatsPerBar * 16].find((n) => n * spacing >= 8) ?? beatsPerBar * 64;
  let lastNumber = -100;
  beats.forEach((time, i) => {
    if (time < span.from || time > span.to || (i - first) % every !== 0) return;
    const bar = (i - first) % beatsPerBar === 0,
      x = Math.round(xOf(time));
    g.fillStyle = colour(bar ? 'sodium' : 'line');
    g.fillRect(x, 0, 1, bottom);
    if (!bar || x - lastNumber < 34) return;
    lastNumber = x;
    g.fillStyle = colour('dim');
    g.fillText(String((i - first) / beatsPerBar + 1), x + 3, 10);
  });
}

const STEPS = [0.1, 0.25, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800];

function drawRuler(
  g: CanvasRenderingContext2D,
  span: Span,
  perSecond: number,
  xOf: (t: number) => number,
  bottom: number,
  colour: (name: string) => string,
): void {
  const step = STEPS.find((s) => s * perSecond >= 64) ?? 3600;
  g.fillStyle = colour('dim');
  for (let t = Math.ceil(span.from / step) * step; t <= span.to; t += step) {
    g.fillRect(Math.round(xOf(t)), bottom, 1, 4);
    g.fillText(
      step < 1 ? `${clockLength(Math.floor(t + 1e-6))}${((t % 1) + 1e-9).toFixed(2).slice(1)}` : clockLength(t),
      Math.round(xOf(t)) + 3,
      bottom + 13,
    );
  }
}
