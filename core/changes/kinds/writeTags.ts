/** New texts for fields in the tags of a track's main file. The library's values are others' business. */
import { fieldOf } from '../../fields/table.ts';
import { defineKind, GONE_TRACK, leftKey } from './kind.ts';
import { cut } from '../../fields/cut.ts';

/** Texts for one field. Before is what the file was known to hold; null when nobody had looked. */
export interface TagWrite {
  before: string[] | null;
  after: string[];
}

export interface WriteTags {
  kind: 'write-tags';
  trackId: number;
  fields: Record<string, TagWrite>;
  /** Pictures by their hash in the art store. */
  picture?: { before: string | null; after: string | null };
  /** Allowed: a new file under this name, where the old one has others and the tag does not fit in place. */
  part?: true;
}

/** Why a file is left until it is said that it may be parted. */
export const OTHER_NAMES =
  'The file has other names (hard links), and the tag does not fit in place: it needs a new file for this name, which is asked first';

/** The same line, with leave to part the file from its other names. @throws RangeError for lines of another kind */
export function allowed(item: { kind: string }): WriteTags {
  if (item.kind !== 'write-tags') throw new RangeError(`A line of ${item.kind} parts no file`);
  return { ...(item as WriteTags), part: true };
}

export const writeTagsItem = (
  trackId: number,
  fields: Record<string, TagWrite>,
  picture?: WriteTags['picture'],
  part?: true,
): WriteTags => ({
  kind: 'write-tags',
  trackId,
  fields,
  ...(picture ? { picture } : {}),
  ...(part ? { part } : {}),
});

/** What a file will say for it, field by field; null for other items. */
export const writtenBy = (item: { kind: string }): Record<string, string[]> | null =>
  item.kind === writeTagsKind.kind
    ? Object.fromEntries(Object.entries((item as WriteTags).fields).map(([id, { after }]) => [id, after]))
    : null;

export const writeTagsKind = defineKind<WriteTags>({
  kind: 'write-tags',
  area: 'files',
  inFiles: true,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict: ({ trackId }, { tracks }) => (tracks.has(trackId) ? null : GONE_TRACK),
  // Tags are no part of what a snapshot holds: what a file says is looked at when its turn comes.
  apply: () => undefined,
  inverse: ({ trackId, fields, picture }) =>
    writeTagsItem(
      trackId,
      Object.fromEntries(
        Object.entries(fields).map(([id, { before, after }]) => [id, { before: after, after: before ?? [] }]),
      ),
      picture && { before: picture.after, after: picture.before },
    ),
  words({ fields, picture, part }) {
    const said = Object.entries(fields).map(
      ([id, { after }]) =>
        `${fieldOf(id).label.toLowerCase()} ${after.length ? `“${cut(after.join('; '), 80)}”` : 'removed'}`,
    );
    if (picture) said.push(picture.after ? 'cover' : 'cover removed');
    if (part) said.push('apart from its other names');
    return { show: 'sentence', text: `In the file: ${said.join(', ')}` };
  },
  searched: ({ fields }) =>
    Object.values(fields)
      .flatMap(({ before, after }) => [...(before ?? []), ...after])
      .join('\n'),
  without(item, left) {
    const reasonOf = (field: string): string | undefined => left.get(leftKey(item.trackId, field));
    const kept = Object.entries(item.fields).filter(([field]) => reasonOf(field) === undefined);
    if (kept.length === Object.keys(item.fields).length) return item;
    if (kept.length === 0 && !item.picture) return reasonOf(Object.keys(item.fields)[0]!)!;
    return writeTagsItem(item.trackId, Object.fromEntries(kept), item.picture, item.part);
  },
});
