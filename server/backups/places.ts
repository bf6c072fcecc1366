/** Where backups go, and whether they can. */
import { access, constants, mkdir, stat, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import type { BackupSettings } from '@early-set/core/api/backups';
import { Root } from '../db/models.ts';
import { Problem } from '../base/problem.ts';
import { isInside } from '../media/roots.ts';
import { backupsIn } from './folder.ts';

/** The folder inside the data folder. */
export const ownFolder = (dataFolder: string): string => join(dataFolder, 'backups');

export const folderOf = ({ folder }: BackupSettings, dataFolder: string): string => folder ?? ownFolder(dataFolder);

/** Why nothing can be written there; null when it can. The desk's own folder is made when it is needed. */
export async function troubleAt(folder: string, dataFolder: string): Promise<string | null> {
  if (folder === ownFolder(dataFolder)) await mkdir(folder, { recursive: true, mode: 0o700 }).catch(() => undefined);
  const info = await stat(folder).catch(() => null);
  if (!info?.isDirectory()) return `The folder for backups is not there: ${folder}`;
  const writable = await access(folder, constants.W_OK).then(
    () => true,
    () => false,
  );
  return writable ? null : `Nothing may be written into ${folder}`;
}

export async function freeBytesAt(folder: string): Promise<number | null> {
  const space = await statfs(folder).catch(() => null);
  return space ? space.bavail * space.bsize : null;
}

export async function onOneDrive(a: string, b: string): Promise<boolean> {
  const [one, other] = await Promise.all([stat(a).catch(() => null), stat(b).catch(() => null)]);
  return one !== null && one.dev === other?.dev;
}

/**
 * The folder of this library below one that was chosen: others may keep theirs beside it. A folder of backups that
 * is chosen itself is gone on with.
 */
export async function folderBelow(chosen: string): Promise<string> {
  if ((await backupsIn(chosen)).length > 0) return chosen;
  for (let number = 1; ; number++) {
    const own = join(chosen, number === 1 ? 'Early Set backups' : `Early Set backups ${number}`);
    if ((await backupsIn(own)).length > 0) continue;
    await mkdir(own, { recursive: true, mode: 0o700 });
    return own;
  }
}

/** A folder of music, or what is handed over, is no place for backups. @throws Problem */
export async function mustBeNoRoot(folder: string): Promise<void> {
  const inside = (await Root.findAll({ where: { removed: false } })).find((root) => isInside(root.path, folder));
  if (inside) throw new Problem(409, 'inside-root', `This folder lies in ${inside.label}, which Early Set reads`);
}
