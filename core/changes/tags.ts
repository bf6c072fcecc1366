/** Drafts for the tags of files: what a file has to say for the library's values. */
import { fieldOf } from '../fields/table.ts';
import type { FieldValue } from '../fields/values.ts';
import { inTags, saysValue, textsFor, type BySetting, type FileFields } from '../tags/values.ts';
import type { ChangeItem } from './items.ts';
import { editedValue } from './kinds/setField.ts';
import { pictureEdit, type SetPicture } from './kinds/setPicture.ts';
import { writeTagsItem, type TagWrite, type WriteTags } from './kinds/writeTags.ts';

/** Writes given fields of a track into its file; null when the file says all of it already. */
export function writeFields(
  trackId: number,
  values: Readonly<Record<string, FieldValue>>,
  file: FileFields,
  settings: BySetting = {},
): WriteTags | null {
  const fields: Record<string, TagWrite> = {};
  for (const [id, value] of Object.entries(values)) {
    if (!inTags(id, settings)) continue;
    const before = file ? [...(file[id] ?? [])] : null;
    if (before && saysValue(fieldOf(id), before, value)) continue;
    fields[id] = { before, after: textsFor(fieldOf(id), value) };
  }
  return Object.keys(fields).length ? writeTagsItem(trackId, fields) : null;
}

/**
 * The writing that goes with edits of the library: one item a track, behind all of them.
 * @param fileOf what a track's file is known to hold
 */
export function withWriting(
  items: readonly ChangeItem[],
  fileOf: (trackId: number) => FileFields,
  settings: BySetting = {},
): ChangeItem[] {
  const edits = new Map<number, { values: Record<string, FieldValue>; picture?: SetPicture }>();
  const of = (trackId: number) => {
    const known = edits.get(trackId) ?? { values: {} };
    edits.set(trackId, known);
    return known;
  };
  for (const item of items) {
    const edited = editedValue(item),
      picture = pictureEdit(item);
    if (edited) of(edited.trackId).values[edited.field] = edited.value;
    if (picture) of(picture.trackId).picture = picture;
  }
  const writes: WriteTags[] = [];
  for (const [trackId, { values, picture }] of edits) {
    const fields = writeFields(trackId, values, fileOf(trackId), settings)?.fields ?? {};
    if (picture) writes.push(writeTagsItem(trackId, fields, { before: picture.before, after: picture.after }));
    else if (Object.keys(fields).length) writes.push(writeTagsItem(trackId, fields));
  }
  return [...items, ...writes];
}
