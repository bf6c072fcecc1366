/** Where the copy of each library folder lies, and whether it can be written to. */
import { access, constants, lstat, mkdir, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { QUARANTINE, quarantined } from '@early-set/core/changes/kinds/relocateFile';
import { safeFileName } from '@early-set/core/files/paths';
import { Problem } from '../base/problem.ts';
import { Root } from '../db/models.ts';
import { isInside } from '../media/roots.ts';
import { keepMusicCopySettings, musicCopySettings } from './settings.ts';

/** Of the copy below a folder that was chosen: other things may lie beside it. */
const OWN = 'Early Set music copy';

/** Why nothing can be written there; null when it can. A drive that is away leaves no folder of ours. */
export async function troubleAt(folder: string): Promise<string | null> {
  const info = await stat(folder).catch(() => null);
  if (!info?.isDirectory()) return `The folder of the copy is not there: ${folder}. Is its drive connected?`;
  return access(folder, constants.W_OK).then(
    () => null,
    () => `Nothing may be written into ${folder}`,
  );
}

/** The folder of the copy. @throws Problem where there is none, or it is away */
export async function copyFolder(): Promise<string> {
  const { folder } = await musicCopySettings();
  if (folder === null) throw new Problem(409, 'no-copy', 'No folder has been chosen for a copy of the music');
  const trouble = await troubleAt(folder);
  if (trouble !== null) throw new Problem(409, 'away', trouble);
  return folder;
}

/** The folder of the copy below one that was chosen. @throws Problem where music is that Early Set reads */
export async function folderBelow(chosen: string): Promise<string> {
  const folder = chosen.endsWith(`/${OWN}`) ? chosen : join(chosen, OWN);
  const roots = await Root.findAll({ where: { removed: false } });
  const inside = roots.find(({ path }) => isInside(path, folder) || isInside(folder, path));
  if (inside)
    throw new Problem(409, 'inside-root', `This folder and ${inside.label}, which Early Set reads, lie in each other`);
  await mkdir(folder, { recursive: true });
  return folder;
}

/** Where a library folder is copied to; named at the first time. */
export async function placeOf(root: Pick<Root, 'id' | 'label'>): Promise<string> {
  const folder = await copyFolder();
  const { folders } = await musicCopySettings();
  const known = folders[root.id];
  if (known !== undefined) return join(folder, known);
  const taken = new Set(Object.values(folders).map((name) => name.toLowerCase()));
  const label = safeFileName(root.label, 'Music');
  let name = label;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${label} (${n})`;
  await keepMusicCopySettings({ folders: { ...folders, [root.id]: name } });
  return join(folder, name);
}

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** What lies in the quarantine of such a folder, under the names that are left of it. */
export async function asideIn(
  folder: string,
): Promise<{ id: string; path: string; size: number; modifiedMs: number }[]> {
  const found = [];
  for (const id of await readdir(join(folder, QUARANTINE)).catch((): string[] => [])) {
    if (!UUID.test(id)) continue;
    for (const path of await readdir(join(folder, QUARANTINE, id)).catch((): string[] => [])) {
      const info = await lstat(join(folder, QUARANTINE, id, path)).catch(() => null);
      if (info?.isFile()) found.push({ id, path, size: info.size, modifiedMs: info.mtimeMs });
    }
  }
  return found;
}

/** Where a file lies below such a folder while it is set aside. */
export const asidePath = ({ id, path }: { id: string; path: string }): string =>
  quarantined({ rootId: 0, path }, id).path;
