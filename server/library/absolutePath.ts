/** Where a file of a library folder lies on this computer. */
import { folderOf } from '@early-set/core/files/paths';
import type { Drive } from '@early-set/core/api/types';
import type { FileRef } from '@early-set/core/files/fileRef';
import { join } from 'node:path';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import type { Root } from '../db/models.ts';
import { isOnItsDrive } from '../drives/drives.ts';
import { resolveForWriting } from '../media/roots.ts';

type Known = Pick<Root, 'path' | 'label' | 'drive'>;
const away = ({ label }: Known): Problem => new Problem(409, 'drive-away', `The drive of ${label} is not there`);

/** @throws Problem when what a folder lay on is not mounted; nothing may be written under where it was */
export async function mustBeMounted(root: Known): Promise<void> {
  if (!(await isOnItsDrive(root.path, root.drive))) throw away(root);
}

/** @throws Problem when the drive of a library folder is not there, or most of its files were not when it was read */
export async function mustBeThere(root: Known & { awaySince: unknown }): Promise<void> {
  if (root.awaySince) throw away(root);
  await mustBeMounted(root);
}

/** The absolute path of a reference, with all links on the way resolved; the file itself need not be there. */
export async function absolutePath(database: Database, { rootId, path }: FileRef): Promise<string> {
  const [root] = await database.rows<{ path: string; label: string; awaySince: string | null; drive: Drive | null }>(
    'SELECT path, label, away_since AS "awaySince", drive FROM roots WHERE id = $1',
    [rootId],
  );
  if (!root) throw new Problem(404, 'not-found', 'The folder is no longer taken in');
  await mustBeThere(root);
  const folder = folderOf(path),
    name = path.slice(folder.length);
  if (!name || name === '.' || name === '..' || name.includes('\0'))
    throw new Problem(400, 'bad-value', `“${name}” is no name for a file`);
  const segments = folder.split('/').filter(Boolean);
  return join(segments.length ? await resolveForWriting(root.path, segments) : root.path, name);
}
