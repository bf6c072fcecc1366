/** A file given another path on the same disk, never over another file. */
import {
  closeSync,
  fsyncSync,
  linkSync,
  lstatSync,
  openSync,
  renameSync,
  statSync,
  unlinkSync,
  type Stats,
} from 'node:fs';
import { dirname } from 'node:path';

const statOf = (path: string): Stats | null => lstatSync(path, { throwIfNoEntry: false }) ?? null;

/**
 * Moves a file by a second name for it, which fails where one is taken, and then takes the first name away. A move that
 * broke off in between is finished; one that was made already, as size and time of the file tell, is left as it is.
 * @throws RangeError when another file is there
 */
export function moveTo({
  from,
  to,
  size,
  modifiedMs,
}: {
  from: string;
  to: string;
  size: number;
  modifiedMs: number;
}): { changedMs: number } {
  const old = statOf(from),
    there = statOf(to);
  if (there === null) {
    if (old === null) throw Object.assign(new Error('not there'), { code: 'ENOENT' });
    place(from, to);
  } else if (old === null) {
    if (there.size !== size || Math.abs(there.mtimeMs - modifiedMs) >= 1)
      throw new RangeError('The file is not where it was, and another has its new name');
  } else if (old.ino === there.ino && old.dev === there.dev) {
    // Two names for one file: a move that broke off. One name on a disk that does not tell capitals apart: only they change.
    if (there.nlink > 1) unlinkSync(from);
    else renameSync(from, to);
  } else {
    throw new RangeError('There is a file of that name already');
  }
  for (const folder of new Set([dirname(from), dirname(to)])) settleFolder(folder);
  return { changedMs: statSync(to).ctimeMs };
}

/** Where a disk knows no second names, the moment between looking and renaming has to be risked. */
function place(from: string, to: string): void {
  try {
    linkSync(from, to);
  } catch (error) {
    if (!['EPERM', 'ENOTSUP', 'ENOSYS', 'EMLINK', 'EOPNOTSUPP'].includes((error as NodeJS.ErrnoException).code ?? ''))
      throw error;
    renameSync(from, to);
    return;
  }
  try {
    unlinkSync(from);
  } catch (error) {
    unlinkSync(to);
    throw error;
  }
}

/** So that the new name outlives a loss of power. */
function settleFolder(folder: string): void {
  const open = openSync(folder, 'r');
  try {
    fsyncSync(open);
  } finally {
    closeSync(open);
  }
}
