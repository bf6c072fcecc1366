/** Another folder for the copy: what is known is of the former one, and is read from the new one's own lists. */
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import { keepMusicCopySettings, musicCopySettings } from '../copied/settings.ts';

export async function chooseCopyFolder(database: Database, folder: string | null): Promise<void> {
  const { folder: former } = await musicCopySettings();
  if (folder === former) return;
  if (await Run.findOne({ where: { kind: 'musicCopy', state: 'running' } }))
    throw new Problem(409, 'busy', 'The music is being copied; choose another folder when that is done, or cancel it');
  await keepMusicCopySettings({ folder, folders: {} });
  await database.run('DELETE FROM copied_files');
}
