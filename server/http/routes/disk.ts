import { Router } from 'express';
import Joi from 'joi';
import type { SettledGroup } from '@early-set/core/api/disk';
import type { Selection } from '@early-set/core/api/types';
import { SPACE_BY, type SpaceBy } from '@early-set/core/space/space';
import { PUT_MODES, PUT_NAMES, TAKEN_CHOICES } from '@early-set/core/files/put';
import type { PathMap } from '@early-set/core/relink/pathMap';
import { duplicates, settlingDraft } from '../../disk/duplicates.ts';
import { partTracks, waitingCount } from '../../disk/duplicateStore.ts';
import { LOOK_TITLE } from '../../disk/keepCompared.ts';
import { findTracks, tryPathMap } from '../../disk/findAgain.ts';
import { notFound } from '../../disk/notFound.ts';
import { places, placingDraft } from '../../disk/places.ts';
import { withOffsets } from '../../disk/offsets.ts';
import { relinkTracks, type RelinkPair } from '../../disk/relink.ts';
import { putLook, puttingDraft, type PutAsked, type PutTools } from '../../disk/put.ts';
import { others, puttingAside } from '../../disk/others.ts';
import type { FileRef } from '@early-set/core/files/fileRef';
import { retireLook, retiringDraft, space } from '../../disk/space.ts';
import { emptyQuarantine, quarantine, restoringDraft } from '../../disk/quarantine.ts';
import { applyInTurn, editInTurn } from '../../changes/edits.ts';
import { deskSettings } from '../../db/settings.ts';
import { Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { goneWith, route, selectionSchema } from '../validate.ts';

const trackId = Joi.number().integer().min(1).max(2_147_483_647);
const MAX_TRACKS = 20_000;
const putAsked = Joi.object<PutAsked>({
  selection: selectionSchema.required(),
  mode: Joi.valid(...PUT_MODES).required(),
  into: Joi.object({ rootId: trackId.required(), path: Joi.string().max(2000).allow('').required() }).required(),
  taken: Joi.valid(...TAKEN_CHOICES).required(),
  names: Joi.valid(...PUT_NAMES).default('own'),
  below: Joi.string().max(2000).allow('').default(''),
});
const someFiles = Joi.object({
  fileIds: Joi.array().items(Joi.string().guid()).min(1).max(MAX_TRACKS).allow(null).required(),
});

/** What is on the drives: what is not found, and finding it again. */
export function diskRoutes({ database, changing, relinkPool, comparePool, placesPool, runs }: Context): Router {
  const router = Router();
  const { inTurn } = changing;
  const putTools = async (): Promise<PutTools> => ({
    database,
    pool: placesPool,
    naming: (await deskSettings()).naming,
  });
  router.get(
    '/disk/not-found',
    route({}, () => notFound(database)),
  );
  router.post(
    '/disk/find-again',
    route<unknown, unknown, { trackIds: number[] | null }>(
      { body: Joi.object({ trackIds: Joi.array().items(trackId).min(1).max(MAX_TRACKS).allow(null).default(null) }) },
      ({ body, response }) => {
        return findTracks(database, relinkPool, body.trackIds, goneWith(response));
      },
    ),
  );
  router.post(
    '/disk/path-map',
    route<unknown, unknown, PathMap>(
      { body: Joi.object({ from: Joi.string().max(4000).required(), to: Joi.string().max(4000).required() }) },
      ({ body }) => tryPathMap(database, body),
    ),
  );
  router.post(
    '/disk/relink',
    route<unknown, unknown, { pairs: RelinkPair[] }>(
      {
        body: Joi.object({
          pairs: Joi.array()
            .items(
              Joi.object({
                trackId: trackId.required(),
                otherId: trackId.required(),
                offsetSeconds: Joi.number().min(-60).max(60).default(0),
              }),
            )
            .min(1)
            .max(MAX_TRACKS)
            .required(),
        }),
      },
      async ({ body }) => {
        const pairs = await withOffsets(database, comparePool, body.pairs);
        return inTurn(() => relinkTracks(changing, pairs));
      },
    ),
  );
  router.get(
    '/disk/places',
    route({}, async ({ response }) => {
      return places(database, placesPool, (await deskSettings()).naming, goneWith(response));
    }),
  );
  router.post(
    '/disk/places/move',
    route<unknown, unknown, { trackIds: number[] | null }>(
      { body: Joi.object({ trackIds: Joi.array().items(trackId).min(1).max(MAX_TRACKS).allow(null).default(null) }) },
      ({ body }) =>
        editInTurn(changing, async () =>
          placingDraft(database, placesPool, (await deskSettings()).naming, body.trackIds),
        ),
    ),
  );
  router.post(
    '/disk/put/look',
    route<unknown, unknown, PutAsked>({ body: putAsked }, async ({ body }) => putLook(await putTools(), body)),
  );
  router.post(
    '/disk/put',
    route<unknown, unknown, PutAsked>({ body: putAsked }, ({ body }) =>
      applyInTurn(changing, async () => puttingDraft(await putTools(), body)),
    ),
  );
  router.get(
    '/disk/space',
    route<unknown, { by: SpaceBy }>(
      { query: Joi.object({ by: Joi.valid(...SPACE_BY).default('folder') }) },
      ({ query }) => space(database, query.by),
    ),
  );
  router.get(
    '/disk/quarantine',
    route({}, () => quarantine(database)),
  );
  router.post(
    '/disk/retire/look',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }) => retireLook(database, body.selection),
    ),
  );
  router.post(
    '/disk/retire',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }) => applyInTurn(changing, () => retiringDraft(database, body.selection)),
    ),
  );
  router.post(
    '/disk/quarantine/restore',
    route<unknown, unknown, { fileIds: string[] | null }>({ body: someFiles }, ({ body }) =>
      applyInTurn(changing, () => restoringDraft(database, body.fileIds)),
    ),
  );
  router.post(
    '/disk/quarantine/empty',
    route<unknown, unknown, { fileIds: string[] | null }>({ body: someFiles }, ({ body }) =>
      emptyQuarantine(changing, body),
    ),
  );
  router.get(
    '/disk/others',
    route({}, () => others(database)),
  );
  router.post(
    '/disk/others/put-aside',
    route<unknown, unknown, { refs: FileRef[] }>(
      {
        body: Joi.object({
          refs: Joi.array()
            .items(Joi.object({ rootId: trackId.required(), path: Joi.string().max(4096).required() }))
            .min(1)
            .max(MAX_TRACKS)
            .required(),
        }),
      },
      ({ body }) => applyInTurn(changing, () => puttingAside(database, body.refs)),
    ),
  );
  router.get(
    '/disk/duplicates',
    route({}, () => duplicates(database)),
  );
  router.post(
    '/disk/duplicates/look',
    route({}, async () => {
      const total = await waitingCount(database);
      if (total === 0) throw new Problem(409, 'nothing-to-do', 'All measured tracks have been compared');
      return { runId: await runs.duplicates.start({}, { title: LOOK_TITLE, total }) };
    }),
  );
  router.post(
    '/disk/duplicates/parted',
    route<unknown, unknown, { trackIds: number[]; parted: boolean }>(
      {
        body: Joi.object({
          trackIds: Joi.array().items(trackId).min(2).max(MAX_TRACKS).required(),
          parted: Joi.boolean().required(),
        }),
      },
      async ({ body }) => {
        await partTracks(database, body.trackIds, body.parted);
        await database.notify({ kind: 'tracks' });
        return {};
      },
    ),
  );
  router.post(
    '/disk/duplicates/settle',
    route<unknown, unknown, { groups: SettledGroup[] }>(
      {
        body: Joi.object({
          groups: Joi.array()
            .items(Joi.object({ keep: trackId.required(), go: Joi.array().items(trackId).min(1).max(1000).required() }))
            .min(1)
            .max(MAX_TRACKS)
            .required(),
        }),
      },
      ({ body }) => editInTurn(changing, () => settlingDraft(database, body.groups)),
    ),
  );
  return router;
}
