/** `npm run restore`: the backups that are there, and one of them put in place, while the desk is closed. */
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import type { BackupSettings } from '@early-set/core/api/backups';
import { bytes } from '@early-set/core/space/bytes';
import { backupsIn } from './backups/folder.ts';
import { lineOf } from './backups/here.ts';
import { folderOf, ownFolder } from './backups/places.ts';
import { finishRestore, restoreBackup } from './backups/restore.ts';
import { Problem } from './base/problem.ts';
import { onDatabase } from './db/dumps.ts';

export interface RestoreCommand {
  databaseUrl: string;
  dataFolder: string;
  /** Where to look for backups; null: where the desk puts them, as far as it can be asked. */
  folder: string | null;
  say: (line: string) => void;
}

/** The folder that the desk's settings name; its own where they cannot be read. */
async function chosenFolder(databaseUrl: string, dataFolder: string): Promise<string> {
  const settings = await onDatabase(databaseUrl, async (client): Promise<BackupSettings | undefined> => {
    const { rows } = await client.query<{ value: Partial<DeskSettings> }>(
      "SELECT value FROM public.settings WHERE name = 'desk'",
    );
    return rows[0]?.value.backups;
  }).catch(() => undefined);
  return folderOf(settings ?? DEFAULT_SETTINGS.backups, dataFolder);
}

/** Lists the backups, the latest first; those in the data folder too, where others are looked for elsewhere. */
export async function listBackups({ databaseUrl, dataFolder, folder, say }: RestoreCommand): Promise<string[]> {
  await finishRestore(databaseUrl, dataFolder);
  const folders = [
    ...new Set(folder ? [folder] : [await chosenFolder(databaseUrl, dataFolder), ownFolder(dataFolder)]),
  ];
  const ids: string[] = [];
  for (const where of folders) {
    const all = await backupsIn(where);
    say(all.length > 0 ? `Backups in ${where}:` : `No backups in ${where}`);
    for (const backup of all) {
      const line = lineOf(backup, null);
      const state = line.trouble ?? (line.verifiedAt ? 'verified' : 'not verified');
      say(
        `  ${line.id}  ${new Date(line.madeAt).toLocaleString('en-GB')}  ${line.tracks.toLocaleString('en-GB')} tracks, ` +
          `${line.lists.toLocaleString('en-GB')} lists, ${bytes(line.bytes)}, ${state}`,
      );
      ids.push(line.id);
    }
  }
  return ids;
}

/**
 * Restores one, "latest" being the newest that is not known to be bad.
 * @returns null when it is done, else why not
 */
export async function restoreByName(command: RestoreCommand, id: string, backUpFirst: boolean): Promise<string | null> {
  const { databaseUrl, dataFolder, say } = command;
  const folders = command.folder
    ? [command.folder]
    : [await chosenFolder(databaseUrl, dataFolder), ownFolder(dataFolder)];
  const all = (await Promise.all(folders.map(backupsIn))).flatMap((backups, at) =>
    backups.map((backup) => ({ backup, folder: folders[at]! })),
  );
  const found =
    id === 'latest' ? all.find(({ backup }) => !backup.verified?.trouble) : all.find(({ backup }) => backup.id === id);
  if (!found) return id === 'latest' ? `There is no backup in ${folders.join(' or ')}` : `There is no backup ${id}`;
  try {
    const before = await restoreBackup({ databaseUrl, dataFolder, folder: found.folder }, found.backup.id, {
      backUpFirst,
      tell: (step) => say(`· ${step}`),
    });
    say(`The library is as it was on ${new Date(found.backup.manifest.madeAt).toLocaleString('en-GB')}.`);
    if (before) say(`What was there before is kept as ${before}.`);
    return null;
  } catch (error) {
    if (!backUpFirst) return `${(error as Error).message}. Everything is as it was.`;
    const why = error instanceof Problem ? error.message : (error as Error).message;
    return `${why}. Everything is as it was. If what is there cannot be backed up, add --without-backup.`;
  }
}
