/** What the file that stays takes over from those that go: what it lacks, and what can be joined. */
import { marksOf } from '../fields/marks.ts';
import { FIELDS } from '../fields/table.ts';
import { isEmpty, sameValue, type FieldValue, type TrackValues } from '../fields/values.ts';
import { shiftMarks } from '../relink/shiftMarks.ts';

/** Fields that are told by files or kept by counting, and not taken over. */
const NOT_TAKEN: ReadonlySet<string> = new Set(['kind', 'lastUsed', 'timesUsed']);
export const TAKEN_FIELDS: readonly string[] = FIELDS.filter((f) => f.editable && !NOT_TAKEN.has(f.id)).map(
  (f) => f.id,
);
/** Of these the values of all are kept: the names of several, the notes one below the other. */
const JOINED: ReadonlySet<string> = new Set(['moods', 'freeTags', 'dayparts']);
const LINES = 'notes',
  STARS = 'rating';
/** Sections and anchors belong to what was measured of one file; cues were set for the recording. */
const MARKED: ReadonlySet<string> = new Set(['cues', 'gridAnchors', 'sectionsByHand']);

export interface TakenField {
  before: FieldValue;
  after: FieldValue;
}

/** One that goes, with the seconds by which it has to be moved to lie on the one that stays. */
export interface Going {
  values: TrackValues;
  offsetSeconds: number;
}

/**
 * Fields of the one that stays that change.
 * @param going those that go, the best first
 */
export function takeOver(stays: TrackValues, going: readonly Going[]): Record<string, TakenField> {
  const changed: Record<string, TakenField> = {};
  for (const field of TAKEN_FIELDS) {
    const before = stays[field] ?? null;
    const after = going.reduce<FieldValue>((value, one) => joined(field, value, taken(field, one)), before);
    if (!sameValue(before, after)) changed[field] = { before, after };
  }
  return changed;
}

/** A field of one that goes, as it is on the one that stays. */
function taken(field: string, { values, offsetSeconds }: Going): FieldValue {
  const value = values[field] ?? null;
  if (!MARKED.has(field) || marksOf(value).length === 0) return value;
  const moved = shiftMarks({ [field]: value }, offsetSeconds)[0];
  return moved ? moved.after : value;
}

function joined(field: string, own: FieldValue, other: FieldValue): FieldValue {
  if (isEmpty(other)) return own;
  if (isEmpty(own)) return other;
  if (JOINED.has(field)) return [...new Set([...(own as string[]), ...(other as string[])])];
  if (field === STARS) return Math.max(own as number, other as number);
  if (field === LINES && !String(own).includes(String(other))) return `${String(own)}\n${String(other)}`;
  return own;
}
