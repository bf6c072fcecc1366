/**
 * Changes as values. A draft is a list of items; each says what is and what will be, so that its inverse is the same
 * item turned round, and a conflict is seen by comparing "before" with what is there. All that a kind of change is
 * stands in its own module; here they only meet.
 */
import { editDateKind, type EditDate } from './kinds/editDate.ts';
import { editListKind, type EditList } from './kinds/editList.ts';
import { mainFileKind, type MainFile } from './kinds/mainFile.ts';
import { leftKey, type BaseItem, type ChangeKind, type Touches, type Words } from './kinds/kind.ts';
import { mergeTracksKind, type MergeTracks } from './kinds/mergeTracks.ts';
import { putAsideKind, type PutAside } from './kinds/putAside.ts';
import { removeCopiedKind, type RemoveCopied } from './kinds/removeCopied.ts';
import { relinkFileKind, type RelinkFile } from './kinds/relinkFile.ts';
import { relocateFileKind, type RelocateFile } from './kinds/relocateFile.ts';
import { removeTrackKind, type RemoveTrack } from './kinds/removeTrack.ts';
import { setFieldKind, type SetField } from './kinds/setField.ts';
import { setPictureKind, type SetPicture } from './kinds/setPicture.ts';
import { writeDestinationKind, type WriteDestination } from './kinds/writeDestination.ts';
import { writeMarksKind, type WriteMarks } from './kinds/writeMarks.ts';
import { writeStickKind, type WriteStick } from './kinds/writeStick.ts';
import { writeTagsKind, type WriteTags } from './kinds/writeTags.ts';
import type { Snapshot } from './snapshot.ts';

export type ChangeItem =
  | SetField
  | SetPicture
  | WriteTags
  | EditList
  | EditDate
  | RelocateFile
  | RemoveTrack
  | RelinkFile
  | MergeTracks
  | MainFile
  | PutAside
  | RemoveCopied
  | WriteDestination
  | WriteStick
  | WriteMarks;

const KINDS = [
  setFieldKind,
  setPictureKind,
  writeTagsKind,
  editListKind,
  editDateKind,
  relocateFileKind,
  removeTrackKind,
  relinkFileKind,
  mergeTracksKind,
  mainFileKind,
  putAsideKind,
  removeCopiedKind,
  writeDestinationKind,
  writeStickKind,
  writeMarksKind,
] as unknown as readonly ChangeKind<BaseItem>[];
const byName = new Map(KINDS.map((k) => [k.kind, k]));

/** Names of all kinds. */
export const KIND_NAMES: readonly string[] = KINDS.map((k) => k.kind);

/** What is known of an item's kind. @throws RangeError for one that there is not */
export function kindOf(item: BaseItem): ChangeKind<BaseItem> {
  const kind = byName.get(item.kind);
  if (!kind) throw new RangeError(`There is no change of the kind "${item.kind}"`);
  return kind;
}

/** Items that touch files are made one by one, after those of the library. */
export const isFileItem = (item: BaseItem): boolean => kindOf(item).inFiles;

/**
 * The item that takes this one back.
 * @example inverse(setField(1, 'title', a, b)) // … before: b, after: a
 */
export const inverse = <I extends BaseItem>(item: I): I => kindOf(item).inverse(item) as I;

/** The items that take a whole change set back, last first. */
export const inverseOf = (items: readonly ChangeItem[]): ChangeItem[] => items.map((item) => inverse(item)).reverse();

/** Why an item cannot be made now, as a sentence; null when it can. */
export const conflictOf = <I extends BaseItem>(item: I, snapshot: Snapshot): string | null =>
  kindOf(item).conflict(item, snapshot);

export const touchesOf = (item: BaseItem): Touches => kindOf(item).touches(item);
export const wordsOf = (item: BaseItem): Words => kindOf(item).words(item);

/** An item of a draft and what became of it: made, in the way of something, or a file's that waits for its turn. */
export interface Line<I extends BaseItem = ChangeItem> {
  item: I;
  state: 'done' | 'conflict' | 'waiting';
  reason: string | null;
  /** Which item of the draft it was, from 0. */
  of: number;
}

/**
 * Makes a draft on a snapshot, which is changed: a dry run on a copy of what is there, the real thing in the server's
 * transaction. Items of the library come first; what it did not take does not go into files either.
 */
export function run<I extends BaseItem>(items: readonly I[], snapshot: Snapshot): Line<I>[] {
  const left = new Map<string, string>();
  const lines: Line<I>[] = [];
  const make = (item: I, of: number, done: 'done' | 'waiting'): string | null => {
    const reason = conflictOf(item, snapshot);
    if (reason === null) kindOf(item).apply(item, snapshot);
    lines.push({ item, state: reason === null ? done : 'conflict', reason, of });
    return reason;
  };
  const numbered = items.map((item, of) => ({ item, of }));
  for (const { item, of } of numbered.filter(({ item: i }) => !isFileItem(i))) {
    const reason = make(item, of, 'done');
    if (reason !== null && 'field' in item && 'trackId' in item)
      left.set(leftKey(item.trackId as number, item.field as string), reason);
  }
  for (const { item: whole, of } of numbered.filter(({ item: i }) => isFileItem(i))) {
    const item = kindOf(whole).without?.(whole, left) ?? whole;
    if (typeof item === 'string') lines.push({ item: whole, state: 'conflict', reason: item, of });
    else make(item as I, of, 'waiting');
  }
  return lines;
}
