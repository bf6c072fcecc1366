/**
 * What takes changes of tags back, kept in a folder of its own: one file an edit, written and on the disk before the
 * audio file is touched. Going back restores the bytes that were there, or refuses where others have changed them
 * since.
 */
import { createHash, randomUUID } from 'node:crypto';
import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  realpathSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { TagTrouble } from '@early-set/core/tags/bytes';
import type { TagEdits } from '@early-set/core/tags/edit';
import { byteUndoOf, reversed, splicesOf, stateOf, type ByteUndo } from './byteUndo.ts';
import { HalfWritten } from './overwrite.ts';
import { applySplices, overwriteBack, withSource, writeTags, type WriteOptions, type Written } from './tagFile.ts';

/** One edit, with the file it was made in. */
type KeptEdit = ByteUndo & { file: string };

const shelfOf = (folder: string, path: string): string =>
  join(folder, createHash('sha256').update(realpathSync(path)).digest('hex').slice(0, 24));

/** Changes tags so that `takeBack` can restore them. @throws as writeTags does */
export function writeTagsKept(folder: string, path: string, edits: TagEdits, options: WriteOptions = {}): Written {
  let kept: string | null = null;
  try {
    return writeTags(path, edits, {
      ...options,
      before(splices, back, sizeAfter) {
        kept = keep(shelfOf(folder, path), {
          file: realpathSync(path),
          ...byteUndoOf(
            splices,
            back,
            withSource(path, (s) => s.size),
            sizeAfter,
          ),
        });
      },
    });
  } catch (error) {
    // What a file that was left in part needs to be put back is kept: `takeBack` does it.
    if (kept !== null && !(error instanceof HalfWritten)) rmSync(kept, { force: true });
    throw error;
  }
}

function keep(shelf: string, edit: KeptEdit): string {
  mkdirSync(shelf, { recursive: true });
  const last = entriesOf(shelf).at(-1),
    number = last === undefined ? 1 : Number.parseInt(last, 10) + 1;
  const path = join(shelf, `${String(number).padStart(8, '0')}-${randomUUID().slice(0, 8)}.json`);
  writeFileSync(path, JSON.stringify(edit));
  const file = openSync(path, 'r');
  try {
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  return path;
}

const entriesOf = (shelf: string): string[] =>
  existsSync(shelf)
    ? readdirSync(shelf)
        .filter((name) => name.endsWith('.json'))
        .sort()
    : [];

/**
 * Restores what the latest edit of a file replaced; further calls go further back.
 * @throws TagTrouble when nothing is kept, or the file has been changed by others since
 */
export function takeBack(folder: string, path: string, { dryRun = false, part = false } = {}): Written {
  const shelf = shelfOf(folder, path),
    last = entriesOf(shelf).at(-1);
  if (last === undefined) throw new TagTrouble('Nothing is kept that could be undone for this file');
  const entry = join(shelf, last);
  const edit = JSON.parse(readFileSync(entry, 'utf8')) as KeptEdit;
  const splices = splicesOf(reversed(edit));
  const state = withSource(path, (source) => stateOf(source, edit));
  if (state === 'other') throw new TagTrouble('The file has been changed by something else since; it is left as it is');
  const written = { changed: state !== 'untouched', inPlace: edit.sizeBefore === edit.sizeAfter };
  if (dryRun) return written;
  if (state === 'changed') applySplices(path, splices, { part });
  if (state === 'half') overwriteBack(path, splices);
  rmSync(entry);
  return written;
}
