import Joi from 'joi';
import { Router } from 'express';
import type { MusicCopySettings } from '@early-set/core/api/musicCopy';
import { sayingWhere } from '../../base/sayingWhere.ts';
import { applyInTurn } from '../../changes/edits.ts';
import { allowedFolder } from '../../intake/places.ts';
import { MUSIC_COPY_TITLES, type MusicCopyWish } from '../../musicCopy/copyRun.ts';
import { musicCopyHere } from '../../musicCopy/here.ts';
import { copyFolder, folderBelow } from '../../copied/places.ts';
import { emptyCopy, removingDraft } from '../../musicCopy/removing.ts';
import { chooseCopyFolder } from '../../musicCopy/choose.ts';
import { keepMusicCopySettings } from '../../copied/settings.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const someFiles = Joi.object({ ids: Joi.array().items(Joi.string().uuid()).min(1).max(5000).allow(null).required() });

/** A copy of the music on another drive. */
export function musicCopyRoutes({ database, changing, demoRoot, runs }: Context): Router {
  const router = Router();
  router.get(
    '/music-copy',
    route({}, () => musicCopyHere(database)),
  );
  router.patch(
    '/music-copy/settings',
    route<unknown, unknown, Partial<MusicCopySettings>>(
      {
        body: Joi.object({
          folder: Joi.string().max(4096).allow(null),
          daily: Joi.boolean(),
          leftOut: Joi.array().items(Joi.number().integer().min(1)).max(10_000),
        }),
      },
      async ({ body: { folder, ...rest } }) => {
        if (folder !== undefined) {
          const below = folder === null ? null : await allowedFolder(folder, demoRoot);
          await chooseCopyFolder(
            database,
            below &&
              (await folderBelow(below).catch((error: unknown) => {
                throw sayingWhere(error, below, 'choose another one');
              })),
          );
        }
        await keepMusicCopySettings(rest);
        await database.notify({ kind: 'settings' });
        return musicCopyHere(database);
      },
    ),
  );
  router.post(
    '/music-copy/run',
    route<unknown, unknown, MusicCopyWish>(
      { body: Joi.object({ what: Joi.string().valid('copy', 'check').required() }) },
      async ({ body }) => {
        await copyFolder();
        return { runId: await runs.musicCopy.start(body, { title: MUSIC_COPY_TITLES[body.what] }) };
      },
    ),
  );
  router.post(
    '/music-copy/remove',
    route<unknown, unknown, { ids: string[] | null }>({ body: someFiles }, ({ body }) =>
      applyInTurn(changing, () => removingDraft(database, body.ids)),
    ),
  );
  router.post(
    '/music-copy/empty',
    route<unknown, unknown, { ids: string[] | null }>({ body: someFiles }, ({ body }) => emptyCopy(changing, body.ids)),
  );
  return router;
}
