import type { ExportWish, Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { DEFAULT_LINE } from '@early-set/core/exchange/playlistFiles';
import { selectedIds } from '../../library/sheet.ts';
import { exportList, writeListToRoot } from '../../lists/export.ts';
import {
  addToList,
  allLists,
  changeList,
  duplicateList,
  listContents,
  makeList,
  moveInList,
  removeFromList,
  type NewList,
} from '../../lists/lists.ts';
import type { Context } from '../context.ts';
import { route, selectionSchema, uuidParam } from '../validate.ts';

const name = Joi.string().max(1000);
const entryIds = Joi.array().items(Joi.string().guid()).min(1).max(200_000);
const sorting = { sort: Joi.string().max(40).allow(null).default(null), descending: Joi.boolean().default(false) };
const exportShape = {
  format: Joi.valid('m3u8', 'xspf').required(),
  paths: Joi.valid('absolute', 'relative').required(),
  line: Joi.string().max(4000).allow('').default(DEFAULT_LINE),
  rootId: Joi.number().integer().min(1).allow(null).default(null),
};

/** Crates and playlists. */
export function listRoutes({ database, changing: { inTurn } }: Context): Router {
  const router = Router();
  type Id = { id: string };

  router.get(
    '/lists',
    route({}, () => allLists(database)),
  );
  router.post(
    '/lists',
    route<unknown, unknown, NewList & { selection?: Selection; sort: string | null; descending: boolean }>(
      {
        body: Joi.object({
          kind: Joi.valid('crate', 'playlist').required(),
          name: name.required(),
          parentId: Joi.string().guid().allow(null),
          selection: selectionSchema,
          ...sorting,
        }),
      },
      ({ body: { selection, sort, descending, ...wish } }) =>
        inTurn(async () =>
          makeList(database, {
            ...wish,
            trackIds: selection ? await selectedIds(database, selection, sort, descending) : [],
          }),
        ),
    ),
  );
  router.get(
    '/lists/:id',
    route<Id>({ params: uuidParam }, ({ params }) => listContents(database, params.id)),
  );
  router.patch(
    '/lists/:id',
    route<Id, unknown, Parameters<typeof changeList>[2]>(
      {
        params: uuidParam,
        body: Joi.object({
          name,
          parentId: Joi.string().guid().allow(null),
          position: Joi.number(),
          removed: Joi.boolean(),
          startsAt: Joi.string()
            .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
            .allow(null),
        }).min(1),
      },
      ({ params, body }) => inTurn(() => changeList(database, params.id, body)),
    ),
  );
  router.post(
    '/lists/:id/duplicate',
    route<Id>({ params: uuidParam }, ({ params }) => inTurn(() => duplicateList(database, params.id))),
  );
  router.post(
    '/lists/:id/entries',
    route<Id, unknown, { selection: Selection; index?: number; sort: string | null; descending: boolean }>(
      {
        params: uuidParam,
        body: Joi.object({ selection: selectionSchema.required(), index: Joi.number().integer().min(0), ...sorting }),
      },
      ({ params, body }) =>
        inTurn(async () =>
          addToList(
            database,
            params.id,
            await selectedIds(database, body.selection, body.sort, body.descending),
            body.index,
          ),
        ),
    ),
  );
  router.post(
    '/lists/:id/entries/remove',
    route<Id, unknown, { entryIds: string[] }>(
      { params: uuidParam, body: Joi.object({ entryIds: entryIds.required() }) },
      ({ params, body }) => inTurn(() => removeFromList(database, params.id, body.entryIds)),
    ),
  );
  router.post(
    '/lists/:id/entries/move',
    route<Id, unknown, { entryIds: string[]; behind: string | null }>(
      {
        params: uuidParam,
        body: Joi.object({ entryIds: entryIds.required(), behind: Joi.string().guid().allow(null).required() }),
      },
      ({ params, body }) => inTurn(() => moveInList(database, params.id, body.entryIds, body.behind)),
    ),
  );

  router.post(
    '/lists/:id/export',
    route<Id, unknown, ExportWish>({ params: uuidParam, body: Joi.object(exportShape) }, ({ params, body }) =>
      exportList(database, params.id, body),
    ),
  );
  router.post(
    '/lists/:id/write',
    route<Id, unknown, ExportWish & { rootId: number }>(
      { params: uuidParam, body: Joi.object({ ...exportShape, rootId: Joi.number().integer().min(1).required() }) },
      ({ params, body }) => writeListToRoot(database, params.id, body),
    ),
  );

  return router;
}
