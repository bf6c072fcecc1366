/** The stretch of a track that is shown, and how it is moved and zoomed. Times in seconds. */
export interface Span {
  from: number;
  to: number;
}

/** The shortest stretch that can be shown. */
export const SHORTEST = 0.5;

/** Keeps a stretch inside the track and at least SHORTEST long. */
export function inside({ from, to }: Span, duration: number): Span {
  const length = Math.min(duration, Math.max(Math.min(SHORTEST, duration), to - from));
  const start = Math.max(0, Math.min(duration - length, from));
  return { from: start, to: start + length };
}

/** Shows `factor` times as much, keeping the time `around` where it is. */
export function zoom(span: Span, factor: number, around: number, duration: number): Span {
  const length = Math.min(duration, Math.max(Math.min(SHORTEST, duration), (span.to - span.from) * factor));
  const share = (around - span.from) / Math.max(1e-9, span.to - span.from);
  return inside({ from: around - share * length, to: around - share * length + length }, duration);
}

/** Moves on by a share of what is shown. */
export const scroll = (span: Span, share: number, duration: number): Span => {
  const by = (span.to - span.from) * share;
  return inside({ from: span.from + by, to: span.to + by }, duration);
};

/** Moves so that a time is shown, a fifth from the left, when it is not. */
export const reveal = (span: Span, time: number, duration: number): Span =>
  time >= span.from && time <= span.to
    ? span
    : inside({ from: time - (span.to - span.from) * 0.2, to: time + (span.to - span.from) * 0.8 }, duration);

/** The beat nearest to a time, or the time itself where there is no grid. */
export function quantised(time: number, beats: readonly number[]): number {
  let best = time,
    off = Infinity;
  for (const t of beats)
    if (Math.abs(t - time) < off) {
      best = t;
      off = Math.abs(t - time);
    }
  return best;
}
