import type { BundleMake, BundleReadWish } from '@early-set/core/api/bundles';
import { bundleMakeSchema, bundleReadSchema } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { realpath } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { folderOf } from '../../backups/places.ts';
import { bundlesIn, forgetSteps, lookAtBundle, stepsAfter } from '../../bundle/look.ts';
import { Problem } from '../../base/problem.ts';
import { deskSettings } from '../../db/settings.ts';
import { allowedFolder } from '../../intake/places.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const pathQuery = Joi.object({ path: Joi.string().max(4000).required() });

/** Bundles: made, looked at, read into an empty library, and what is left to do afterwards. */
export function bundleRoutes({ database, dataFolder, demoRoot, runs }: Context): Router {
  const router = Router();
  /** A bundle in a place that may be looked into. */
  const allowed = async (path: string): Promise<string> => {
    const folder = await allowedFolder(dirname(path), demoRoot);
    const whole = await realpath(join(folder, basename(path))).catch(() => null);
    if (!whole) throw new Problem(404, 'not-there', `There is nothing at ${path}`);
    await allowedFolder(dirname(whole), demoRoot);
    return whole;
  };
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
      if (!empty) throw new Problem(409, 'not-empty', 'There are tracks, lists or changes here already');
      const title = `Reading the bundle ${basename(path)}`;
      return { runId: await runs.bundle.start({ read: { ...body, path } }, { title }) };
    }),
  );
  return router;
}
