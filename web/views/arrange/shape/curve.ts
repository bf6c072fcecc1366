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

/** From where to where the values are drawn: of energy all, of others what there is, with room around it. */
export function rangeOf(points: readonly CurvePoint[], curve: Curve): { low: number; high: number } {
  if (curve === 'energy' || points.length === 0) return { low: 0, high: 100 };
  const values = points.map((p) => p.value),
    low = Math.min(...values),
    high = Math.max(...values),
    room = Math.max((high - low) * 0.15, 1);
  return { low: low - room, high: high + room };
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
