import type { Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { selectedIds } from '../../library/sheet.ts';
import {
  joinSeveral,
  listOverview,
  listsHolding,
  moveToReserve,
  removeSeveral,
  replaceInList,
  splitAt,
  swapInList,
  takeOut,
  toFind,
  type JoinWish,
} from '../../lists/several.ts';
import { betterFiles, takeBetter } from '../../lists/better.ts';
import type { Context } from '../context.ts';
import { jsonOf, route, selectionSchema, uuidParam } from '../validate.ts';

type Id = { id: string };
const entryIds = Joi.array().items(Joi.string().guid()).min(1).max(200_000);

/** What is done with several lists at once, or with one by way of others. */
export function severalListRoutes({ database, changing, members }: Context): Router {
  const router = Router();
  const { inTurn } = changing;
  router.get(
    '/lists/overview',
    route({}, async () => {
      await members.fresh();
      return listOverview(database);
    }),
  );
  router.get(
    '/lists/holding',
    route<unknown, { text: string }>({ query: Joi.object({ text: Joi.string().max(500).required() }) }, ({ query }) =>
      listsHolding(database, query.text),
    ),
  );
  router.post(
    '/lists/join',
    route<unknown, unknown, JoinWish>(
      {
        body: Joi.object({
          kind: Joi.valid('crate', 'playlist').required(),
          name: Joi.string().max(1000).required(),
          listIds: Joi.array().items(Joi.string().guid()).min(2).max(200).required(),
        }),
      },
      ({ body }) => inTurn(() => joinSeveral(changing, body)),
    ),
  );
  router.post(
    '/lists/remove',
    route<unknown, unknown, { listIds: string[] }>(
      { body: Joi.object({ listIds: Joi.array().items(Joi.string().guid()).min(1).max(1000).required() }) },
      ({ body }) => inTurn(() => removeSeveral(changing, body.listIds)),
    ),
  );
  router.post(
    '/lists/:id/split',
    route<Id, unknown, { entryId: string }>(
      { params: uuidParam, body: Joi.object({ entryId: Joi.string().guid().required() }) },
      ({ params, body }) => inTurn(() => splitAt(changing, params.id, body.entryId)),
    ),
  );
  router.post(
    '/lists/:id/take-out',
    route<Id, unknown, { listId: string }>(
      { params: uuidParam, body: Joi.object({ listId: Joi.string().guid().required() }) },
      ({ params, body }) => inTurn(() => takeOut(changing, params.id, body.listId)),
    ),
  );

  router.get(
    '/lists/to-find',
    route({}, () => toFind(database)),
  );
  router.post(
    '/lists/:id/replace',
    route<Id, unknown, { selection: Selection; sort: string | null; descending: boolean }>(
      {
        params: uuidParam,
        body: Joi.object({
          selection: selectionSchema.required(),
          sort: Joi.string().max(40).allow(null).default(null),
          descending: Joi.boolean().default(false),
        }),
      },
      ({ params, body: { selection, sort, descending } }) =>
        inTurn(async () =>
          replaceInList(changing, params.id, await selectedIds(database, selection, sort, descending)),
        ),
    ),
  );
  router.post(
    '/lists/:id/entries/reserve',
    route<Id, unknown, { entryIds: string[] }>(
      { params: uuidParam, body: Joi.object({ entryIds: entryIds.required() }) },
      ({ params, body }) => inTurn(() => moveToReserve(changing, params.id, body.entryIds)),
    ),
  );
  router.post(
    '/lists/:id/entries/:entryId/swap',
    route<Id & { entryId: string }, unknown, { trackId: number }>(
      {
        params: Joi.object({ id: Joi.string().guid().required(), entryId: Joi.string().guid().required() }),
        body: Joi.object({ trackId: Joi.number().integer().min(1).max(2_147_483_647).required() }),
      },
      ({ params, body }) => inTurn(() => swapInList(changing, params.id, params.entryId, body.trackId)),
    ),
  );
  router.get(
    '/lists/:id/better',
    route<Id, { entries: string[] }>(
      { params: uuidParam, query: Joi.object({ entries: jsonOf(entryIds).required() }) },
      ({ params, query }) => betterFiles(database, params.id, query.entries),
    ),
  );
  router.post(
    '/lists/:id/entries/better',
    route<Id, unknown, { entryIds: string[] }>(
      { params: uuidParam, body: Joi.object({ entryIds: entryIds.required() }) },
      ({ params, body }) => inTurn(() => takeBetter(changing, params.id, body.entryIds)),
    ),
  );
  return router;
}
