/** Makes backups at their time of day, or as soon as the computer is on again after it. */
import { isDue } from '@early-set/core/backups/keep';
import { log } from '../base/log.ts';
import { Root, Run } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import type { BackupRun } from './backupRun.ts';
import { backupsIn } from './folder.ts';
import { folderOf, troubleAt } from './places.ts';

const LOOK_MS = 60_000;
/** One that failed is tried again after so long. */
const AGAIN_MS = 3_600_000;

export interface KeepBackups {
  /** Looks now. Answers whether one was begun. */
  look: (now?: Date) => Promise<boolean>;
  stop: () => Promise<void>;
}

/** @param andThen done at the same time of day, beside it */
export function keepBackups(
  run: BackupRun,
  dataFolder: string,
  andThen: () => Promise<void> = () => Promise.resolve(),
): KeepBackups {
  let tried = 0,
    under: Promise<unknown> = Promise.resolve();
  const look = async (now = new Date()): Promise<boolean> => {
    const { backups: settings } = await deskSettings();
    if (!settings.on || now.getTime() - tried < AGAIN_MS) return false;
    const folder = folderOf(settings, dataFolder);
    if (await troubleAt(folder, dataFolder)) return false;
    const [newest] = await backupsIn(folder);
    const last = newest ? new Date(newest.manifest.madeAt) : await firstFolderSince();
    if (last === null || !isDue(last, now, settings.at)) return false;
    if (await Run.findOne({ where: { kind: 'backup', state: 'running' } })) return false;
    tried = now.getTime();
    await run.start({ reason: 'schedule' }, { title: 'Backup' });
    await andThen();
    return true;
  };
  const begin = (): void => {
    under = look().catch((error: unknown) => log.warn(error, 'no backup could be begun'));
  };
  const watch = setInterval(begin, LOOK_MS).unref();
  begin();
  return {
    look,
    async stop() {
      clearInterval(watch);
      await under;
    },
  };
}

/** When the desk got something to lose; null where it has nothing. */
const firstFolderSince = async (): Promise<Date | null> =>
  (await Root.findOne({ order: [['createdAt', 'ASC']] }))?.createdAt ?? null;
