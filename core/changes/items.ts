/**
 * Changes as values. A draft is a list of items; each item says what is and what will be, so that its
 * inverse is the same item turned round, and a conflict is seen by comparing "before" with the world.
 */
import { sameValue, type Held } from '../fields/values.ts';

export interface SetField {
  kind: 'set-field';
  trackId: number;
  field: string;
  before: Held | null;
  after: Held | null;
}

export interface ListInfo {
  kind: 'crate' | 'playlist';
  name: string;
  parentId: string | null;
  /** Order among its siblings. */
  position: number;
  /** Put away; can be brought back. */
  removed: boolean;
  /** Time of day at which a playlist starts, "20:00". */
  startsAt: string | null;
}

export interface Entry {
  id: string;
  trackId: number;
}
/** A place in an order: behind an entry (null: at the top), with the index for when that entry is gone. */
export interface Place {
  behind: string | null;
  index: number;
}
/** One entry put in (before null), taken out (after null) or moved. Placements apply one after the other. */
export interface Placement {
  entryId: string;
  trackId: number;
  before: Place | null;
  after: Place | null;
}

export type ListEdit =
  | { op: 'exist'; before: ListInfo | null; after: ListInfo | null }
  | { op: 'describe'; before: Partial<ListInfo>; after: Partial<ListInfo> }
  | { op: 'place'; placements: Placement[] };

export interface EditList {
  kind: 'edit-list';
  listId: string;
  edit: ListEdit;
}

/** New texts for one field in a file's tags. Before is what the file was known to hold; null when nobody had looked. */
export interface TagWrite {
  before: string[] | null;
  after: string[];
}

/** Writes fields into the tags of a track's file. */
export interface WriteTags {
  kind: 'write-tags';
  trackId: number;
  fields: Record<string, TagWrite>;
  /** Pictures by their hash in the art store. */
  picture?: { before: string | null; after: string | null };
  /** The journalled item whose bytes it puts back. */
  restores?: { changeSetId: number; seq: number };
}

/** Another path for a track's file, below the same root; the track goes with it. */
export interface MoveFile {
  kind: 'move-file';
  trackId: number;
  before: string;
  after: string;
}

/** Another front cover in the library. */
export interface SetPicture {
  kind: 'set-picture';
  trackId: number;
  before: string | null;
  after: string | null;
}

export type LibraryItem = SetField | SetPicture | EditList;
export type FileItem = WriteTags | MoveFile;
export type ChangeItem = LibraryItem | FileItem;

/** Items that touch files are made one by one, after those of the library. */
export const isFileItem = (item: ChangeItem): item is FileItem =>
  item.kind === 'write-tags' || item.kind === 'move-file';

export interface ListState {
  info: ListInfo;
  entries: Entry[];
}

/** What an item is compared with. Undefined: the track or list does not exist. */
export interface World {
  held(trackId: number, field: string): Held | null | undefined;
  list(listId: string): ListState | undefined;
  /** Hash of a track's picture, null for none. */
  picture(trackId: number): string | null | undefined;
}

/**
 * The item that takes this one back.
 * @example inverse({ kind: 'set-field', trackId: 1, field: 'title', before: a, after: b }) // … before: b, after: a
 */
export function inverse<I extends ChangeItem>(item: I): I;
export function inverse(item: ChangeItem): ChangeItem {
  if (item.kind === 'set-field' || item.kind === 'set-picture')
    return { ...item, before: item.after, after: item.before } as ChangeItem;
  if (item.kind === 'move-file')
    return { kind: 'move-file', trackId: item.trackId, before: item.after, after: item.before };
  if (item.kind === 'write-tags') return inverseWrite(item);
  const { edit } = item;
  switch (edit.op) {
    case 'exist':
      return { ...item, edit: { op: 'exist', before: edit.after, after: edit.before } };
    case 'describe':
      return { ...item, edit: { op: 'describe', before: edit.after, after: edit.before } };
    case 'place':
      return {
        ...item,
        edit: {
          op: 'place',
          placements: edit.placements.map((p) => ({ ...p, before: p.after, after: p.before })).reverse(),
        },
      };
  }
}

