/** What is done to one file at a time, off the main thread: read it, look at its tags, work out an edit, make it. */
import { createHash } from 'node:crypto';
import { closeSync, fstatSync, rmdirSync, statSync, type Stats } from 'node:fs';
import { fieldsIn, openTags, type TagEdits } from '@early-set/core/tags/edit';
import { joinCarts, readCart, writeCart, type Cart } from '@early-set/core/playout/cart';
import { inverseSplices, sameBytes, type Source, type Splice } from '@early-set/core/tags/bytes';
import { setWaveChunks, waveChunk } from '@early-set/core/tags/containers/iff';
import { setTags } from '@early-set/core/tags/edit';
import type { Container } from '@early-set/core/tags/tagSet';
import { readSource, type ReadFile } from '../media/tags.ts';
import { byteUndoOf, reversed, splicesOf, stateOf, type ByteUndo } from './byteUndo.ts';
import { Cancelled, hashAt, place, type Copied, type Placed, type PlaceHooks, type Placing } from './place.ts';
import { HalfWritten } from './overwrite.ts';
import { makeFolder } from './makeFolder.ts';
import { reasonOf } from './reasons.ts';
import { openRegular } from './regular.ts';
import { applySplices, fileSource, overwriteBack, withSource } from './tagFile.ts';

/** A file as it is known: size, times, and what its tags say. */
export interface FileStamp {
  size: number;
  modifiedMs: number;
  changedMs: number;
  tagHash: string;
  fields: Record<string, string[]>;
}

/** All that a file says of itself, from one opening. */
export interface FileReading extends ReadFile {
  /** Null where its tags cannot be read so that they could be written. */
  stamp: FileStamp | null;
}

export type FileWish =
  | { op: 'read'; path: string }
  | { op: 'look'; path: string }
  | { op: 'prepare'; path: string; edits: TagEdits; newId3Version: 3 | 4 }
  | { op: 'marks'; path: string; cart: Cart }
  | { op: 'state'; path: string; undo: ByteUndo }
  | { op: 'write'; path: string; undo: ByteUndo; part: boolean }
  | { op: 'mend'; path: string; undo: ByteUndo }
  | { op: 'folder'; path: string; make: boolean }
  | { op: 'hash'; path: string }
  | ({ op: 'place' } & Placing);

export interface FileAnswers {
  read: FileReading;
  look: FileStamp;
  /** Null when nothing has to change. */
  prepare: { byteUndo: ByteUndo | null; fieldsBefore: Record<string, string[]> };
  marks: FileAnswers['prepare'];
  state: ReturnType<typeof stateOf>;
  write: FileStamp;
  mend: FileStamp;
  folder: null;
  hash: Copied;
  place: Placed;
}

export type FileAnswer =
  | { ok: true; answer: FileAnswers[keyof FileAnswers] }
  | { ok: false; reason: string; cancelled: boolean; half: boolean; code?: string | undefined };

/** Does what is wished; what stands in the way of this file is told as a sentence. */
export async function workOnFile(wish: FileWish, hooks: PlaceHooks = {}): Promise<FileAnswer> {
  try {
    return { ok: true, answer: await does(wish, hooks) };
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const half = error instanceof HalfWritten;
    return { ok: false, reason: reasonOf(error), cancelled: error instanceof Cancelled, half, code };
  }
}

function does(wish: FileWish, hooks: PlaceHooks): FileAnswers[keyof FileAnswers] | Promise<FileReading> {
  if (wish.op === 'place') return place(wish, hooks);
  const { path } = wish;
  switch (wish.op) {
    case 'read':
      return readAt(path);
    case 'look':
      return lookAt(path);
    case 'hash':
      return hashAt(path);
    case 'prepare':
      return prepare(wish);
    case 'marks':
      return prepareMarks(wish);
    case 'state':
      return withSource(path, (source) => stateOf(source, wish.undo));
    case 'write': {
      applySplices(path, splicesOf(wish.undo), {
        expected: (source) => stateOf(source, wish.undo) === 'untouched',
        part: wish.part,
      });
      return lookAt(path);
    }
    case 'folder':
      if (wish.make) makeFolder(path);
      else removeEmpty(path);
      return null;
    case 'mend':
      overwriteBack(path, splicesOf(reversed(wish.undo)));
      return lookAt(path);
  }
}

/** What is gone already needs no removing. @throws the system's error where something lies in it */
function removeEmpty(folder: string): void {
  try {
    rmdirSync(folder);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
}

/** Reads size, times and tags. @throws TagTrouble when its tags cannot be read */
export const lookAt = (path: string): FileStamp => withSource(path, (source) => stampOf(source, statSync(path)));

function stampOf(source: Source, { size, mtimeMs, ctimeMs }: Stats): FileStamp {
  const container = openTags(source);
  const tags = { tagHash: hashOf(source, container), fields: fieldsIn(container) };
  return { size, modifiedMs: mtimeMs, changedMs: ctimeMs, ...tags };
}

/** Reads tags, technical data and picture. */
async function readAt(path: string): Promise<FileReading> {
  const file = openRegular(path);
  try {
    const source = fileSource(file);
    let stamp: FileStamp | null = null;
    try {
      stamp = stampOf(source, fstatSync(file));
    } catch (error) {
      // A drive that fails is told; tags that are odd in whatever way do not keep the file out.
      if ((error as NodeJS.ErrnoException).code !== undefined) throw error;
    }
    return { stamp, ...(await readSource(source, path)) };
  } finally {
    closeSync(file);
  }
}

/** Of all that is not sound. */
function hashOf(source: Source, { audio }: Container): string {
  const hash = createHash('sha1');
  let at = 0;
  for (const { from, to } of [...audio, { from: source.size, to: source.size }]) {
    for (; at < from; at += 1 << 20) hash.update(source.read(at, Math.min(1 << 20, from - at)));
    hash.update(`|${to - from}|`);
    at = to;
  }
  return hash.digest('hex');
}

function prepare({ path, edits, newId3Version }: FileWish & { op: 'prepare' }): FileAnswers['prepare'] {
  return withSource(path, (source) => {
    const container = openTags(source, { newId3Version });
    const fieldsBefore = fieldsIn(container);
    setTags(container, edits);
    return { byteUndo: undoFor(source, container.splices()), fieldsBefore };
  });
}

/** The `cart` chunk of a WAV file; null where it says all that already. @throws TagTrouble when it is no WAV */
function prepareMarks({ path, cart }: FileWish & { op: 'marks' }): FileAnswers['marks'] {
  return withSource(path, (source) => {
    const there = waveChunk(source, 'cart'),
      known = there && readCart(there);
    const body = writeCart(known ? joinCarts(known, cart) : cart);
    const splices = there && sameBytes(there, body) ? [] : setWaveChunks(source, { cart: body });
    return { byteUndo: undoFor(source, splices), fieldsBefore: fieldsIn(openTags(source)) };
  });
}

function undoFor(source: Source, splices: readonly Splice[]): ByteUndo | null {
  if (splices.length === 0) return null;
  const sizeAfter = splices.reduce((size, s) => size + s.insert.length - s.remove, source.size);
  return byteUndoOf(splices, inverseSplices(source, splices), source.size, sizeAfter);
}
