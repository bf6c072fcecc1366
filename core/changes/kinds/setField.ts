/** Another value, or another lock, for one field of one track. */
import { fieldOf } from '../../fields/table.ts';
import { sameValue, type FieldValue, type Held } from '../../fields/values.ts';
import { heldIn, type TrackState } from '../snapshot.ts';
import { defineKind, GONE_TRACK } from './kind.ts';

export interface SetField {
  kind: 'set-field';
  trackId: number;
  field: string;
  before: Held | null;
  after: Held | null;
}

export const setField = (trackId: number, field: string, before: Held | null, after: Held | null): SetField => ({
  kind: 'set-field',
  trackId,
  field,
  before,
  after,
});

/** Is it one, and does it change a value rather than only a lock? */
export const editedValue = (item: { kind: string }): { trackId: number; field: string; value: FieldValue } | null => {
  if (item.kind !== setFieldKind.kind) return null;
  const { trackId, field, before, after } = item as SetField;
  return JSON.stringify(before?.value ?? null) === JSON.stringify(after?.value ?? null)
    ? null
    : { trackId, field, value: after?.value ?? null };
};

const sameHeld = (a: Held | null, b: Held | null): boolean =>
  sameValue(a?.value, b?.value) && (a?.locked ?? false) === (b?.locked ?? false);

/** A held value as it will be, put into a track. */
export function putHeld(track: TrackState, field: string, held: Held | null): void {
  track.values[field] = held?.value ?? null;
  if (held) track.origins[field] = { origin: held.origin, at: held.at, ...(held.locked ? { locked: true } : {}) };
  else delete track.origins[field];
}

export const setFieldKind = defineKind<SetField>({
  kind: 'set-field',
  area: 'fields',
  inFiles: false,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict({ trackId, field, before, after }, snapshot) {
    const now = heldIn(snapshot, trackId, field);
    if (now === undefined) return GONE_TRACK;
    if (!sameHeld(now, before)) return 'The field has changed since';
    if (now?.locked && after?.locked !== false && !sameValue(now.value, after?.value)) return 'The field is locked';
    return null;
  },
  apply: ({ trackId, field, after }, snapshot) => putHeld(snapshot.tracks.get(trackId)!, field, after),
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words({ field, before, after }) {
    const onlyLock = sameValue(before?.value, after?.value);
    return {
      show: 'field',
      field,
      before: before?.value ?? null,
      after: after?.value ?? null,
      lock: onlyLock ? (after?.locked ? 'locked' : 'unlocked') : null,
    };
  },
  searched: ({ field, before, after }) =>
    fieldOf(field).type === 'marks' ? '' : [before?.value, after?.value].flat().join('\n'),
});
