/** Files dropped on the page: received aside, checked, then moved into a root under a name of their own. */
import { rm, stat } from 'node:fs/promises';
import { endingOf, safeFileName } from '@early-set/core/files/paths';
import type { FilePool } from '../files/filePool.ts';
import { placeNew } from '../files/placeNew.ts';
import { Problem } from '../base/problem.ts';
import type { Root } from '../db/models.ts';
import { mustBeMounted } from '../library/absolutePath.ts';
import { kindOf } from './kinds.ts';

/** Folder below a root in which dropped files arrive. */
export const DROP_FOLDER = 'Dropped here';
export const MAX_UPLOAD_BYTES = 2 * 1024 ** 3;

/** What most file systems take for a name, in bytes, with room for a number behind it. */
const MAX_NAME_BYTES = 240;

/** A name so short that a drive takes it, its ending kept: that says what the file is. */
function shortened(name: string, ending: string): string {
  const stem = [...name.slice(0, name.length - ending.length)];
  while (Buffer.byteLength(stem.join('') + ending) > MAX_NAME_BYTES) stem.pop();
  return stem.join('').trim() + ending;
}

function safeNamed(name: string): string {
  const ending = endingOf(name);
  const stem = safeFileName(name.slice(0, name.length - ending.length), 'file');
  return shortened(stem + ending, ending);
}

/** The path of a dropped file as safe segments: names cleaned, at most eight folders deep. @throws Problem for none. */
export function safeSegments(path: string): string[] {
  const segments = path
    .split(/[/\\]+/)
    .filter((s) => s && s !== '.' && s !== '..')
    .map((s, i, all) => (i === all.length - 1 ? safeNamed(s) : shortened(safeFileName(s, 'folder'), '')));
  if (segments.length === 0) throw new Problem(400, 'no-name', 'The file has no name');
  return segments.slice(-8);
}

/**
 * Moves a received file into a root; nothing is overwritten.
 * @returns the path below the root
 * @throws Problem when it is not audio, empty, or the root cannot be written to. The received file is removed in any
 * case.
 */
export async function placeUpload(files: FilePool, received: string, root: Root, wantedPath: string): Promise<string> {
  try {
    await mustBeMounted(root);
    const segments = safeSegments(wantedPath);
    const name = segments.at(-1)!;
    const kind = kindOf(name);
    if (kind.kind === 'other') throw new Problem(415, 'not-music', `${name}: ${kind.reason.toLowerCase()}`);
    if ((await stat(received)).size === 0) throw new Problem(400, 'empty', `${name}: the file is empty (zero bytes)`);
    return await placeNew(files, received, root.path, [DROP_FOLDER, ...segments]);
  } finally {
    await rm(received, { force: true });
  }
}
