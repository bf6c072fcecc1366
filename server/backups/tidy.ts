/** Removes the backups that their rule does not keep, and the files that then belong to none. */
import { keptBackups, type DatedBackup, type KeepRule, type KeptAs } from '@early-set/core/backups/keep';
import { log } from '../base/log.ts';
import { backupsIn, filesOf, removeBackup, type Backup } from './folder.ts';
import { sweep } from './objects.ts';

const dated = ({ id, manifest, verified }: Backup): DatedBackup => ({
  ...{ id, madeAt: new Date(manifest.madeAt), reason: manifest.reason, trouble: verified?.trouble ?? null },
});

/** What each is kept as. */
export const keptAs = (backups: readonly Backup[], rule: KeepRule, now: Date): Map<string, KeptAs[]> =>
  keptBackups(backups.map(dated), rule, now);

/** @returns how many were removed */
export async function tidyBackups(folder: string, rule: KeepRule, now: Date): Promise<number> {
  const all = await backupsIn(folder);
  const kept = keptAs(all, rule, now);
  const going = all.filter(({ id }) => !kept.has(id));
  for (const backup of going) await removeBackup(backup);
  await sweepFiles(folder);
  return going.length;
}

/** Removes files that no backup needs. Where one does not say what it needs, everything stays. */
export async function sweepFiles(folder: string): Promise<void> {
  const needed = new Set<string>();
  try {
    for (const backup of await backupsIn(folder)) for (const { sha256 } of await filesOf(backup)) needed.add(sha256);
  } catch (error) {
    log.warn(error, 'files of backups are left as they are');
    return;
  }
  await sweep(folder, needed);
}
