/** A track of the library as list files say it. */
import { folderOf } from '../files/paths.ts';
import { isEmpty, type FieldValue, type TrackValues } from '../fields/values.ts';
import type { ListedTrack } from './listFile.ts';

/** A value as one text; several are joined. */
export const joined = (value: FieldValue | undefined): string =>
  isEmpty(value) ? '' : Array.isArray(value) ? value.join('; ') : String(value);

/** @param number its place in the list, from 1 */
export const listedTrack = (path: string, values: TrackValues, number: number): ListedTrack => ({
  path,
  durationSeconds: typeof values.durationSeconds === 'number' ? values.durationSeconds : null,
  title: joined(values.title) || path.slice(folderOf(path).length),
  artist: joined(values.artist),
  album: joined(values.album),
  fields: {
    ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, Array.isArray(v) ? v.join('; ') : v])),
    number,
  },
});
