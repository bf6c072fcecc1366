import type { BackupSettings } from '@early-set/core/api/backups';
import type { BackupReason } from '@early-set/core/backups/keep';
import { backupSettingsSchema } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { mustBeIdle } from '../../backups/backupRun.ts';
import { backupOf, isBackupId, removeBackup } from '../../backups/folder.ts';
import { backupsHere } from '../../backups/here.ts';
import { folderBelow, folderOf, mustBeNoRoot } from '../../backups/places.ts';
import { isNewer } from '../../backups/restore.ts';
import { sweepFiles } from '../../backups/tidy.ts';
import { Problem } from '../../base/problem.ts';
import { sayingWhere } from '../../base/sayingWhere.ts';
import { changeSettings, deskSettings } from '../../db/settings.ts';
import { allowedFolder } from '../../intake/places.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const idParam = Joi.object({ id: Joi.string().custom((id: string) => (isBackupId(id) ? id : failed())) });
const failed = (): never => {
  throw new Error('no backup is called so');
};
const BY_HAND: BackupReason = 'by hand';

/** Backups of the desk, their settings, and restoring one. */
export function backupRoutes({ database, dataFolder, demoRoot, runs, restoring }: Context): Router {
  const router = Router();
  const folderNow = async (): Promise<string> => folderOf((await deskSettings()).backups, dataFolder);
  const here = async (): Promise<unknown> =>
    backupsHere(await deskSettings(), dataFolder, {
      canRestore: restoring !== null,
      restored: restoring?.last() ?? null,
    });
  /** Of a folder that is chosen anew; the one that is used already may be away just now. */
  const chosenFolder = async (wished: string | null): Promise<string | null> => {
    if (wished === null || wished === (await deskSettings()).backups.folder) return wished;
    const folder = await allowedFolder(wished, demoRoot);
    await mustBeNoRoot(folder);
    return folderBelow(folder).catch((error: unknown) => {
      throw sayingWhere(error, folder, 'choose another one');
    });
  };
  router.get('/backups', route({}, here));
  // The same question is answered while a backup is being restored.
  router.get(
    '/backups/restoring',
    route({}, () => Promise.resolve(null)),
  );
  router.post(
    '/backups',
    route({}, async () => ({ runId: await runs.backup.start({ reason: BY_HAND }, { title: 'Backup' }) })),
  );
  router.patch(
    '/backups/settings',
    route<unknown, unknown, BackupSettings>({ body: backupSettingsSchema }, async ({ body }) => {
      await changeSettings({ backups: { ...body, folder: await chosenFolder(body.folder) } });
      await database.notify({ kind: 'settings' });
      return here();
    }),
  );
  router.post(
    '/backups/:id/verify',
    route<{ id: string }>({ params: idParam }, async ({ params: { id } }) => {
      await backupOf(await folderNow(), id);
      return { runId: await runs.backup.start({ verify: id }, { title: 'Verifying a backup' }) };
    }),
  );
  router.post(
    '/backups/:id/restore',
    route<{ id: string }>({ params: idParam }, async ({ params: { id } }) => {
      if (!restoring) throw new Problem(409, 'not-here', 'Use npm run restore: this desk cannot stop itself');
      const folder = await folderNow();
      const backup = await backupOf(folder, id);
      if (isNewer(backup)) throw new Problem(409, 'newer', 'This backup was made by a newer version of Early Set');
      restoring.begin(id, folder);
      return {};
    }),
  );
  router.delete(
    '/backups/:id',
    route<{ id: string }>({ params: idParam }, async ({ params: { id } }) => {
      await mustBeIdle();
      const folder = await folderNow();
      await removeBackup(await backupOf(folder, id));
      await sweepFiles(folder);
      return here();
    }),
  );
  return router;
}
