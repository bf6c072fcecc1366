/** The set as a curve: what is drawn above a playlist. */
import type { ListEntryRow } from '@early-set/core/api/types';
import { signatureOf } from '@early-set/core/fields/keys';
import { writeShape, type ShapePoint } from '@early-set/core/arrange/shape';

/** What can be drawn over time. */
export const CURVES = ['energy', 'bpm', 'lufs', 'key'] as const;
export type Curve = (typeof CURVES)[number];
export const CURVE_LABELS: Record<Curve, string> = { energy: 'Energy', bpm: 'BPM', lufs: 'LUFS', key: 'Key' };

export interface CurvePoint {
  /** Index of the entry. */
  at: number;
  /** Seconds from the start of the set. */
  seconds: number;
  value: number;
}

/** The value of an entry; of a key, its sharps (or, below 0, flats). */
function valueOf({ values }: ListEntryRow, curve: Curve): number | null {
  if (curve === 'key') return typeof values.key === 'string' ? signatureOf(values.key) : null;
  const value = values[curve];
  return typeof value === 'number' ? value : null;
}

/** Where the entries that have a value stand. @param starts seconds per entry */
export const curveOf = (entries: readonly ListEntryRow[], starts: readonly number[], curve: Curve): CurvePoint[] =>
  entries.flatMap((entry, at) => {
    const value = entry.id > 0 ? valueOf(entry, curve) : null;
    return value === null ? [] : [{ at, seconds: starts[at]!, value }];
  });

/** With more points than this, single ones cannot be told apart. */
export const MAX_POINTS = 160;

/** A long curve by the means of stretches, at most so many. */
export function thinned(points: readonly CurvePoint[], most = MAX_POINTS): readonly CurvePoint[] {
  if (points.length <= most) return points;
  return Array.from({ length: most }, (_, i) => {
    const own = points.slice(Math.floor((i * points.length) / most), Math.floor(((i + 1) * points.length) / most));
    const mean = (of: (p: CurvePoint) => number): number => own.reduce((sum, p) => sum + of(p), 0) / own.length;
    return { at: own[0]!.at, seconds: mean((p) => p.seconds), value: mean((p) => p.value) };
  });
}

/** From where to where the values are drawn: of energy all, of others what there is, with room around it. */
export function rangeOf(points: readonly CurvePoint[], curve: Curve): { low: number; high: number } {
  if (curve === 'energy' || points.length === 0) return { low: 0, high: 100 };
  const values = points.map((p) => p.value),
    low = Math.min(...values),
    high = Math.max(...values),
    room = Math.max((high - low) * 0.15, 1);
  return { low: low - room, high: high + room };
}

/**
 * When a share of the set is, in seconds: a wished shape counts by places (docs/ARRANGING.md), so that its last point
 * is that of the last entry; between two entries it goes evenly.
 */
export function secondsAt(starts: readonly number[], share: number): number {
  const place = Math.max(0, Math.min(1, share)) * (starts.length - 1),
    before = Math.floor(place),
    after = Math.min(starts.length - 1, before + 1);
  const from = starts[before] ?? 0;
  return from + ((starts[after] ?? from) - from) * (place - before);
}

/** The share of the set at a time. */
export function shareAt(starts: readonly number[], seconds: number): number {
  const last = starts.length - 1;
  if (last < 1) return 0;
  const after = starts.findIndex((start) => start >= seconds);
  if (after === 0) return 0;
  if (after < 0) return 1;
  const from = starts[after - 1]!,
    to = starts[after]!;
  return (after - 1 + (seconds - from) / (to - from)) / last;
}

/** A shape with one of its points elsewhere: between its neighbours, the first and last at the ends. */
export function withPoint(points: readonly ShapePoint[], index: number, [share, energy]: ShapePoint): string {
  const before = points[index - 1]?.[0],
    after = points[index + 1]?.[0];
  const at =
    before === undefined || after === undefined
      ? points[index]![0]
      : Math.max(before + 0.01, Math.min(after - 0.01, share));
  const moved: ShapePoint = [at, Math.max(0, Math.min(100, energy))];
  return writeShape(points.map((p, i) => (i === index ? moved : p)));
}

/** A shape with one more point; the same where it would fall on another. */
export function withNewPoint(points: readonly ShapePoint[], [share, energy]: ShapePoint): string {
  const apart = points.every(([at]) => Math.abs(at - share) >= 0.01);
  const all = apart ? [...points, [share, Math.max(0, Math.min(100, energy))] as const] : points;
  return writeShape([...all].sort((a, b) => a[0] - b[0]));
}

/** A shape without one of its points; the ends stay. */
export const withoutPoint = (points: readonly ShapePoint[], index: number): string =>
  writeShape(index === 0 || index === points.length - 1 ? points : points.filter((_, i) => i !== index));
