/**
 * What takes changes of tags back, kept in a folder of its own: one file an edit, written and on the disk before the
 * audio file is touched. Going back restores the bytes that were there, or refuses where others have changed them since.
 */
import { createHash, randomUUID } from 'node:crypto';
import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { sameBytes, TagTrouble, type Source } from '@early-set/core/tags/bytes';
import type { TagEdits } from '@early-set/core/tags/edit';
import { applySplices, withSource, writeTags, type WriteOptions, type Written } from './tagFile.ts';

/** One edit: at offsets of the changed file, what the edit put there and what was there before, in base64. */
interface Kept { file: string; sizeBefore: number; sizeAfter: number; places: { at: number; after: string; before: string }[] }

/** Edits of one file lie together, the latest last by name. */
const shelfOf = (folder: string, path: string): string => join(folder, createHash('sha256').update(realpathSync(path)).digest('hex').slice(0, 24));

const encode = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
const decode = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, 'base64'));

/** Changes tags so that `takeBack` can restore them. @throws as writeTags does */
export function writeTagsKept(folder: string, path: string, edits: TagEdits, options: WriteOptions = {}): Written {
  let kept: string | null = null;
  try {
    return writeTags(path, edits, {
      ...options,
      before(splices, back, sizeAfter) {
        const places = back.map((b, i) => ({ at: b.at, after: encode(splices[i]!.insert), before: encode(b.insert) }));
        kept = keep(shelfOf(folder, path), { file: realpathSync(path), sizeBefore: withSource(path, (s) => s.size), sizeAfter, places });
      },
    });
  } catch (error) {
    if (kept !== null) rmSync(kept, { force: true });
    throw error;
  }
}

function keep(shelf: string, edit: Kept): string {
  mkdirSync(shelf, { recursive: true });
  const last = entriesOf(shelf).at(-1), number = last === undefined ? 1 : Number.parseInt(last, 10) + 1;
  const path = join(shelf, `${String(number).padStart(8, '0')}-${randomUUID().slice(0, 8)}.json`);
  writeFileSync(path, JSON.stringify(edit));
  const file = openSync(path, 'r');
  try { fsyncSync(file); } finally { closeSync(file); }
  return path;
}

const entriesOf = (shelf: string): string[] => (existsSync(shelf) ? readdirSync(shelf).filter((name) => name.endsWith('.json')).sort() : []);

/**
 * Restores what the latest edit of a file replaced; further calls go further back.
 * @throws TagTrouble when nothing is kept, or the file has been changed by others since
 */
export function takeBack(folder: string, path: string, { dryRun = false } = {}): Written {
  const shelf = shelfOf(folder, path), last = entriesOf(shelf).at(-1);
  if (last === undefined) throw new TagTrouble('Nothing is kept that could be taken back for this file');
  const entry = join(shelf, last);
  const edit = JSON.parse(readFileSync(entry, 'utf8')) as Kept;
  const splices = edit.places.map((p) => ({ at: p.at, remove: decode(p.after).length, insert: decode(p.before) }));
  const state = withSource(path, (source) => stateOf(source, edit));
  if (state === 'other') throw new TagTrouble('The file has been changed by something else since; it is left as it is');
  const written = { changed: state === 'changed', inPlace: edit.sizeBefore === edit.sizeAfter };
  if (dryRun) return written;
  if (state === 'changed') applySplices(path, splices);
  rmSync(entry);
  return written;
}

/** Whether a file is as an edit left it, in whole or (when its process was killed) in part, or as it found it. */
function stateOf(source: Source, edit: Kept): 'changed' | 'untouched' | 'other' {
  const sameSize = edit.sizeBefore === edit.sizeAfter;
  const holds = (at: number, bytes: Uint8Array): boolean => at + bytes.length <= source.size && sameBytes(source.read(at, bytes.length), bytes);
  let moved = 0, after = source.size === edit.sizeAfter, before = source.size === edit.sizeBefore, either = sameSize && after;
  for (const p of edit.places) {
    const now = decode(p.after), was = decode(p.before);
    const isNow = holds(p.at, now), isThen = holds(p.at + moved, was);
    moved += was.length - now.length;
    after &&= isNow;
    before &&= isThen;
    either &&= isNow || (was.length === now.length && isThen);
  }
  return before ? 'untouched' : after || either ? 'changed' : 'other';
}
