/** Folders that are needed: are they there, may they be used, is there room? */
import { access, constants, stat, statfs } from 'node:fs/promises';
import { bytes } from '@early-set/core/space/bytes';
import type { Finding } from './finding.ts';

/** With less than this, the next large piece of work may fail. */
const LITTLE = 1024 ** 3;

/** @param writes it is written to */
export async function checkFolder(about: string, path: string, writes: boolean): Promise<Finding> {
  const info = await stat(path).catch(() => null);
  if (!info) return { about, trouble: `It is not there. Is its drive connected?`, note: path };
  if (!info.isDirectory()) return { about, trouble: 'It is a file, not a folder.', note: path };
  const may = (mode: number): Promise<boolean> =>
    access(path, mode).then(
      () => true,
      () => false,
    );
  if (!(await may(constants.R_OK | constants.X_OK))) return { about, trouble: 'It may not be read.', note: path };
  if (writes && !(await may(constants.W_OK)))
    return { about, trouble: 'Nothing may be written there: tags and moves would fail.', note: path };
  const { bavail, bsize } = await statfs(path);
  const free = bavail * bsize;
  const trouble = writes && free < LITTLE ? `Only ${bytes(free)} are free.` : null;
  return { about, trouble, note: `${path}, ${bytes(free)} free` };
}
