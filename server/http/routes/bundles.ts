import type { BundleCompareWish, BundleMake, BundleReadWish } from '@early-set/core/api/bundles';
import { bundleCompareSchema, bundleMakeSchema, bundleReadSchema } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { basename, join } from 'node:path';
import { folderOf } from '../../backups/places.ts';
import { addBundle } from '../../bundle/compared.ts';
import { NOT_EMPTY } from '../../bundle/empty.ts';
import { bundlesIn, forgetSteps, lookAtBundle, stepsAfter } from '../../bundle/look.ts';
import { mustBeFree } from '../../bundle/target.ts';
import { Problem } from '../../base/problem.ts';
import { deskSettings } from '../../db/settings.ts';
import { allowedFile, allowedFolder } from '../../intake/places.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const pathQuery = Joi.object({ path: Joi.string().max(4000).required() });

/** Bundles: made, looked at, read into an empty library, compared with one, and what is left to do afterwards. */
export function bundleRoutes({ database, dataFolder, demoRoot, runs }: Context): Router {
  const router = Router();
  const allowed = (path: string): Promise<string> => allowedFile(path, 'The bundle', demoRoot);
  router.get(
    '/bundles/in',
    route<unknown, { path: string }>({ query: pathQuery }, async ({ query }) =>
      bundlesIn(await allowedFolder(query.path, demoRoot)),
    ),
  );
  router.get(
    '/bundles/look',
    route<unknown, { path: string }>({ query: pathQuery }, async ({ query }) =>
      lookAtBundle(database, await allowed(query.path)),
    ),
  );
  router.get(
    '/bundles/steps',
    route({}, async () => stepsAfter(database, folderOf((await deskSettings()).backups, dataFolder))),
  );
  router.delete(
    '/bundles/steps',
    route({}, async () => ({ forgotten: await forgetSteps() })),
  );
  router.post(
    '/bundles',
    route<unknown, unknown, BundleMake>({ body: bundleMakeSchema }, async ({ body: { folder, name, ...wish } }) => {
      const path = join(await allowedFolder(folder, demoRoot), wish.zip ? `${name.replace(/\.zip$/i, '')}.zip` : name);
      mustBeFree(path);
      return {
        path,
        runId: await runs.bundle.start({ write: { ...wish, path } }, { title: `Bundle ${basename(path)}` }),
      };
    }),
  );
  router.post(
    '/bundles/read',
    route<unknown, unknown, BundleReadWish>({ body: bundleReadSchema }, async ({ body }) => {
      const path = await allowed(body.path);
      const { empty } = await lookAtBundle(database, path);
      if (!empty) throw new Problem(409, 'not-empty', NOT_EMPTY);
      const title = `Reading the bundle ${basename(path)}`;
      return { runId: await runs.bundle.start({ read: { ...body, path } }, { title }) };
    }),
  );
  router.post(
    '/bundles/compare',
    route<unknown, unknown, BundleCompareWish>({ body: bundleCompareSchema }, async ({ body: { path, folders } }) =>
      addBundle({ database, dataFolder }, await allowed(path), folders),
    ),
  );
  return router;
}
