/**
 * Two tracks laid over each other for the ear: which part of each file is heard, how fast, when the second one sets in,
 * so that its beats fall on those of the first, and how one fades into the other.
 */
import type { Grid } from '../analysis/gridOf.ts';
import { countedTempo } from './fit.ts';

export interface MixSide {
  /** The part of the file that is heard, in seconds. */
  from: number;
  to: number;
  grid: Pick<Grid, 'beats' | 'firstDownbeatSeconds' | 'beatsPerBar'>;
}

export interface MixWish {
  /** So far the first lies over the second, in seconds as they are heard. */
  over: number;
  /** At what multiple of its own speed the first is played. */
  rate: number;
  /** On what of the first a bar, or a beat, of the second falls; said to the beat, it is meant to the beat. */
  meet: 'bar' | 'beat';
}

/** A part of a file, and from when on it is heard at which speed. */
export interface MixPart {
  from: number;
  to: number;
  /** Seconds of the mix. */
  at: number;
  rate: number;
}

export interface Mix {
  first: MixPart;
  second: MixPart;
  /** While the first fades out and the second in, in seconds of the mix. */
  fade: { from: number; to: number };
  seconds: number;
  /** Length of a beat of the first as it is heard; null without beats. */
  beat: number | null;
  /** Have the tempi been matched and the beats laid on each other? */
  matched: boolean;
  /**
   * Median distance of the second's beats from those of the first where both are heard, in seconds; null if not
   * matched.
   */
  apart: number | null;
}

/** So much of each is heard at least, in seconds. */
export const HEARD_SECONDS = 30;
/** So much of each is heard by itself at least. */
const ALONE_SECONDS = 8;
/** Of a longer overlap the last part is heard, in seconds. */
const MAX_HEARD_OVER = 240;
/** Tempi further apart than this, in percent, are left as they are. */
export const MAX_MATCHED_STEP = 15;
/** Beats among which the local tempo is measured. */
const LOCAL_BEATS = 16;

/** Plans how one track goes over into the next. */
export function planMix(first: MixSide, second: MixSide, wish: MixWish): Mix {
  const { rate, meet } = wish;
  const over = Math.max(0, Math.min(wish.over, MAX_HEARD_OVER, (first.to - first.from) / rate));
  const heard = Math.max(HEARD_SECONDS, over + ALONE_SECONDS);
  const start = Math.max(first.from, first.to - heard * rate),
    end = (first.to - start) / rate;
  const nominal = end - over;
  /** Beats of the first in the mix. */
  const at = (t: number): number => (t - start) / rate;
  const around = start + nominal * rate;
  const slow = period(near(first.grid.beats, around, first.to)),
    quick = period(near(second.grid.beats, second.from, second.from + over * rate));
  const counted = slow && quick ? countedTempo(60 / slow, 60 / quick) : null;
  const matched = counted !== null && Math.abs(counted.step) <= MAX_MATCHED_STEP;
  const speed = matched ? (quick! / counted.multiple / slow!) * rate : 1;
  const beat = slow && slow / rate;
  const inMix = (t: number, sets: number): number => sets + (t - second.from) / speed;
  let sets = nominal,
    apart: number | null = null;
  if (matched) {
    const marks = meet === 'bar' ? barsOf : (grid: MixSide['grid']) => grid.beats;
    const ahead = (marks(second.grid).find((t) => t >= second.from - 1e-6) ?? second.from) - second.from;
    sets = meeting(marks(first.grid).map(at), ahead, speed, nominal);
    const beats = first.grid.beats.map(at).filter((t) => t >= sets - 1 && t <= end + 1);
    const gaps = (s: number): number[] =>
      second.grid.beats
        .filter((t) => t >= second.from && inMix(t, s) <= Math.min(end, beats.at(-1) ?? 0) + beat! / 4)
        .flatMap((t) => nearest(beats, inMix(t, s)));
    // Where the grids drift apart, the middle of what is heard together lies best.
    const off = median(gaps(sets));
    if (off !== null && Math.abs(off) < beat! / 4) sets -= off;
    apart = median(gaps(sets).map(Math.abs));
  }
  sets = Math.max(0, Math.min(sets, end));
  const tail = Math.max(HEARD_SECONDS, end - sets + ALONE_SECONDS);
  const to = Math.min(second.to, second.from + tail * speed);
  return {
    first: { from: start, to: first.to, at: 0, rate },
    second: { from: second.from, to, at: sets, rate: speed },
    fade: { from: sets, to: end },
    seconds: Math.max(end, sets + (to - second.from) / speed),
    beat,
    matched,
    apart,
  };
}

/** Beats from a time on; the last ones before the end where there are too few behind it. */
function near(beats: readonly number[], from: number, to: number): readonly number[] {
  const within = beats.filter((t) => t >= from && t <= Math.max(to, from));
  if (within.length >= LOCAL_BEATS) return within;
  const before = beats.findLastIndex((t) => t <= Math.max(to, from));
  const last = Math.max(before + 1, Math.min(beats.length, LOCAL_BEATS));
  return beats.slice(Math.max(0, Math.min(last, beats.length) - LOCAL_BEATS), last);
}

/** Length of a beat, by the straight line through them; null for fewer than four. */
function period(beats: readonly number[]): number | null {
  const n = beats.length;
  if (n < 4) return null;
  const mid = (n - 1) / 2,
    mean = beats.reduce((a, b) => a + b, 0) / n;
  let up = 0,
    across = 0;
  beats.forEach((t, i) => {
    up += (i - mid) * (t - mean);
    across += (i - mid) ** 2;
  });
  return up / across;
}

/** Where bars begin; every beat where that is not known. */
function barsOf({ beats, firstDownbeatSeconds, beatsPerBar }: MixSide['grid']): readonly number[] {
  if (firstDownbeatSeconds === null) return beats;
  const first = beats.reduce(
    (best, t, i) => (Math.abs(t - firstDownbeatSeconds) < Math.abs(beats[best]! - firstDownbeatSeconds) ? i : best),
    0,
  );
  return beats.filter((_, i) => (i - first) % beatsPerBar === 0);
}

/** When the second sets in, so that a mark of it falls on one of the first, as near as can be to when it would. */
function meeting(marks: readonly number[], ahead: number, speed: number, nominal: number): number {
  const could = marks.map((t) => t - ahead / speed).filter((t) => t >= 0);
  return could.reduce((best, t) => (Math.abs(t - nominal) < Math.abs(best - nominal) ? t : best), could[0] ?? nominal);
}

/** How far a time lies behind the nearest of some; nothing where there are none. */
function nearest(times: readonly number[], t: number): number[] {
  let best: number | null = null;
  for (const other of times) if (best === null || Math.abs(t - other) < Math.abs(best)) best = t - other;
  return best === null ? [] : [best];
}

function median(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)]!;
}

/**
 * Speeds of the second from its start on, evenly from beat to beat where it goes back to its own.
 * @returns seconds from its start, rising, and the speed from then on
 */
export function speedsOf({ second, fade, beat }: Mix, ramp: number | null): { at: number; rate: number }[] {
  const begins = { at: 0, rate: second.rate };
  if (ramp === null || !beat || ramp <= 0) return [begins];
  const from = fade.to - second.at,
    steps = Math.max(1, Math.round(ramp / beat));
  return [
    begins,
    ...Array.from({ length: steps }, (_, i) => ({
      at: from + i * beat,
      rate: second.rate + ((1 - second.rate) * (i + 1)) / steps,
    })),
  ];
}
