/** All kinds of change as the server knows them; what they mean is core's. */
import { kindOf } from '@early-set/core/changes/items';
import type { BaseItem } from '@early-set/core/changes/kinds/kind';
import { editDateStored } from './kinds/editDate.ts';
import { editListStored } from './kinds/editList.ts';
import type { FileWork, ServerKind } from './kinds/kind.ts';
import { mainFileStored } from './kinds/mainFile.ts';
import { mergeTracksStored } from './kinds/mergeTracks.ts';
import { putAsideStored } from './kinds/putAside.ts';
import { removeCopiedStored } from './kinds/removeCopied.ts';
import { relinkFileStored } from './kinds/relinkFile.ts';
import { relocateFileStored } from './kinds/relocateFile.ts';
import { removeTrackStored } from './kinds/removeTrack.ts';
import { setFieldStored } from './kinds/setField.ts';
import { setPictureStored } from './kinds/setPicture.ts';
import { writeDestinationStored } from './kinds/writeDestination.ts';
import { writeMarksStored } from './kinds/writeMarks.ts';
import { writeStickStored } from './kinds/writeStick.ts';
import { writeTagsStored } from './kinds/writeTags.ts';

/**
 * In the order in which they are stored: what brings a track back comes before what is said of it, what takes it out
 * after.
 */
const KINDS = [
  removeTrackStored,
  mergeTracksStored,
  mainFileStored,
  setFieldStored,
  setPictureStored,
  editListStored,
  editDateStored,
  relinkFileStored,
  writeTagsStored,
  writeMarksStored,
  relocateFileStored,
  putAsideStored,
  removeCopiedStored,
  writeDestinationStored,
  writeStickStored,
] as unknown as readonly ServerKind<BaseItem>[];
const byName = new Map(KINDS.map((k) => [k.kind, k]));

export const STORED_IN_ORDER = KINDS;
export const serverKindOf = (item: BaseItem): ServerKind<BaseItem> => byName.get(kindOf(item).kind)!;

/** How an item of a file is made. @throws RangeError for one that is not made in files */
export function fileWorkOf(item: BaseItem): FileWork<BaseItem> {
  const work = serverKindOf(item).files;
  if (!work) throw new RangeError(`${item.kind} is not made in files`);
  return work;
}
