/** Another folder for the copy: what is known is of the former one, and is read from the new one's own lists. */
import type { Database } from '../db/database.ts';
import { keepMusicCopySettings, musicCopySettings } from '../copied/settings.ts';

export async function chooseCopyFolder(database: Database, folder: string | null): Promise<void> {
  const { folder: former } = await musicCopySettings();
  if (folder === former) return;
  await keepMusicCopySettings({ folder, folders: {} });
  await database.run('DELETE FROM copied_files');
}
