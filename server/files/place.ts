/**
 * The one way in which a file comes to a name: moved or copied there, or written there, never over another. What grows
 * does so under a name of its own in the folder it is for, is on the drive and compared before it takes its name, and
 * the source of a move goes last. All of it can be done again after a kill at any point.
 */
import { createHash } from 'node:crypto';
import {
  closeSync,
  fchmodSync,
  fchownSync,
  fstatSync,
  fsyncSync,
  futimesSync,
  linkSync,
  lstatSync,
  openSync,
  readSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  unlinkSync,
  writeSync,
  type Stats,
} from 'node:fs';
import { dirname } from 'node:path';
import { QUARANTINE } from '@early-set/core/changes/kinds/relocateFile';
import { TagTrouble } from '@early-set/core/tags/bytes';
import { openRegular } from './regular.ts';
import { keepAttributes } from './attributes.ts';
import { hashFromMedium } from './readBack.ts';
import { makeFolder } from './makeFolder.ts';
import { removeRemainsOf, unfinishedName } from './unfinished.ts';

const BLOCK = 4 << 20;

/** What tells a file from another one of the same name. Times in milliseconds. */
export interface Identity {
  device: number;
  inode: number;
  size: number;
  modifiedMs: number;
}
export const identityOf = ({ dev, ino, size, mtimeMs }: Stats): Identity => ({
  device: dev,
  inode: ino,
  size,
  modifiedMs: mtimeMs,
});
export const sameIdentity = (a: Identity, b: Identity): boolean =>
  a.device === b.device && a.inode === b.inode && a.size === b.size && Math.abs(a.modifiedMs - b.modifiedMs) < 1;

const statOf = (path: string): Stats | null => lstatSync(path, { throwIfNoEntry: false }) ?? null;

