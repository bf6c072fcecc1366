/** The backups that are there, as the page shows them. */
import type { BackupLine, BackupsHere, RestoreOutcome } from '@early-set/core/api/backups';
import { dueTimes } from '@early-set/core/backups/keep';
import type { DeskSettings } from '@early-set/core/api/settings';
import { backupsIn, VERSION, type Backup } from './folder.ts';
import { folderOf, freeBytesAt, onOneDrive, troubleAt } from './places.ts';
import { isNewer } from './restore.ts';
import { keptAs } from './tidy.ts';

export async function backupsHere(
  { backups: settings }: DeskSettings,
  dataFolder: string,
  restoring: { canRestore: boolean; restored: RestoreOutcome | null },
  now = new Date(),
): Promise<BackupsHere> {
  const folder = folderOf(settings, dataFolder);
  const [trouble, all, sameDrive, freeBytes] = await Promise.all([
    troubleAt(folder, dataFolder),
    backupsIn(folder),
    onOneDrive(folder, dataFolder),
    freeBytesAt(folder),
  ]);
  const kept = keptAs(all, settings.keep, now);
  const backups = all.map((backup): BackupLine => lineOf(backup, kept.get(backup.id) ?? null));
  const nextAt = settings.on ? dueTimes(now, settings.at).next.toISOString() : null;
  return { folder, trouble, sameDrive, freeBytes, backups, nextAt, ...restoring };
}

export function lineOf(backup: Backup, kept: BackupLine['keptAs']): BackupLine {
  const { id, manifest, verified } = backup;
  const { madeAt, reason, dump, files, rows } = manifest;
  return {
    ...{ id, madeAt, reason, bytes: dump.bytes + files.bytes, files: files.count, keptAs: kept },
    tracks: rows['public.tracks'] ?? 0,
    lists: rows['public.lists'] ?? 0,
    changes: rows['public.change_sets'] ?? 0,
    verifiedAt: verified?.at ?? null,
    trouble: verified?.trouble ?? null,
    newer: manifest.version > VERSION || isNewer(backup),
  };
}
