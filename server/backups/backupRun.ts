/** The run that makes a backup, verifies it and every other one that never was, and removes what is not kept. */
import type { BackupReason } from '@early-set/core/backups/keep';
import type { Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { Problem } from '../base/problem.ts';
import { backupOf, backupsIn } from './folder.ts';
import { makeBackup } from './make.ts';
import { folderOf, troubleAt } from './places.ts';
import { tidyBackups } from './tidy.ts';
import { verifyBackup } from './verify.ts';

export type BackupWish = { reason: BackupReason } | { verify: string };
export type BackupRun = DefinedRun<BackupWish>;

export interface BackupReport {
  made: string | null;
  verified: number;
  removed: number;
}

/** @throws Problem while one is being made: it needs files that stand in no list yet */
export async function mustBeIdle(): Promise<void> {
  if (await Run.findOne({ where: { kind: 'backup', state: 'running' } }))
    throw new Problem(409, 'busy', 'A backup is being made; remove this one when it is done');
}

export function backupRun(tools: { database: Database; queue: Queue }, dataFolder: string): BackupRun {
  const { database } = tools;
  return defineRun<BackupWish>(tools, {
    kind: 'backup',
    task: 'backup',
    priority: 0,
    queueName: () => 'backup',
    again: (_, run) => Promise.resolve({ title: againTitle(run.title), total: 0 }),
    async work({ payload, signal, tell }) {
      const settings = (await deskSettings()).backups;
      const folder = folderOf(settings, dataFolder);
      const trouble = await troubleAt(folder, dataFolder);
      if (trouble) throw new Problem(409, 'away', trouble);
      const places = { databaseUrl: database.url, dataFolder, folder };
      const options = {
        signal,
        tell: (current: string, done: number, total: number) => tell({ current, done, total }),
      };
      const made = 'reason' in payload ? await makeBackup(places, { ...options, reason: payload.reason }) : null;
      const verifying =
        'verify' in payload
          ? [await backupOf(folder, payload.verify)]
          : (await backupsIn(folder)).filter((one) => one.id === made?.id || one.verified === null);
      const troubles: string[] = [];
      for (const one of verifying) {
        const wrong = await verifyBackup(places, one, options);
        if (wrong) troubles.push(wrong);
      }
      const removed = await tidyBackups(folder, settings.keep, new Date());
      const report: BackupReport = { made: made?.id ?? null, verified: verifying.length, removed };
      return {
        ...{ report, total: verifying.length, done: verifying.length - troubles.length, failed: troubles.length },
        ...(troubles[0] ? { reason: troubles[0] } : {}),
      };
    },
  });
}
