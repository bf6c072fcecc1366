/**
 * Splices made real on a disk. Where no length changes, the bytes are written where they lie; else a file of its own
 * grows beside the old one, is compared with it and takes its place. The sound is never touched, and that is checked.
 */
import { closeSync, fstatSync, realpathSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';
import { inverseSplices, TagTrouble, type Source, type Splice } from '@early-set/core/tags/bytes';
import { openTags, setTags, type TagEdits, type TagOptions } from '@early-set/core/tags/edit';
import type { Container } from '@early-set/core/tags/tagSet';
import { overwrite, readAt } from './overwrite.ts';
import { identityOf, likeSource, makeAndName, writeAll, type Identity } from './place.ts';
import { openRegular } from './regular.ts';

const BLOCK = 1 << 20;
/** Reads of tags come in small pieces from few places. */
const PAGE = 1 << 16;

/** An open file as a source. The last page read is kept. */
export function fileSource(file: number): Source {
  const { size } = fstatSync(file);
  let page: Uint8Array = new Uint8Array(0),
    pageAt = 0;
  return {
    size,
    read(at, length) {
      if (at < 0 || length < 0 || at + length > size)
        throw new TagTrouble('The file ends in the middle of its structure');
      if (length > PAGE / 2) return readAt(file, at, length);
      if (at < pageAt || at + length > pageAt + page.length) {
        pageAt = at;
        page = readAt(file, at, Math.min(PAGE, size - at));
      }
      return page.slice(at - pageAt, at - pageAt + length);
    },
  };
}

/** Opens a file for reading its tags. */
export const withSource = <T>(path: string, use: (source: Source) => T): T =>
  withOpen(path, (_file, source) => use(source));

export interface Written {
  changed: boolean;
  inPlace: boolean;
}

export interface WriteOptions extends TagOptions {
  dryRun?: boolean;
  /** Where the file has other names (hard links), it may be parted from them: they keep the old one. */
  part?: boolean;
  /** Hears what is about to be put in and what would take it back, before the file is touched. */
  before?: (splices: readonly Splice[], back: readonly Splice[], sizeAfter: number) => void;
}

/**
 * Changes the tags of a file. Times and permissions are kept.
 * @throws TagTrouble when it cannot be done; the file is then as it was
 */
export function writeTags(path: string, edits: TagEdits, options: WriteOptions = {}): Written {
  return withOpen(path, (file, source, was) => {
    const container = openTags(source, options);
    setTags(container, edits);
    const splices = container.splices();
    guardSound(container.audio, splices);
    const part = options.part === true;
    if (splices.length > 0) mayWrite(path, file, splices, part);
    if (splices.length > 0 && !options.dryRun) {
      options.before?.(
        splices,
        inverseSplices(source, splices),
        splices.reduce((size, s) => size + s.insert.length - s.remove, source.size),
      );
      makeReal({ path, file, was, source, splices, audio: container.audio }, part);
    }
    return { changed: splices.length > 0, inPlace: isInPlace(splices) };
  });
}

const CHANGED = 'The file has been changed by something else since';

export interface ApplyOptions {
  /** Whether the file is still the one that they are for; asked of the very file that is written. */
  expected?: (source: Source) => boolean;
  /** As of `WriteOptions`. */
  part?: boolean;
}

/**
 * Puts splices into a file whose tags they came from.
 * @throws TagTrouble when they would touch the sound, or it is another file
 */
export function applySplices(
  path: string,
  splices: readonly Splice[],
  { expected, part = false }: ApplyOptions = {},
): void {
  withOpen(path, (file, source, was) => {
    const { audio } = openTags(source);
    guardSound(audio, splices);
    if (expected && !expected(source)) throw new TagTrouble(CHANGED);
    makeReal({ path, file, was, source, splices, audio }, part);
  });
}

/** Puts bytes back where an edit in place broke off; the structure may not add up until this is done. */
export function overwriteBack(path: string, splices: readonly Splice[]): void {
  if (!isInPlace(splices)) throw new TagTrouble('Only an edit in place can break off halfway');
  overwrite(realpathSync(path), splices, null);
}

function withOpen<T>(path: string, use: (file: number, source: Source, was: Identity) => T): T {
  const file = openRegular(path);
  try {
    const was = identityOf(fstatSync(file)); // before anything is read: what is written is still that file
    return use(file, fileSource(file), was);
  } finally {
    closeSync(file);
  }
}

const isInPlace = (splices: readonly Splice[]): boolean => splices.every((s) => s.insert.length === s.remove);

interface Edit {
  path: string;
  file: number;
  was: Identity;
  source: Source;
  splices: readonly Splice[];
  audio: readonly Span[];
}

/**
 * Refuses what must not be written.
 * @param part the file may be parted from its other names: they keep the old one
 */
function mayWrite(path: string, file: number, splices: readonly Splice[], part: boolean): void {
  // Whoever may write everything is asked to respect the marks too.
  if ((fstatSync(file).mode & 0o222) === 0) throw new TagTrouble('The file is read-only');
  if (!isInPlace(splices) && (statSync(dirname(realpathSync(path))).mode & 0o222) === 0)
    throw new TagTrouble('The folder of the file is read-only');
  if (!part && !isInPlace(splices) && fstatSync(file).nlink > 1) throw new TagTrouble(OTHER_NAMES);
}

function makeReal({ path, file, was, source, splices, audio }: Edit, part: boolean): void {
  mayWrite(path, file, splices, part);
  // A link stays a link: what it leads to is written.
  const real = realpathSync(path);
  if (isInPlace(splices)) overwrite(real, splices, was);
  else rewrite(real, file, was, source, splices, audio);
}

type Span = Container['audio'][number];

/** Splices in the sound are the eight bytes of page numbers in Ogg and nothing else. */
function guardSound(audio: readonly Span[], splices: readonly Splice[]): void {
  const inSound = splices.filter((s) => audio.some((a) => s.at < a.to && s.at + s.remove > a.from));
  if (inSound.some((s) => s.remove !== 8 || s.insert.length !== 8))
    throw new TagTrouble('The sound of the file would be touched');
}

function rewrite(
  path: string,
  old: number,
  was: Identity,
  source: Source,
  splices: readonly Splice[],
  audio: readonly Span[],
): void {
  makeAndName(path, { over: was }, (file) => {
    const { mode, uid, gid, atimeMs, mtimeMs } = fstatSync(old);
    let at = 0;
    for (const s of [...splices, { at: source.size, remove: 0, insert: new Uint8Array(0) }]) {
      for (; at < s.at;) {
        const block = source.read(at, Math.min(BLOCK, s.at - at));
        writeAll(file, block, null);
        at += block.length;
      }
      writeAll(file, s.insert, null);
      at = s.at + s.remove;
    }
    compareSound(source, fileSource(file), splices, audio);
    likeSource(path, file, { mode, uid, gid, atimeMs, mtimeMs });
  });
}

/** The sound of both files, byte for byte, but for what splices said of it. */
function compareSound(old: Source, made: Source, splices: readonly Splice[], before: readonly Span[]): void {
  const after = openTags(made).audio;
  const differs = (): never => {
    throw new TagTrouble('The sound would not be the same afterwards; the file is as it was');
  };
  if (before.length !== after.length) differs();
  before.forEach((a, i) => {
    const b = after[i]!;
    if (a.to - a.from !== b.to - b.from) differs();
    for (let at = a.from; at < a.to; at += BLOCK) {
      const length = Math.min(BLOCK, a.to - at),
        x = Buffer.from(old.read(at, length)),
        y = made.read(b.from + at - a.from, length);
      for (const s of splices)
        if (s.remove === 8 && s.insert.length === 8 && s.at + 8 > at && s.at < at + length) patch(x, s, at);
      if (!x.equals(y)) differs();
    }
  });
}

function patch(block: Uint8Array, s: Splice, at: number): void {
  s.insert.forEach((v, i) => {
    const k = s.at + i - at;
    if (k >= 0 && k < block.length) block[k] = v;
  });
}
