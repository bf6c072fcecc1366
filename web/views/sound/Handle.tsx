/**
 * Something at a time that can be moved: dragged, or by arrow keys (10 ms, with Shift 1 ms, with Ctrl to the next
 * beat).
 */
import { useRef, useState } from 'react';
import { clockLength } from '@early-set/core/clock/clock';
import { quantised, type Span } from './timeline.ts';

interface Props {
  label: string;
  at: number;
  span: Span;
  width: number;
  duration: number;
  beats: readonly number[];
  /** A colour of the theme. */
  colour: string;
  /** Where the flag sits, in pixels from the top. */
  top: number;
  flag: string;
  onMove: (at: number) => void;
  onOpen?: () => void;
}

export const timeWords = (t: number): string =>
  `${clockLength(Math.floor(t))}.${String(Math.floor((t % 1) * 100)).padStart(2, '0')}`;

const FLAG =
  'absolute cursor-ew-resize touch-none bg-paper/95 px-1 text-[10.5px] leading-[15px] font-semibold ' +
  'whitespace-nowrap text-ink shadow-[0_0_0_1px_var(--line)]';
/** Beside its line, on the side where there is room. */
const FLAG_LEFT = 'right-0 rounded-l-xs border-r-[3px]',
  FLAG_RIGHT = '-left-px rounded-r-xs border-l-[3px]';

export function Handle({ label, at, span, width, duration, beats, colour, top, flag, onMove, onOpen }: Props) {
  const [moving, setMoving] = useState<number | null>(null);
  const start = useRef<{ x: number; at: number } | null>(null);
  const now = moving ?? at;
  if (now < span.from || now > span.to) return null;
  const perSecond = width / (span.to - span.from);
  // At the right end the flag hangs to the left, so that it can be read.
  const nearEnd = (span.to - now) * perSecond < 16 + flag.length * 6.5;
  const bounded = (t: number): number => Math.max(0, Math.min(duration, t));
  const nextBeat = (t: number, step: 1 | -1): number =>
    (step > 0 ? beats.find((b) => b > t + 0.002) : beats.findLast((b) => b < t - 0.002)) ?? t;
  return (
    <div className="absolute inset-y-0" style={{ left: (now - span.from) * perSecond }}>
      <span
        aria-hidden="true"
        className="absolute inset-y-0 -left-px w-[2px]"
        style={{ background: `var(--${colour})` }}
      />
      <button
        type="button"
        role="slider"
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={Math.round(duration * 100) / 100}
        aria-valuenow={Math.round(now * 100) / 100}
        aria-valuetext={timeWords(now)}
        title={`${label}, ${timeWords(now)}. Drag it, or move it with the arrow keys`}
        style={{ top, borderColor: `var(--${colour})` }}
        className={`${FLAG} ${nearEnd ? FLAG_LEFT : FLAG_RIGHT}`}
        onDoubleClick={onOpen}
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
          start.current = { x: e.clientX, at };
        }}
        onPointerMove={(e) => {
          if (!start.current) return;
          const raw = bounded(start.current.at + (e.clientX - start.current.x) / perSecond);
          // Close to a beat it goes there, unless Alt is held.
          const beat = quantised(raw, beats);
          setMoving(!e.altKey && Math.abs(beat - raw) * perSecond < 5 ? beat : raw);
        }}
        onPointerUp={() => {
          const moved = start.current !== null && moving !== null && Math.abs(moving - at) > 0.0005;
          start.current = null;
          if (moved) onMove(moving);
          setMoving(null);
        }}
        onPointerCancel={() => {
          start.current = null;
          setMoving(null);
        }}
        onKeyDown={(e) => {
          const step = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
          if (step === 0) return;
          e.preventDefault();
          e.stopPropagation();
          onMove(bounded(e.ctrlKey ? nextBeat(at, step) : at + step * (e.shiftKey ? 0.001 : 0.01)));
        }}
      >
        {flag}
      </button>
    </div>
  );
}
