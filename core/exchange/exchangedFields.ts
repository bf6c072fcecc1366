/** Fields that go from one collection to another. */
import { isEmpty, type FieldValue } from '../fields/values.ts';

export const GRID_FIELDS = ['gridStartSeconds', 'beatsPerBar'] as const;
/** Fields of the desk that a destination could have a place for. */
export const SYNCED_FIELDS = [
  ...['title', 'version', 'artist', 'album', 'genre', 'year', 'label', 'comment'],
  ...['bpm', 'key', 'energy', 'rating', 'timesUsed', 'lastUsed', 'moods', 'cues', ...GRID_FIELDS],
] as const;
/** Further ones, which only another library has. */
const LIBRARY_FIELDS = [
  ...['albumArtist', 'composer', 'catalogueNumber', 'isrc', 'hearLater'],
  ...['freeTags', 'notes', 'dayparts', 'gridAnchors', 'sectionsByHand'],
];
export const BUNDLED_FIELDS: readonly string[] = [...SYNCED_FIELDS, ...LIBRARY_FIELDS];
/** No stars, never used, not to be heard later: nothing is said. */
const NONE_AT_ZERO = new Set(['rating', 'timesUsed', 'hearLater']);
export const saysNothing = (field: string, value: FieldValue): boolean =>
  isEmpty(value) || ((value === 0 || value === false) && NONE_AT_ZERO.has(field));
