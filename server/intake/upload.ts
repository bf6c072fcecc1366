/** Files dropped on the page: received aside, checked, then moved into a root under a name of their own. */
import { rm, stat } from 'node:fs/promises';
import { safeFileName } from '@early-set/core/files/paths';
import type { FilePool } from '../files/filePool.ts';
import { placeNew } from '../files/placeNew.ts';
import { Problem } from '../base/problem.ts';
import { kindOf } from './kinds.ts';

/** Folder below a root in which dropped files arrive. */
export const DROP_FOLDER = 'Dropped here';
export const MAX_UPLOAD_BYTES = 2 * 1024 ** 3;

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
 * @throws Problem when it is not audio, empty, or the root cannot be written to. The received file is removed in any
 * case.
 */
export async function placeUpload(
  files: FilePool,
  received: string,
  rootPath: string,
  wantedPath: string,
): Promise<string> {
  try {
    const segments = safeSegments(wantedPath);
    const name = segments.at(-1)!;
    const kind = kindOf(name);
    if (kind.kind === 'other') throw new Problem(415, 'not-music', `${name}: ${kind.reason.toLowerCase()}`);
    if ((await stat(received)).size === 0) throw new Problem(400, 'empty', `${name}: the file is empty (zero bytes)`);
    return await placeNew(files, received, rootPath, [DROP_FOLDER, ...segments]);
  } finally {
    await rm(received, { force: true });
  }
}