/** So that a name outlives a loss of power; file systems that know no such thing are left in peace. */
export function settleFolder(folder: string): void {
  const open = openSync(folder, 'r');
  try {
    fsyncSync(open);
  } catch (error) {
    if (!['EINVAL', 'ENOTSUP', 'EBADF', 'EISDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
  } finally {
    closeSync(open);
  }
}

/** Writes all bytes, at a place or where the file stands. */
export function writeAll(file: number, bytes: Uint8Array, at: number | null): void {
  for (let done = 0; done < bytes.length;)
    done += writeSync(file, bytes, done, bytes.length - done, at === null ? null : at + done);
}

/** Gives an open file all that is kept beside the bytes of another, as far as the drive and this user can. */
export function likeSource(
  from: string,
  file: number,
  { mode, uid, gid, atimeMs, mtimeMs }: Pick<Stats, 'mode' | 'uid' | 'gid' | 'atimeMs' | 'mtimeMs'>,
): void {
  const asFarAsPossible = (work: () => void): void => {
    try {
      work();
    } catch (error) {
      if (!['EPERM', 'ENOTSUP', 'ENOSYS', 'EINVAL'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
    }
  };
  asFarAsPossible(() => fchmodSync(file, mode & 0o7777));
  asFarAsPossible(() => fchownSync(file, uid, gid));
  keepAttributes(from, file);
  asFarAsPossible(() => futimesSync(file, atimeMs / 1000, mtimeMs / 1000));
}

const NO_LINKS = ['EPERM', 'ENOTSUP', 'ENOSYS', 'EMLINK', 'EOPNOTSUPP'];
const codeOf = (error: unknown): string => (error as NodeJS.ErrnoException).code ?? '';
export const TAKEN = 'There is a file of that name already';

/**
 * Gives a file another name in its file system, never over an existing file. Where there are no second names (FAT,
 * exFAT), an empty file of the new name is made first, which fails where one is, and is then replaced.
 * @throws RangeError when the name is taken; the system's error EXDEV when it is another file system
 */
export function rename(from: string, to: string): void {
  try {
    linkSync(from, to);
  } catch (error) {
    if (codeOf(error) === 'EEXIST') throw new RangeError(TAKEN);
    if (!NO_LINKS.includes(codeOf(error))) throw error;
    renameOverPlaceholder(from, to);
    return;
  }
  try {
    unlinkSync(from);
  } catch (error) {
    unlinkSync(to);
    throw error;
  }
}

function renameOverPlaceholder(from: string, to: string): void {
  let own: Identity;
  try {
    const file = openSync(to, 'wx');
    own = identityOf(fstatSync(file));
    closeSync(file);
  } catch (error) {
    if (codeOf(error) === 'EEXIST') throw new RangeError(TAKEN);
    throw error;
  }
  const now = statOf(to);
  if (!now || !sameIdentity(identityOf(now), own)) throw new RangeError(TAKEN);
  try {
    renameSync(from, to);
  } catch (error) {
    if (statOf(to)?.size === 0) rmSync(to, { force: true });
    throw error;
  }
}

/**
 * Writes a file beside the name it is for; when it is whole and on the drive, it takes the name: a new one, or that of
 * the file given as `over`, which must still be just that.
 */
export function makeAndName(
  path: string,
  { over, isCleared = false }: { over: Identity | null; isCleared?: boolean },
  write: (file: number) => void,
): void {
  if (!isCleared) removeRemainsOf(path);
  const temporary = unfinishedName(path);
  const file = openSync(temporary, 'wx+');
  let open = true;
  try {
    write(file);
    fsyncSync(file);
    closeSync(file);
    open = false;
    if (over === null) rename(temporary, path);
    else {
      const now = statOf(path);
      if (!now || !sameIdentity(identityOf(now), over))
        throw new TagTrouble('The file has been changed by something else in the meantime; it is left as it is');
      renameSync(temporary, path);
    }
    settleFolder(dirname(path));
  } catch (error) {
    if (open) closeSync(file);
    rmSync(temporary, { force: true });
    throw error;
  }
}

/** Moments between which a process may die. */
export type PlaceStep = 'reserved' | 'half' | 'copied' | 'compared' | 'named' | 'source removed';

export interface Placing {
  mode: 'move' | 'copy';
  from: string;
  to: string;
  /** The file as it is known; another one of that name is not taken. */
  size: number;
  modifiedMs: number;
  /** Folders below this one that a moved file leaves empty go with it; left out, only those of quarantine. */
  below?: string;
  /** This was under way before: a file at the new name with the same content is its own work. */
  begun: boolean;
  /** The copy is compared as its drive has it, where it can be read so. */
  fromMedium?: boolean;
  /** A copy takes the place of what has the name, in one step: whoever looks finds the one or the other, whole. */
  over?: boolean;
  /** What killed processes left in that folder has been removed already. */
  isCleared?: boolean;
}

export interface PlaceHooks {
  progress?: (bytes: number) => void;
  cancelled?: () => boolean;
  step?: (step: PlaceStep) => void;
}

/** A file as it lies now. */
export interface Placed {
  size: number;
  modifiedMs: number;
  changedMs: number;
  /** Of what was copied: its SHA-256, and whether the drive itself was read to compare it. */
  copied?: Copied;
}
export interface Copied {
  hash: string;
  fromMedium: boolean;
}

/** Was called off. */
export class Cancelled extends Error {
  override name = 'Cancelled';
}

/**
 * Moves or copies a file. What a kill broke off is finished; what was made already is left as it is.
 * @throws RangeError when another file is there, Cancelled, or the system's error
 */
export function place(wish: Placing, hooks: PlaceHooks = {}): Placed {
  const { from, to, mode } = wish;
  makeFolder(dirname(to));
  const old = statOf(from),
    there = statOf(to);
  let copied: Copied | undefined;
  if (there === null || wish.over) {
    if (old === null) throw Object.assign(new Error('not there'), { code: 'ENOENT' });
    if (mode === 'copy') copied = copyAcross(wish, hooks, there && identityOf(there));
    else
      try {
        rename(from, to);
        hooks.step?.('named');
      } catch (error) {
        if (codeOf(error) !== 'EXDEV') throw error;
        copyAcross(wish, hooks, null);
      }
  } else if (old === null) {
    if (there.size !== wish.size || Math.abs(there.mtimeMs - wish.modifiedMs) >= 1)
      throw new RangeError('The file is not where it was, and another has its new name');
  } else if (old.ino === there.ino && old.dev === there.dev) {
    // Two names for one file: a move that broke off. One name on a drive that does not tell capitals apart: only they
    // change.
    if (mode === 'copy') throw new RangeError(TAKEN);
    if (there.nlink > 1) unlinkSync(from);
    else renameSync(from, to);
  } else {
    if (!wish.begun || !sameContent(from, to)) throw new RangeError(TAKEN);
    if (mode === 'move') removeSource(from, identityOf(old), hooks);
  }
  settleFolder(dirname(to));
  if (mode === 'move') leaveFolder(dirname(from), wish.below);
  const { size, mtimeMs, ctimeMs } = statSync(to);
  return { size, modifiedMs: mtimeMs, changedMs: ctimeMs, ...(copied ? { copied } : {}) };
}

/** The folders that a file left go, from its own upwards, where nothing else lies in them; what stays is settled. */
function leaveFolder(folder: string, below: string | undefined): void {
  const mayGo = (at: string): boolean =>
    below === undefined ? at.split('/').includes(QUARANTINE) : at.startsWith(`${below}/`);
  let at = folder;
  for (; mayGo(at); at = dirname(at))
    try {
      rmdirSync(at);
    } catch {
      break; // something else lies there
    }
  if (statOf(at)) settleFolder(at);
}

function copyAcross(wish: Placing, { progress, cancelled, step }: PlaceHooks, over: Identity | null): Copied {
  const { from, to, mode, size, modifiedMs } = wish;
  const copied: Copied = { hash: '', fromMedium: false };
  const source = openRegular(from);
  try {
    const stats = fstatSync(source);
    if (stats.size !== size || Math.abs(stats.mtimeMs - modifiedMs) >= 1)
      throw new RangeError('The file has been changed by something else since');
    makeAndName(to, { over, isCleared: wish.isCleared === true }, (file) => {
      step?.('reserved');
      copied.hash = hashWhile(source, (block, done) => {
        if (cancelled?.()) throw new Cancelled('Cancelled; nothing was placed');
        writeAll(file, block, null);
        progress?.(done);
        if (done - block.length < stats.size / 2 && done >= stats.size / 2) step?.('half');
      });
      fsyncSync(file);
      step?.('copied');
      const read = wish.fromMedium ? hashFromMedium(`/proc/${process.pid}/fd/${file}`) : null;
      copied.fromMedium = read !== null;
      if ((read ?? hashWhile(file, () => undefined)) !== copied.hash)
        throw new RangeError('The copy does not hold the same bytes');
      likeSource(from, file, stats);
      const now = fstatSync(source);
      if (!sameIdentity(identityOf(now), identityOf(stats)))
        throw new RangeError('The file was changed by something else while it was copied');
      step?.('compared');
    });
    step?.('named');
    if (mode === 'move') removeSource(from, identityOf(stats), { step });
  } finally {
    closeSync(source);
  }
  return copied;
}

function removeSource(from: string, was: Identity, { step }: PlaceHooks): void {
  const now = statOf(from);
  if (now && !sameIdentity(identityOf(now), was))
    throw new RangeError('The file was changed by something else; both stay');
  unlinkSync(from);
  step?.('source removed');
}

/** SHA-256 of an open file from its start, block by block. */
function hashWhile(file: number, use: (block: Uint8Array, done: number) => void): string {
  const hash = createHash('sha256'),
    buffer = Buffer.allocUnsafe(BLOCK);
  for (let at = 0; ;) {
    const got = readSync(file, buffer, 0, BLOCK, at);
    if (got === 0) return hash.digest('hex');
    at += got;
    const block = buffer.subarray(0, got);
    hash.update(block);
    use(block, at);
  }
}

const sameContent = (a: string, b: string): boolean => hashInMemory(a) === hashInMemory(b);

function hashInMemory(path: string): string {
  const file = openRegular(path);
  try {
    return hashWhile(file, () => undefined);
  } finally {
    closeSync(file);
  }
}

/** The hash of a file, read from its drive where that can be done. */
export function hashAt(path: string): Copied {
  const hash = hashFromMedium(path);
  return { hash: hash ?? hashInMemory(path), fromMedium: hash !== null };
}
