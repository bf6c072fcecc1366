/** What was marked in a file whose sound begins earlier or later now. */
import { marksOf, marksValue } from '../fields/marks.ts';
import type { FieldValue, TrackValues } from '../fields/values.ts';

/** Fields that hold points in time. */
const MARKED = ['cues', 'gridAnchors', 'sectionsByHand'] as const;

export interface ShiftedField {
  field: string;
  before: FieldValue;
  after: FieldValue;
}

/**
 * Cues, anchors and sections by hand as they are in the file that was found; what lay before its beginning is left out,
 * loops are cut.
 * @param offsetSeconds by which its sound begins later (negative: earlier)
 */
export function shiftMarks(values: TrackValues, offsetSeconds: number): ShiftedField[] {
  const moved = (at: number): number => Math.round((at + offsetSeconds) * 1000) / 1000;
  return MARKED.flatMap((field) => {
    const before = values[field] ?? null;
    const marks = marksOf(before);
    if (marks.length === 0 || offsetSeconds === 0) return [];
    const after = marks.flatMap((mark) => {
      const at = moved(mark.at),
        end = mark.end === undefined ? undefined : moved(mark.end);
      if (end === undefined) return at < 0 ? [] : [{ ...mark, at }];
      return end <= 0 ? [] : [{ ...mark, at: Math.max(0, at), end }];
    });
    return [{ field, before, after: marksValue(after) }];
  });
}
