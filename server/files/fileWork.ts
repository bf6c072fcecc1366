/** What is done to one file at a time, off the main thread: look at its tags, work out an edit, make it. */
import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import type { Source } from '@early-set/core/tags/bytes';
import { fieldsIn, openTags, type TagEdits } from '@early-set/core/tags/edit';
import { inverseSplices } from '@early-set/core/tags/bytes';
import { setTags } from '@early-set/core/tags/edit';
import type { Container } from '@early-set/core/tags/tagSet';
import { keptOf, reversed, splicesOf, stateOf, type Kept } from './kept.ts';
import { reasonOf } from './reasons.ts';
import { moveTo } from './moveFile.ts';
import { applySplices, overwriteBack, withSource } from './tagFile.ts';

/** A file as it is known: size, times, and what its tags say. */
export interface FileStamp {
  size: number;
  modifiedMs: number;
  changedMs: number;
  tagHash: string;
  fields: Record<string, string[]>;
}

export type FileWish =
  | { op: 'look'; path: string }
  | { op: 'prepare'; path: string; edits: TagEdits; newId3Version: 3 | 4 }
  | { op: 'state'; path: string; kept: Kept }
  | { op: 'write'; path: string; kept: Kept }
  | { op: 'mend'; path: string; kept: Kept }
  | { op: 'move'; from: string; to: string; size: number; modifiedMs: number };

export interface FileAnswers {
  look: FileStamp;
  /** Null when nothing has to change. */
  prepare: { kept: Kept | null; fieldsBefore: Record<string, string[]> };
  state: ReturnType<typeof stateOf>;
  write: FileStamp;
  mend: FileStamp;
  move: { changedMs: number };
}

export type FileAnswer = { ok: true; answer: FileAnswers[keyof FileAnswers] } | { ok: false; reason: string };

/** Does what is wished; what stands in the way of this file is told as a sentence. */
export function workOnFile(wish: FileWish): FileAnswer {
  try {
    return { ok: true, answer: does(wish) };
  } catch (error) {
    return { ok: false, reason: reasonOf(error) };
  }
}

function does(wish: FileWish): FileAnswers[keyof FileAnswers] {
  if (wish.op === 'move') return moveTo(wish);
  const { path } = wish;
  switch (wish.op) {
    case 'look':
      return lookAt(path);
    case 'prepare':
      return prepare(wish);
    case 'state':
      return withSource(path, (source) => stateOf(source, wish.kept));
    case 'write': {
      const state = withSource(path, (source) => stateOf(source, wish.kept));
      if (state !== 'untouched') throw new RangeError('The file has been changed by something else since');
      applySplices(path, splicesOf(wish.kept));
      return lookAt(path);
    }
    case 'mend':
      overwriteBack(path, splicesOf(reversed(wish.kept)));
      return lookAt(path);
  }
}

/** Reads size, times and tags. @throws TagTrouble when its tags cannot be read */
export function lookAt(path: string): FileStamp {
  const { size, mtimeMs, ctimeMs } = statSync(path);
  const tags = withSource(path, (source) => {
    const container = openTags(source);
    return { tagHash: hashOf(source, container), fields: fieldsIn(container) };
  });
  return { size, modifiedMs: mtimeMs, changedMs: ctimeMs, ...tags };
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
    const splices = container.splices();
    if (splices.length === 0) return { kept: null, fieldsBefore };
    const sizeAfter = splices.reduce((size, s) => size + s.insert.length - s.remove, source.size);
    return { kept: keptOf(splices, inverseSplices(source, splices), source.size, sizeAfter), fieldsBefore };
  });
}
