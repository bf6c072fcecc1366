/**
 * Bytes written where they lie. When that breaks off midway (a full disk, a drive that fails), what was there is put
 * back and read again; only when that cannot be done is the file left in part, and then it is said.
 */
import { closeSync, fstatSync, fsyncSync, futimesSync, readSync } from 'node:fs';
import { sameBytes, TagTrouble, type Splice } from '@early-set/core/tags/bytes';
import { identityOf, sameIdentity, writeAll, type Identity } from './place.ts';
import { reasonOf } from './reasons.ts';
import { openRegular } from './regular.ts';

/** The file holds some of the new bytes and some of the old ones. */
export class HalfWritten extends Error {
  override name = 'HalfWritten';
}

/** How bytes are written, so that a test can let it break off. */
export type WriteBytes = (file: number, bytes: Uint8Array, at: number) => void;

/**
 * Writes splices that change no length. Times are kept.
 * @param was the file as it was looked at; another one of its name is left alone
 * @throws TagTrouble or the system's error, the file being as it was; HalfWritten when it could not be put back
 */
export function overwrite(
  path: string,
  splices: readonly Splice[],
  was: Identity | null,
  write: WriteBytes = writeAll,
): void {
  const file = openRegular(path, 'write');
  try {
    const stats = fstatSync(file);
    if (was && !sameIdentity(identityOf(stats), was))
      throw new TagTrouble('The file has been changed by something else in the meantime; it is left as it is');
    const before = splices.map((s) => readAt(file, s.at, s.insert.length));
    try {
      for (const s of splices) write(file, s.insert, s.at);
      fsyncSync(file);
    } catch (error) {
      putBack(file, splices, before, error);
      throw error;
    } finally {
      futimesSync(file, stats.atimeMs / 1000, stats.mtimeMs / 1000);
    }
  } finally {
    closeSync(file);
  }
}

/** @throws TagTrouble when the file ends before that */
export function readAt(file: number, at: number, length: number): Uint8Array {
  const out = new Uint8Array(length);
  for (let got = 0; got < length;) {
    const n = readSync(file, out, got, length - got, at + got);
    if (n === 0) throw new TagTrouble('The file became shorter while it was read');
    got += n;
  }
  return out;
}

/** Only what differs is written: what a full disk never took needs no room to be put back. */
function putBack(file: number, splices: readonly Splice[], before: readonly Uint8Array[], why: unknown): void {
  try {
    splices.forEach((s, i) => {
      const was = before[i]!,
        now = readAt(file, s.at, was.length);
      const first = now.findIndex((v, k) => v !== was[k]);
      if (first < 0) return;
      const last = now.findLastIndex((v, k) => v !== was[k]);
      writeAll(file, was.subarray(first, last + 1), s.at + first);
    });
    fsyncSync(file);
    if (splices.every((s, i) => sameBytes(readAt(file, s.at, before[i]!.length), before[i]!))) return;
  } catch {
    /* said below */
  }
  throw new HalfWritten(
    `${reasonOf(why).replace(/; the file is as it was$/, '')}. The file was written in part and could not be put ` +
      'back; this is done as soon as its drive can be written again',
    { cause: why },
  );
}
