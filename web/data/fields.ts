/** Setting one field of one track by hand, as a change that can be taken back. */
import { useState } from 'react';
import type { Applied, TrackDetails } from '@early-set/core/api/types';
import { sameValue, type FieldValue } from '@early-set/core/fields/values';
import { change } from './actions.ts';
import { post } from './api.ts';

export const setField = (track: Pick<TrackDetails, 'id'>, field: string, value: FieldValue | object[], say?: string): Promise<Applied | undefined> =>
  change(post<Applied>('/fields', { selection: { ids: [track.id] }, field, value }), say);

/** Was one of these set by a person? */
export const typed = (track: TrackDetails, ...fields: string[]): boolean => fields.some((f) => track.origins[f]?.origin === 'typed');

export const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));

/**
 * A field of a track as it was last asked to be, until the track says so too: quick changes one after the other
 * build on each other and none is lost.
 */
export function useField(track: TrackDetails, field: string): readonly [FieldValue, (value: FieldValue, say?: string) => void] {
  const stored = track.values[field] ?? null;
  const [asked, setAsked] = useState<{ value: FieldValue } | null>(null);
  if (asked && sameValue(asked.value, stored)) setAsked(null);
  const set = (value: FieldValue, say?: string): void => {
    const own = { value };
    setAsked(own);
    const forget = (): void => setAsked((now) => (now === own ? null : now));
    // The server may have tidied the value; then what it says counts in the end.
    void setField(track, field, value, say).then((done) => { if (done) setTimeout(forget, 3000); else forget(); });
  };
  return [asked ? asked.value : stored, set];
}
