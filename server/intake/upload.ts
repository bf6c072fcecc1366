/** Files dropped on the page: received aside, checked, then moved into a root under a name of their own. */
import { constants } from 'node:fs';
import { copyFile, link, mkdir, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { safeFileName } from '@early-set/core/files/paths';
import { resolveForWriting } from '../media/roots.ts';
import { Problem } from '../problem.ts';
import { kindOf } from './kinds.ts';

/** Folder below a root in which dropped files arrive. */
export const DROP_FOLDER = 'Dropped here';
export const LARGEST_UPLOAD_BYTES = 2 * 1024 ** 3;

/** The path of a dropped file as safe segments: names cleaned, at most eight folders deep. @throws Problem for none. */
export function safeSegments(path: string): string[] {
  const segments = path
    .split(/[/\\]+/)
    .filter((s) => s && s !== '.' && s !== '..')
    .map((s) => safeFileName(s, 'file'));
  if (segments.length === 0) throw new Problem(400, 'no-name', 'The file has no name');
  return segments.slice(-8);
}

/**
 * Moves a received file into a root; nothing is overwritten.
 * @returns the path below the root
 * @throws Problem when it is not audio, empty, or the root cannot be written to. The received file is removed in any case.
 */
export async function placeUpload(received: string, rootPath: string, wantedPath: string): Promise<string> {
  try {
    const segments = safeSegments(wantedPath);
    const name = segments.at(-1)!;
    const kind = kindOf(name);
    if (kind.kind === 'other') throw new Problem(415, 'not-music', `${name}: ${kind.reason.toLowerCase()}`);
    if ((await stat(received)).size === 0) throw new Problem(400, 'empty', `${name}: the file is empty (zero bytes)`);
    const folder = await resolveForWriting(rootPath, [DROP_FOLDER, ...segments.slice(0, -1)]);
    await mkdir(folder, { recursive: true });
    const dot = name.lastIndexOf('.');
    for (let n = 1; n < 1000; n++) {
      const numbered = n === 1 ? name : `${name.slice(0, dot)} (${n})${name.slice(dot)}`;
      const target = await resolveForWriting(rootPath, [DROP_FOLDER, ...segments.slice(0, -1), numbered]);
      if (await moveWithoutOverwriting(received, target))
        return [DROP_FOLDER, ...segments.slice(0, -1), numbered].join('/');
    }
    throw new Problem(409, 'file-exists', `There are too many files named ${name}`);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOSPC') throw new Problem(507, 'no-space', 'There is no space left for the dropped files');
    if (code === 'EACCES' || code === 'EROFS' || code === 'EPERM')
      throw new Problem(403, 'read-only', `${rootPath} may not be written to`);
    throw error;
  } finally {
    await rm(received, { force: true });
  }
}

/** True when moved, false when the target exists. */
async function moveWithoutOverwriting(from: string, to: string): Promise<boolean> {
  try {
    await link(from, to);
    return true;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') return false;
    if (code !== 'EXDEV' && code !== 'EPERM' && code !== 'ENOTSUP') throw error;
  }
  // Another drive: a copy beside the target first, so that no scan sees half a file.
  const beside = join(dirname(to), `.arriving-${process.pid}-${Math.random().toString(36).slice(2)}`);
  try {
    await copyFile(from, beside, constants.COPYFILE_EXCL);
    await link(beside, to).catch(async (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPERM' && error.code !== 'ENOTSUP') throw error;
      await copyFile(beside, to, constants.COPYFILE_EXCL); // file systems without links, such as sticks
    });
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    throw error;
  } finally {
    await rm(beside, { force: true });
  }
}
