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

type Held = Pick<TrackDetails, 'id' | 'values'>;

/**
 * Fields as they were last asked to be, until the tracks say so too: quick changes one after the other build on each
 * other and none is lost.
 */
export function useAsked(tracks: readonly Held[]) {
  const [asked, setAsked] = useState<ReadonlyMap<string, { id: number; field: string; value: FieldValue }>>(new Map());
  const stored = (id: number, field: string): FieldValue | undefined => { const track = tracks.find((t) => t.id === id); return track ? track.values[field] ?? null : undefined; };
  const there = [...asked].filter(([, a]) => sameValue(a.value, stored(a.id, a.field)));
  if (there.length) setAsked(new Map([...asked].filter((entry) => !there.some(([key]) => key === entry[0]))));
  const valueOf = (track: Held, field: string): FieldValue => {
    const own = asked.get(`${track.id} ${field}`);
    return own ? own.value : track.values[field] ?? null;
  };
  const set = (track: Held, field: string, value: FieldValue, say?: string): void => {
    const key = `${track.id} ${field}`, own = { id: track.id, field, value };
    setAsked((now) => new Map(now).set(key, own));
    const forget = (): void => setAsked((now) => (now.get(key) === own ? new Map([...now].filter(([k]) => k !== key)) : now));
    // The server may have tidied the value; then what it says counts in the end.
    void setField(track, field, value, say).then((done) => { if (done) setTimeout(forget, 3000); else forget(); });
  };
  return { valueOf, set };
}

/** One field of one track, as it was last asked to be. */
export function useField(track: TrackDetails, field: string): readonly [FieldValue, (value: FieldValue, say?: string) => void] {
  const { valueOf, set } = useAsked([track]);
  return [valueOf(track, field), (value, say) => set(track, field, value, say)];
}
