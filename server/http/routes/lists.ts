import { ENTRY_KINDS, type EntryData } from '@early-set/core/changes/snapshot';
import { MAX_MATCHED, matchList } from '../../lists/matchList.ts';
import type { FilledList, Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { selectedIds } from '../../library/sheet.ts';
import { LIST_FIELDS } from '@early-set/core/arrange/fields';
import { readShape } from '@early-set/core/arrange/shape';
import {
  addToList,
  allLists,
  changeList,
  addEntryToList,
  changeEntry,
  duplicateList,
  listContents,
  makeList,
  makeFilledList,
  moveInList,
  orderList,
  pinInList,
  removeFromList,
  stateOf,
  type NewEntry,
  type NewList,
} from '../../lists/lists.ts';
import type { Context } from '../context.ts';
import { freezeList, SHOWN_MEMBERS } from '../../lists/selfFilling.ts';
import { MARK_COLOURS } from '@early-set/core/fields/marks';
import { LIMIT_FIELDS, MAX_LIMIT } from '@early-set/core/conditions/rule';
import { route, selectionSchema, uuidParam } from '../validate.ts';
import { conditionSchema } from '@early-set/core/conditions/schema';

const name = Joi.string().max(1000);
/** Characters of a list that is pasted. */
const MAX_TEXT = 1_000_000;
const filledEntry = Joi.alternatives(
  Joi.object({ trackId: Joi.number().integer().min(1).max(2_147_483_647).required() }),
  Joi.object({
    text: Joi.string().max(500).allow('').required(),
    seconds: Joi.number().min(0).max(360_000).allow(null).required(),
  }),
);
const limitCount = Joi.number().integer().min(1).max(MAX_LIMIT).required();
const ruleSchema = Joi.object({
  where: conditionSchema.required(),
  limit: Joi.alternatives(
    Joi.object({ count: limitCount, by: Joi.valid(...LIMIT_FIELDS).required(), descending: Joi.boolean().required() }),
    Joi.object({
      count: limitCount,
      by: Joi.valid('random').required(),
      seed: Joi.number().integer().min(0).max(2_147_483_647).required(),
    }),
  ),
});
const entryIds = Joi.array().items(Joi.string().guid()).min(1).max(200_000);
const sorting = { sort: Joi.string().max(40).allow(null).default(null), descending: Joi.boolean().default(false) };
const seconds = (): Joi.NumberSchema => Joi.number().min(0).max(172_800);
/** What an entry may carry. */
const entryData: Record<keyof EntryData, Joi.Schema> = {
  text: Joi.string().max(2000),
  seconds: seconds(),
  pinned: Joi.boolean(),
  from: seconds(),
  to: seconds(),
  overlap: seconds(),
  overlapBars: Joi.number().min(0).max(256),
  tempo: Joi.valid('former', 'ramp'),
  rampBars: Joi.number().integer().min(1).max(256),
  at: Joi.string().pattern(/^([01]\d|2[0-3]):[0-5]\d$/),
  remark: Joi.string().max(2000),
  fixedAt: seconds(),
  notBefore: Joi.boolean(),
  overIntro: seconds(),
  bed: Joi.string().max(500),
  slot: Joi.number().integer().min(0).max(400),
  reason: Joi.string().max(500),
  out: Joi.string().max(500),
};
/** Crates and playlists. */
export function listRoutes({ database, changing, members }: Context): Router {
  const router = Router();
  const { inTurn } = changing;
  type Id = { id: string };
  /** What has just got other conditions is filled before anybody looks. */
  const filled = async <T>(made: Promise<T>, wish: { rule?: unknown }): Promise<T> => {
    const applied = await made;
    if (wish.rule) {
      members.changed();
      await members.fresh();
    }
    return applied;
  };
  router.get(
    '/lists',
    route({}, async () => {
      await members.fresh();
      return allLists(database);
    }),
  );
  router.post(
    '/lists',
    route<unknown, unknown, NewList & { selection?: Selection; sort: string | null; descending: boolean }>(
      {
        body: Joi.object({
          kind: Joi.valid('crate', 'playlist').required(),
          name: name.allow('').required(),
          parentId: Joi.string().guid().allow(null),
          selection: selectionSchema,
          rule: Joi.when('kind', { is: 'crate', then: ruleSchema, otherwise: Joi.forbidden() }),
          ...sorting,
        }).nand('selection', 'rule'),
      },
      ({ body: { selection, sort, descending, ...wish } }) =>
        filled(
          inTurn(async () =>
            makeList(changing, {
              ...wish,
              trackIds: selection ? await selectedIds(database, selection, sort, descending) : [],
            }),
          ),
          wish,
        ),
    ),
  );
  router.post(
    '/lists/match',
    route<unknown, unknown, { text: string; ending: string }>(
      {
        body: Joi.object({
          text: Joi.string().max(MAX_TEXT).required(),
          ending: Joi.string().max(12).allow('').default('txt'),
        }),
      },
      async ({ body, response }) => {
        const gone = new AbortController();
        response.on('close', () => gone.abort());
        return matchList(database, body.text, body.ending, gone.signal).catch((error: unknown) => {
          if (!gone.signal.aborted) throw error;
          return undefined;
        });
      },
    ),
  );
  router.post(
    '/lists/filled',
    route<unknown, unknown, FilledList>(
      {
        body: Joi.object({
          name: name.required(),
          entries: Joi.array().items(filledEntry).min(1).max(MAX_MATCHED).required(),
        }),
      },
      ({ body }) => inTurn(() => makeFilledList(changing, body)),
    ),
  );
  router.get(
    '/lists/:id',
    route<Id>({ params: uuidParam }, async ({ params }) => {
      await members.fresh();
      return listContents(database, params.id, { limit: SHOWN_MEMBERS, fields: LIST_FIELDS });
    }),
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
          shape: Joi.string()
            .max(600)
            .custom((text: string, helpers) => (readShape(text) ? text : helpers.error('any.invalid')))
            .allow(null),
          rule: ruleSchema,
          colour: Joi.valid(...MARK_COLOURS).allow(null),
          note: Joi.string().max(4000).allow('', null),
          wishedSeconds: Joi.number().integer().min(1).max(604_800).allow(null),
          reserveId: Joi.string().guid().allow(null),
        }).min(1),
      },
      ({ params, body }) =>
        filled(
          inTurn(() => changeList(changing, params.id, body)),
          body,
        ),
    ),
  );
  router.post(
    '/lists/:id/freeze',
    route<Id>({ params: uuidParam }, ({ params }) =>
      inTurn(async () => {
        await members.fresh();
        return freezeList(changing, params.id, await stateOf(database, params.id));
      }),
    ),
  );
  router.post(
    '/lists/:id/duplicate',
    route<Id>({ params: uuidParam }, ({ params }) => inTurn(() => duplicateList(changing, params.id))),
  );
  router.post(
    '/lists/:id/entries',
    route<
      Id,
      unknown,
      { selection: Selection; index?: number; once: boolean; sort: string | null; descending: boolean }
    >(
      {
        params: uuidParam,
        body: Joi.object({
          selection: selectionSchema.required(),
          index: Joi.number().integer().min(0),
          once: Joi.boolean().default(false),
          ...sorting,
        }),
      },
      ({ params, body }) =>
        inTurn(async () =>
          addToList(changing, params.id, {
            ...body,
            trackIds: await selectedIds(database, body.selection, body.sort, body.descending),
          }),
        ),
    ),
  );
  router.post(
    '/lists/:id/entries/other',
    route<Id, unknown, NewEntry>(
      {
        params: uuidParam,
        body: Joi.object({
          kind: Joi.valid(...ENTRY_KINDS.filter((k) => k !== 'track')).required(),
          trackId: Joi.number().integer().min(1).allow(null),
          data: Joi.object(entryData).default({}),
          index: Joi.number().integer().min(0),
        }),
      },
      ({ params, body }) => inTurn(() => addEntryToList(changing, params.id, body)),
    ),
  );
  router.patch(
    '/lists/:id/entries/:entryId',
    route<Id & { entryId: string }, unknown, Parameters<typeof changeEntry>[3]>(
      {
        params: Joi.object({ id: Joi.string().guid().required(), entryId: Joi.string().guid().required() }),
        body: Joi.object(
          Object.fromEntries(Object.entries(entryData).map(([name, schema]) => [name, schema.allow(null)])),
        ).min(1),
      },
      ({ params, body }) => inTurn(() => changeEntry(changing, params.id, params.entryId, body)),
    ),
  );
  router.post(
    '/lists/:id/entries/remove',
    route<Id, unknown, { entryIds: string[] }>(
      { params: uuidParam, body: Joi.object({ entryIds: entryIds.required() }) },
      ({ params, body }) => inTurn(() => removeFromList(changing, params.id, body.entryIds)),
    ),
  );
  router.post(
    '/lists/:id/entries/move',
    route<Id, unknown, { entryIds: string[]; behind: string | null }>(
      {
        params: uuidParam,
        body: Joi.object({ entryIds: entryIds.required(), behind: Joi.string().guid().allow(null).required() }),
      },
      ({ params, body }) => inTurn(() => moveInList(changing, params.id, body.entryIds, body.behind)),
    ),
  );
  router.post(
    '/lists/:id/entries/order',
    route<Id, unknown, { entryIds: string[]; by: 'smoothing' | 'sorting' }>(
      {
        params: uuidParam,
        body: Joi.object({ entryIds: entryIds.required(), by: Joi.valid('smoothing', 'sorting').required() }),
      },
      ({ params, body }) => inTurn(() => orderList(changing, params.id, body.entryIds, body.by)),
    ),
  );
  router.post(
    '/lists/:id/entries/pin',
    route<Id, unknown, { entryIds: string[]; pinned: boolean }>(
      { params: uuidParam, body: Joi.object({ entryIds: entryIds.required(), pinned: Joi.boolean().required() }) },
      ({ params, body }) => inTurn(() => pinInList(changing, params.id, body.entryIds, body.pinned)),
    ),
  );

  return router;
}
