/** Drafts for fields: typed values and locks, on any number of tracks. */
import { sameValue, type FieldValue, type Held, type Origin } from '../fields/values.ts';
import { setField, type SetField } from './kinds/setField.ts';

export interface FieldNow {
  trackId: number;
  held: Held | null;
}

/**
 * Sets one field of several tracks to a typed value. Tracks that say so already, or are locked, are left out and
 * counted.
 */
export function typeField(
  field: string,
  tracks: readonly FieldNow[],
  value: FieldValue,
  at: string,
): { items: SetField[]; locked: number[] } {
  const items: SetField[] = [];
  const locked: number[] = [];
  for (const { trackId, held } of tracks) {
    if (sameValue(held?.value, value)) continue;
    if (held?.locked) {
      locked.push(trackId);
      continue;
    }
    items.push(setField(trackId, field, held, { value, origin: 'typed', at, locked: false }));
  }
  return { items, locked };
}

/** Locks or unlocks a field against every later source. */
export function lockField(field: string, tracks: readonly FieldNow[], locked: boolean, at: string): SetField[] {
  return tracks
    .filter(({ held }) => (held?.locked ?? false) !== locked)
    .map(({ trackId, held }) =>
      setField(trackId, field, held, { ...(held ?? { value: null, origin: 'typed' as const, at }), locked }),
    );
}

/** Other values for fields of one track, with what they were when the draft was made. */
export interface FieldEdit {
  trackId: number;
  fields: Record<string, { before: FieldValue; after: FieldValue }>;
}

/**
 * A draft that was made elsewhere, as items. What is there now is taken as before only where it is what the draft has
 * seen; elsewhere the item keeps what the draft has seen, so that applying it is a conflict and not an overwriting.
 */
export function editFields(
  edits: readonly FieldEdit[],
  now: (trackId: number, field: string) => Held | null,
  at: string,
  origin: Origin = 'typed',
): SetField[] {
  return edits.flatMap(({ trackId, fields }) =>
    Object.entries(fields).flatMap(([field, { before, after }]): SetField[] => {
      if (sameValue(before, after)) return [];
      const held = now(trackId, field);
      const seen = sameValue(held?.value, before)
        ? held
        : { ...(held ?? { origin: 'typed' as const, at, locked: false }), value: before };
      return [setField(trackId, field, seen, { value: after, origin, at, locked: false })];
    }),
  );
}