function inverseWrite({ fields, picture, trackId }: WriteTags): WriteTags {
  const turned = Object.entries(fields).map(([id, { before, after }]): [string, TagWrite] => [
    id,
    { before: after, after: before ?? [] },
  ]);
  return {
    kind: 'write-tags',
    trackId,
    fields: Object.fromEntries(turned),
    ...(picture ? { picture: { before: picture.after, after: picture.before } } : {}),
  };
}

/** The items that take a whole change set back, last first. */
export const inverseOf = (items: readonly ChangeItem[]): ChangeItem[] => items.map((item) => inverse(item)).reverse();

const sameHeld = (a: Held | null, b: Held | null): boolean =>
  a === null || b === null
    ? sameValue(a?.value, b?.value) && (a?.locked ?? false) === (b?.locked ?? false)
    : sameValue(a.value, b.value) && a.locked === b.locked;

/** Why an item cannot be made now, as a sentence; null when it can. Files are looked at when their turn comes. */
export function conflictOf(item: ChangeItem, world: World): string | null {
  if (isFileItem(item)) return null;
  if (item.kind === 'set-field') {
    const now = world.held(item.trackId, item.field);
    if (now === undefined) return 'The track is no longer in the library';
    if (!sameHeld(now, item.before)) return 'The field has changed since';
    if (now?.locked && item.after?.locked !== false && !sameValue(now.value, item.after?.value))
      return 'The field is locked';
    return null;
  }
  if (item.kind === 'set-picture') {
    const now = world.picture(item.trackId);
    if (now === undefined) return 'The track is no longer in the library';
    return now === item.before ? null : 'The picture has changed since';
  }
  const list = world.list(item.listId);
  const { edit } = item;
  if (edit.op === 'exist') {
    if (edit.before === null) return list ? 'The list is there already' : null;
    if (!list) return 'The list is no longer there';
    return edit.after === null && list.entries.length > 0 ? 'The list has been filled since' : null;
  }
  if (!list) return 'The list is no longer there';
  if (edit.op === 'describe') {
    const changed = (Object.keys(edit.before) as (keyof ListInfo)[]).some((k) => list.info[k] !== edit.before[k]);
    return changed ? 'The list has been changed since' : null;
  }
  return placementConflict(edit.placements, list);
}

function placementConflict(placements: Placement[], list: ListState): string | null {
  const there = new Map(list.entries.map((e) => [e.id, e.trackId]));
  const tracks = new Set(list.entries.map((e) => e.trackId));
  for (const p of placements) {
    if (p.before === null && there.has(p.entryId)) return 'The entry is in the list already';
    if (p.before !== null && !there.has(p.entryId)) return 'The entry is no longer in the list';
    if (list.info.kind === 'crate' && p.before === null && tracks.has(p.trackId))
      return 'The track is in the crate already';
    if (p.after === null) {
      there.delete(p.entryId);
      tracks.delete(p.trackId);
    } else {
      there.set(p.entryId, p.trackId);
      tracks.add(p.trackId);
    }
  }
  return null;
}

/** Makes placements on an order and returns the new one. Entries whose place is gone go by index. */
export function place(entries: readonly Entry[], placements: readonly Placement[]): Entry[] {
  const order = [...entries];
  for (const p of placements) {
    if (p.before !== null) {
      const at = order.findIndex((e) => e.id === p.entryId);
      if (at >= 0) order.splice(at, 1);
    }
    if (p.after !== null) order.splice(indexOfPlace(order, p.after), 0, { id: p.entryId, trackId: p.trackId });
  }
  return order;
}

function indexOfPlace(order: readonly Entry[], target: Place): number {
  if (target.behind === null) return 0;
  const anchor = order.findIndex((e) => e.id === target.behind);
  return anchor >= 0 ? anchor + 1 : Math.min(target.index, order.length);
}

/** The list after an edit; undefined when it no longer exists. */
export function applyEdit(list: ListState | undefined, edit: ListEdit): ListState | undefined {
  if (edit.op === 'exist') return edit.after ? { info: edit.after, entries: list?.entries ?? [] } : undefined;
  if (!list) return undefined;
  if (edit.op === 'describe') return { ...list, info: { ...list.info, ...edit.after } };
  return { ...list, entries: place(list.entries, edit.placements) };
}
