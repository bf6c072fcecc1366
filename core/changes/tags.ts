/** Drafts for the tags of files: what a file has to say for the library's values. */
import { fieldOf } from '../fields/table.ts';
import type { FieldValue } from '../fields/values.ts';
import { inTags, saysValue, textsFor, type FileFields } from '../tags/values.ts';
import type { ChangeItem, SetField, SetPicture, TagWrite, WriteTags } from './items.ts';

/** Writes given fields of a track into its file; null when the file says all of it already. */
export function writeFields(
  trackId: number,
  values: Readonly<Record<string, FieldValue>>,
  file: FileFields,
): WriteTags | null {
  const fields: Record<string, TagWrite> = {};
  for (const [id, value] of Object.entries(values)) {
    if (!inTags(id)) continue;
    const before = file ? [...(file[id] ?? [])] : null;
    if (before && saysValue(fieldOf(id), before, value)) continue;
    fields[id] = { before, after: textsFor(fieldOf(id), value) };
  }
  return Object.keys(fields).length ? { kind: 'write-tags', trackId, fields } : null;
}

/**
 * The writing that goes with edits of the library: one item a track, behind all of them.
 * @param fileOf what a track's file is known to hold
 */
export function withWriting(items: readonly ChangeItem[], fileOf: (trackId: number) => FileFields): ChangeItem[] {
  const edits = new Map<number, { values: Record<string, FieldValue>; picture?: SetPicture }>();
  const of = (trackId: number) => {
    const known = edits.get(trackId) ?? { values: {} };
    edits.set(trackId, known);
    return known;
  };
  for (const item of items) {
    if (item.kind === 'set-field' && isEdit(item)) of(item.trackId).values[item.field] = item.after?.value ?? null;
    if (item.kind === 'set-picture') of(item.trackId).picture = item;
  }
  const writes: WriteTags[] = [];
  for (const [trackId, { values, picture }] of edits) {
    const write =
      writeFields(trackId, values, fileOf(trackId)) ??
      (picture ? { kind: 'write-tags' as const, trackId, fields: {} } : null);
    if (write) writes.push(picture ? { ...write, picture: { before: picture.before, after: picture.after } } : write);
  }
  return [...items, ...writes];
}

/** Another value, not only another lock. */
const isEdit = ({ before, after }: SetField): boolean =>
  JSON.stringify(before?.value ?? null) !== JSON.stringify(after?.value ?? null);
