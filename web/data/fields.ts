/** Setting one field of one track by hand, as a change that can be taken back. */
import type { Applied, TrackDetails } from '@early-set/core/api/types';
import { checkValue, type FieldValue } from '@early-set/core/fields/values';
import { change } from './actions.ts';
import { post } from './api.ts';
import { ask } from './asked.ts';

/** So long a value that was taken stays laid over what the server says, should its word be late. */
const LATE_MS = 3000;

/** Sets a field; the page shows it at once. */
export async function setField(
  track: Pick<TrackDetails, 'id'>,
  field: string,
  value: FieldValue | object[],
  say?: string,
): Promise<Applied | undefined> {
  const checked = checkValue(field, value);
  const asked = checked.ok ? ask(track.id, field, checked.value) : undefined;
  const done = await change(post<Applied>('/fields', { selection: { ids: [track.id] }, field, value }), say);
  if (done) {
    asked?.answered();
    setTimeout(() => asked?.forget(), LATE_MS);
  } else asked?.forget();
  return done;
}

/** Was one of these set by a person? */
export const typed = (track: TrackDetails, ...fields: string[]): boolean =>
  fields.some((f) => track.origins[f]?.origin === 'typed');

export const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));
