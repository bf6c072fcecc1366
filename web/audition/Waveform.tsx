/** A waveform in three bands on a canvas, with the grid where there is room for it. Click or keys to seek. */
import { useEffect, useRef } from 'react';
import type { WaveformData } from '../data/hooks.ts';
import { blankCanvas, loudestOf } from './bands.ts';
import { useSize } from '../ui/useSize.ts';

export interface WaveformProps {
  waveform: WaveformData | null;
  duration: number;
  position: number;
  onSeek?: (seconds: number) => void;
  /** Beat times in seconds, and which of them start bars. */
  beats?: readonly number[];
  firstDownbeat?: number | null;
  beatsPerBar?: number;
  height: number;
  label: string;
}

const BAR = 3; // a drawn bar with its gap, in pixels

function colours(node: Element): Record<'played' | 'low' | 'mid' | 'high' | 'grid' | 'bar' | 'head', string> {
  const css = getComputedStyle(node);
  const v = (name: string): string => css.getPropertyValue(name).trim();
  return {
    played: v('--ink'),
    low: v('--tide-deep'),
    mid: v('--tide'),
    high: v('--energy'),
    grid: v('--line'),
    bar: v('--sodium'),
    head: v('--buoy'),
  };
}

function draw(
  canvas: HTMLCanvasElement,
  { waveform, duration, position, beats = [], firstDownbeat = null, beatsPerBar = 4, height }: WaveformProps,
  width: number,
): void {
  const g = blankCanvas(canvas, width, height);
  if (!g) return;
  const c = colours(canvas);
  const middle = height / 2;
  const xOf = (seconds: number): number => (duration > 0 ? (seconds / duration) * width : 0);
  drawGrid(g, c, beats, firstDownbeat, beatsPerBar, xOf, width, height);
  if (!waveform || waveform.data.length < 3) {
    g.fillStyle = c.grid;
    g.fillRect(0, middle - 0.5, width, 1);
  } else {
    const columns = waveform.data.length / 3;
    const bars = Math.floor(width / BAR);
    for (let b = 0; b < bars; b++) {
      const from = Math.floor((b / bars) * columns),
        to = Math.max(from + 1, Math.floor(((b + 1) / bars) * columns));
      const { low, high, whole } = loudestOf(waveform, from, to);
      const played = xOf(position) > b * BAR;
      const bar = (level: number, colour: string): void => {
        const h = Math.max(1, (level / 255) * (height - 4));
        g.fillStyle = colour;
        g.fillRect(b * BAR, middle - h / 2, BAR - 1, h);
      };
      // What is low lies inside the whole, darker.
      bar(whole, played ? c.played : c.mid);
      if (!played) {
        bar(low, c.low);
        bar(high * 0.5, c.high);
      }
    }
  }
  if (position > 0) {
    g.fillStyle = c.head;
    g.fillRect(Math.round(xOf(position)) - 1, 0, 2, height);
  }
}

function drawGrid(
  g: CanvasRenderingContext2D,
  c: ReturnType<typeof colours>,
  beats: readonly number[],
  firstDownbeat: number | null,
  perBar: number,
  xOf: (s: number) => number,
  width: number,
  height: number,
): void {
  const first = firstDownbeat === null ? -1 : beats.findIndex((t) => Math.abs(t - firstDownbeat) < 0.03);
  if (first < 0) return;
  // Only as dense as can be told apart: beats, bars, or every fourth or sixteenth bar.
  const spacing = width / Math.max(1, beats.length);
  const every = [1, perBar, perBar * 4, perBar * 16].find((n) => n * spacing >= 7) ?? perBar * 64;
  beats.forEach((time, i) => {
    if ((i - first) % every !== 0) return;
    const isBar = (i - first) % perBar === 0;
    g.fillStyle = every === 1 && isBar ? c.bar : c.grid;
    g.fillRect(Math.round(xOf(time)), 0, 1, height);
  });
}

export function Waveform(props: WaveformProps) {
  const { onSeek, duration, position, height, label } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [box, { width }, theme] = useSize<HTMLDivElement>();
  useEffect(() => {
    if (canvas.current) draw(canvas.current, props, width);
  }, [props, width, theme]);
  const clock = (s: number): string => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`;
  const keys = (e: React.KeyboardEvent): void => {
    const step = e.key === 'ArrowRight' ? 5 : e.key === 'ArrowLeft' ? -5 : 0;
    if (!step || !onSeek) return;
    e.preventDefault();
    e.stopPropagation();
    onSeek(position + step);
  };
  return (
    <div ref={box} className="relative w-full" style={{ height }}>
      <canvas
        ref={canvas}
        className={`absolute inset-0 h-full w-full ${onSeek ? 'cursor-pointer' : ''}`}
        {...(onSeek
          ? {
              role: 'slider',
              tabIndex: 0,
              'aria-label': label,
              'aria-valuemin': 0,
              'aria-valuemax': Math.round(duration),
              'aria-valuenow': Math.round(position),
              'aria-valuetext': `${clock(position)} of ${clock(duration)}`,
              onKeyDown: keys,
            }
          : { role: 'img', 'aria-label': label })}
        onPointerDown={(e) => {
          if (onSeek && duration > 0) {
            const box = e.currentTarget.getBoundingClientRect();
            onSeek(((e.clientX - box.left) / box.width) * duration);
          }
        }}
      />
    </div>
  );
}
