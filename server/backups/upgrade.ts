/** Before the database is brought up to date. Its tables may be of any age, so nothing is asked of them but one row. */
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { join } from 'node:path';
import type { Database } from '../db/database.ts';
import { DUMP } from './folder.ts';
import { makeBackup } from './make.ts';
import { folderOf, ownFolder, troubleAt } from './places.ts';
import { tidyBackups } from './tidy.ts';

/** @returns where the dump lies */
export async function backUpBeforeUpgrade(database: Database, dataFolder: string): Promise<string> {
  const [row] = await database.rows<{ value: Partial<DeskSettings> }>("SELECT value FROM settings WHERE name = 'desk'");
  const settings = { ...DEFAULT_SETTINGS.backups, ...row?.value.backups };
  const chosen = folderOf(settings, dataFolder);
  // A drive that is not there now is no reason not to make one.
  const folder = (await troubleAt(chosen, dataFolder)) === null ? chosen : ownFolder(dataFolder);
  const backup = await makeBackup({ databaseUrl: database.url, dataFolder, folder }, { reason: 'upgrade' });
  await tidyBackups(folder, settings.keep, new Date());
  return join(backup.folder, DUMP);
}
