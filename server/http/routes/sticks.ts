import type { StickSettings } from '@early-set/core/api/stick';
import type { Selection } from '@early-set/core/api/types';
import { ACCENTS } from '@early-set/core/naming/safeNames';
import { MAX_TEMPLATE } from '@early-set/core/naming/naming';
import { PLAYERS, TARGET_IDS, TARGETS } from '@early-set/core/stick/player';
import { Router } from 'express';
import Joi from 'joi';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Problem } from '../../base/problem.ts';
import { allowedFolder } from '../../intake/places.ts';
import { selectedIds } from '../../library/sheet.ts';
import { lookAtStick, writeFormer, writeToStick } from '../../stick/plan.ts';
import { readPlayedThere } from '../../stick/playedThere.ts';
import { addStick, allSticks, changeStick, removeStick } from '../../stick/sticks.ts';
import { zipWithFiles } from '../../stick/zipList.ts';
import { verifyStick } from '../../stick/verify.ts';
import type { Context } from '../context.ts';
import { goneWith, idParam, route, selectionSchema, trackIds, uuidParam } from '../validate.ts';

/** So many tracks may be chosen by hand. */
const MAX_CHOSEN = 20_000;
const path = Joi.string().max(4000);
const rates = [...new Set(Object.values(TARGETS).flatMap((t): number[] => [...t.kbps]))];
const id = Joi.number().integer().min(1);
const settings = Joi.object<Partial<StickSettings>>({
  lists: Joi.array().items(Joi.string().guid()).max(5000),
  dates: Joi.array().items(id).max(100),
  // From the page they come as a selection; it may only leave them out.
  tracks: trackIds.max(MAX_CHOSEN),
  folders: Joi.array()
    .items(Joi.object({ rootId: id.required(), path: path.allow('').required() }))
    .max(200),
  names: Joi.string().trim().min(1).max(MAX_TEMPLATE),
  accents: Joi.valid(...ACCENTS),
  convert: Joi.object({
    when: Joi.valid('needed', 'always').required(),
    format: Joi.valid(...TARGET_IDS).required(),
    kbps: Joi.valid(...rates).required(),
    lufs: Joi.number().min(-36).max(-5).allow(null).required(),
  }),
  ceilingDbtp: Joi.number().min(-12).max(0),
  m3u8: Joi.boolean(),
  line: Joi.string().trim().min(1).max(MAX_TEMPLATE),
});
const player = Joi.valid(...Object.keys(PLAYERS));
const name = Joi.string().trim().min(1).max(100);
interface Added {
  folder: string;
  player: string;
  name?: string;
  settings?: Partial<StickSettings>;
  /** Tracks that go there. */
  selection?: Selection;
}
type Changed = Partial<Omit<Added, 'folder' | 'selection'>>;

const TOO_MANY = 'These are more than 20,000 tracks: a crate that holds them goes there as a list';

/** Sticks, and folders to which files are written for a player. */
export function stickRoutes({ database, sticks, demoRoot, art, dataFolder }: Context): Router {
  const router = Router();
  router.get(
    '/lists/:id/files',
    route<{ id: string }>({ params: uuidParam }, async ({ params, response }) => {
      const { stickPool, changing } = sticks;
      const tools = { database, art, stickPool, files: changing.files };
      const arriving = join(dataFolder, 'arriving');
      const { zip, fileName } = await zipWithFiles(tools, params.id, arriving, goneWith(response));
      response.attachment(fileName).type('application/zip');
      // Whoever goes away breaks the connection; that is no failure.
      await pipeline(zip, response).catch(() => undefined);
    }),
  );
  router.get(
    '/sticks',
    route({}, () => allSticks(database)),
  );
  router.get(
    '/sticks/players',
    route({}, () => Promise.resolve(Object.values(PLAYERS))),
  );
  router.post(
    '/sticks',
    route<unknown, unknown, Added>(
      {
        body: Joi.object({
          ...{ folder: path.required(), player: player.required(), name, settings },
          ...{ selection: selectionSchema },
        }),
      },
      async ({ body: { selection, ...wish } }) => {
        const tracks = selection ? await selectedIds(database, selection, 'path') : [];
        if (tracks.length > MAX_CHOSEN) throw new Problem(400, 'too-many', TOO_MANY);
        const own = { ...wish.settings, ...(selection ? { tracks } : {}) };
        return addStick(database, { ...wish, settings: own, folder: await allowedFolder(wish.folder, demoRoot) });
      },
    ),
  );
  router.patch(
    '/sticks/:id',
    route<{ id: number }, unknown, Changed>(
      { params: idParam, body: Joi.object({ name, player, settings }).min(1) },
      ({ params, body }) => changeStick(database, params.id, body),
    ),
  );
  router.delete(
    '/sticks/:id',
    route<{ id: number }>({ params: idParam }, async ({ params }) => {
      await removeStick(database, sticks.plans, params.id);
      return { removed: true };
    }),
  );
  router.post(
    '/sticks/:id/look',
    route<{ id: number }, unknown, { listId: string | null }>(
      { params: idParam, body: Joi.object({ listId: Joi.string().max(4100).allow(null).default(null) }) },
      ({ params, body, response }) => lookAtStick(sticks, params.id, body.listId, goneWith(response)),
    ),
  );
  router.post(
    '/sticks/:id/write',
    route<{ id: number }, unknown, { token: string }>(
      { params: idParam, body: Joi.object({ token: Joi.string().max(64).required() }) },
      ({ params, body }) => writeToStick(sticks, params.id, body.token),
    ),
  );
  router.post(
    '/sticks/:id/former',
    route<{ id: number }>({ params: idParam }, ({ params }) => writeFormer(sticks, params.id)),
  );
  router.post(
    '/sticks/:id/verify',
    route<{ id: number }>({ params: idParam }, ({ params, response }) =>
      verifyStick(sticks, params.id, goneWith(response)),
    ),
  );
  router.post(
    '/sticks/:id/played',
    route<{ id: number }, unknown, { all: boolean }>(
      { params: idParam, body: Joi.object({ all: Joi.boolean().default(false) }) },
      ({ params, body, response }) => readPlayedThere(sticks, params.id, body.all, goneWith(response)),
    ),
  );
  router.get(
    '/sticks/:id/step',
    route<{ id: number }>({ params: idParam }, ({ params }) =>
      Promise.resolve({ step: sticks.steps.get(params.id) ?? null }),
    ),
  );
  return router;
}
