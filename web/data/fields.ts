/** Setting one field of one track by hand, as a change that can be taken back. */
import type { Applied, TrackDetails } from '@early-set/core/api/types';
import type { FieldValue } from '@early-set/core/fields/values';
import { change } from './actions.ts';
import { post } from './api.ts';

export const setField = (track: Pick<TrackDetails, 'id'>, field: string, value: FieldValue | object[], say?: string): Promise<Applied | undefined> =>
  change(post<Applied>('/fields', { selection: { ids: [track.id] }, field, value }), say);

/** Was one of these set by a person? */
export const typed = (track: TrackDetails, ...fields: string[]): boolean => fields.some((f) => track.origins[f]?.origin === 'typed');

export const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));
