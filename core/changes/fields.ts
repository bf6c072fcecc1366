/** Drafts for fields: typed values and locks, on any number of tracks. */
import { sameValue, type FieldValue, type Held } from '../fields/values.ts';
import type { ChangeItem } from './items.ts';

export interface FieldNow { trackId: number; held: Held | null }

/** Sets one field of several tracks to a typed value. Tracks that say so already, or are locked, are left out and counted. */
export function typeField(field: string, tracks: readonly FieldNow[], value: FieldValue, at: string): { items: ChangeItem[]; locked: number[] } {
  const items: ChangeItem[] = [];
  const locked: number[] = [];
  for (const { trackId, held } of tracks) {
    if (sameValue(held?.value, value)) continue;
    if (held?.locked) { locked.push(trackId); continue; }
    items.push({ kind: 'set-field', trackId, field, before: held, after: { value, origin: 'typed', at, locked: false } });
  }
  return { items, locked };
}

/** Locks or unlocks a field against every later source. */
export function lockField(field: string, tracks: readonly FieldNow[], locked: boolean, at: string): ChangeItem[] {
  return tracks
    .filter(({ held }) => (held?.locked ?? false) !== locked)
    .map(({ trackId, held }) => ({ kind: 'set-field', trackId, field, before: held, after: { ...(held ?? { value: null, origin: 'typed' as const, at }), locked } }));
}
