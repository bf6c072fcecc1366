/**
 * Splices made real on a disk. Where no length changes, the bytes are written where they lie; else a file of its own
 * grows beside the old one, is compared with it and takes its name. The sound is never touched, and that is checked.
 */
import { randomUUID } from 'node:crypto';
import { closeSync, existsSync, fchmodSync, fchownSync, fstatSync, fsyncSync, futimesSync, openSync, readSync, renameSync, rmSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { TagTrouble, type Source, type Splice } from '@early-set/core/tags/bytes';
import { editTags, openTags, type TagEdits, type TagOptions } from '@early-set/core/tags/edit';

const BLOCK = 1 << 20;
/** Reads of tags come in small pieces from few places. */
const PAGE = 1 << 16;

/** An open file as a source. The last page read is kept. */
export function fileSource(file: number): Source {
  const { size } = fstatSync(file);
  let page: Uint8Array = new Uint8Array(0), pageAt = 0;
  const readAll = (at: number, length: number): Uint8Array => {
    const out = new Uint8Array(length);
    for (let got = 0; got < length;) {
      const n = readSync(file, out, got, length - got, at + got);
      if (n === 0) throw new TagTrouble('The file became shorter while it was read');
      got += n;
    }
    return out;
  };
  return {
    size,
    read(at, length) {
      if (at < 0 || length < 0 || at + length > size) throw new TagTrouble('The file ends in the middle of its structure');
      if (length > PAGE / 2) return readAll(at, length);
      if (at < pageAt || at + length > pageAt + page.length) { pageAt = at; page = readAll(at, Math.min(PAGE, size - at)); }
      return page.slice(at - pageAt, at - pageAt + length);
    },
  };
}

/** Opens a file for reading its tags. */
export function withSource<T>(path: string, use: (source: Source) => T): T {
  const file = openSync(path, 'r');
  try { return use(fileSource(file)); } finally { closeSync(file); }
}

export interface Written { changed: boolean; inPlace: boolean }

/**
 * Changes the tags of a file. Times and permissions are kept.
 * @throws TagTrouble when it cannot be done; the file is then as it was
 */
export function writeTags(path: string, edits: TagEdits, options: TagOptions & { dryRun?: boolean } = {}): Written {
  const file = openSync(path, 'r');
  try {
    const source = fileSource(file);
    const splices = editTags(source, edits, options);
    guardSound(openTags(source, options).audio, splices);
    const inPlace = splices.every((s) => s.insert.length === s.remove);
    if (splices.length > 0 && !options.dryRun) {
      if (inPlace) overwrite(path, splices); else rewrite(path, file, source, splices, options);
    }
    return { changed: splices.length > 0, inPlace };
  } finally {
    closeSync(file);
  }
}

/** Splices in the sound are the eight bytes of page numbers in Ogg and nothing else. */
function guardSound(audio: readonly { from: number; to: number }[], splices: readonly Splice[]): void {
  const inSound = splices.filter((s) => audio.some((a) => s.at < a.to && s.at + s.remove > a.from));
  if (inSound.some((s) => s.remove !== 8 || s.insert.length !== 8)) throw new TagTrouble('The sound of the file would be touched');
}

function overwrite(path: string, splices: readonly Splice[]): void {
  const file = openSync(path, 'r+');
  try {
    const { atime, mtime } = fstatSync(file);
    for (const s of splices) writeAll(file, s.insert, s.at);
    futimesSync(file, atime, mtime);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
}

function writeAll(file: number, bytes: Uint8Array, at: number | null): void {
  for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done, at === null ? null : at + done);
}

/** Name of a file that is being written; the next scan and start know it by its beginning. */
export const UNFINISHED = '.early-set-unfinished-';

function rewrite(path: string, old: number, source: Source, splices: readonly Splice[], options: TagOptions): void {
  const { mode, uid, gid, atime, mtime } = fstatSync(old);
  const temporary = join(dirname(path), `${UNFINISHED}${randomUUID().slice(0, 8)}-${basename(path).slice(-60)}`);
  const file = openSync(temporary, 'wx+', mode);
  try {
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
    compareSound(source, fileSource(file), splices, options);
    fchmodSync(file, mode);
    try { fchownSync(file, uid, gid); } catch { /* only the owner of all may give files away */ }
    futimesSync(file, atime, mtime);
    fsyncSync(file);
    renameSync(temporary, path);
    const folder = openSync(dirname(path), 'r');
    try { fsyncSync(folder); } finally { closeSync(folder); }
  } catch (error) {
    if (existsSync(temporary)) rmSync(temporary, { force: true });
    throw error;
  } finally {
    closeSync(file);
  }
}

/** The sound of both files, byte for byte, but for what splices said of it. */
function compareSound(old: Source, made: Source, splices: readonly Splice[], options: TagOptions): void {
  const before = openTags(old, options).audio, after = openTags(made, options).audio;
  const differs = (): never => { throw new TagTrouble('The sound would not be the same afterwards; the file is as it was'); };
  if (before.length !== after.length) differs();
  before.forEach((a, i) => {
    const b = after[i]!;
    if (a.to - a.from !== b.to - b.from) differs();
    for (let at = a.from; at < a.to; at += BLOCK) {
      const length = Math.min(BLOCK, a.to - at), x = Buffer.from(old.read(at, length)), y = made.read(b.from + at - a.from, length);
      for (const s of splices) if (s.remove === 8 && s.insert.length === 8 && s.at + 8 > at && s.at < at + length) patch(x, s, at);
      if (!x.equals(y)) differs();
    }
  });
}

function patch(block: Uint8Array, s: Splice, at: number): void {
  s.insert.forEach((v, i) => { const k = s.at + i - at; if (k >= 0 && k < block.length) block[k] = v; });
}
