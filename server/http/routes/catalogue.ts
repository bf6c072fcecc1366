import type { CatalogueState, LookupWish, TakePolicies } from '@early-set/core/api/catalogue';
import { CATALOGUE_FIELDS } from '@early-set/core/catalogue/proposals';
import { Router } from 'express';
import Joi from 'joi';
import { serviceAddress } from '../../db/services.ts';
import { changeGroup, groupDetails, lookupById, makeLookup } from '../../catalogue/lookups.ts';
import { takeDraft, takeGroups } from '../../catalogue/foundDraft.ts';
import { notFound } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { idParam, route, selectionSchema } from '../validate.ts';

const field = Joi.valid(...CATALOGUE_FIELDS);
const wish = Joi.object({
  selection: selectionSchema.required(),
  how: Joi.valid('fields', 'sound').required(),
  tearApart: Joi.boolean().default(false),
  fill: Joi.object({ fields: Joi.array().items(field).min(1).unique().required(), clear: Joi.boolean().required() })
    .allow(null)
    .default(null),
});
const policy = Joi.valid('fill gaps', 'replace', 'keep');
const policies = Joi.object({
  fields: Joi.object(Object.fromEntries(CATALOGUE_FIELDS.map((f) => [f, policy.required()]))).required(),
  genres: Joi.valid('genre', 'sub-genre', 'both').required(),
  picture: policy.required(),
});
const words = Joi.string().trim().max(300).allow('').required();
interface Taking {
  groups: number[] | null;
  policies: TakePolicies;
}
const groupParams = Joi.object({
  id: Joi.number().integer().min(1).required(),
  group: Joi.number().integer().min(1).required(),
});

/** Look-ups in the catalogue. */
export function catalogueRoutes({ database, runs, changing }: Context): Router {
  const router = Router();
  router.get(
    '/catalogue',
    route({}, async (): Promise<CatalogueState> => ({
      there: (await serviceAddress(database, 'catalogue')) !== null,
      latest: (await lookupById(database, null))?.id ?? null,
    })),
  );
  router.post(
    '/lookups',
    route<unknown, unknown, LookupWish>({ body: wish }, ({ body }) => makeLookup(database, runs.lookup, body)),
  );
  router.get(
    '/lookups/:id',
    route<{ id: number }>({ params: idParam }, async ({ params }) => {
      const found = await lookupById(database, params.id);
      if (!found) throw notFound('The look-up');
      return found;
    }),
  );
  router.get(
    '/lookups/:id/groups/:group',
    route<{ id: number; group: number }>({ params: groupParams }, ({ params }) =>
      groupDetails(database, params.id, params.group),
    ),
  );
  router.patch(
    '/lookups/:id/groups/:group',
    route<{ id: number; group: number }, unknown, Parameters<typeof changeGroup>[3]>(
      {
        params: groupParams,
        body: Joi.object({
          chosen: Joi.string().max(60),
          lines: Joi.object().pattern(/^\d+$/, Joi.number().integer().min(0)),
          skipped: Joi.boolean(),
          query: Joi.object({ artist: words, album: words, title: words }),
        }).min(1),
      },
      ({ params, body }) => changeGroup(database, params.id, params.group, body),
    ),
  );
  const taking = {
    params: idParam,
    body: Joi.object({
      groups: Joi.array().items(Joi.number().integer().min(1)).min(1).max(5000).allow(null).required(),
      policies: policies.required(),
    }),
  };
  router.post(
    '/lookups/:id/draft',
    route<{ id: number }, unknown, Taking>(taking, ({ params, body }) =>
      takeDraft(database, params.id, body.groups, body.policies),
    ),
  );
  router.post(
    '/lookups/:id/take',
    route<{ id: number }, unknown, Taking>(taking, ({ params, body }) =>
      takeGroups(changing, params.id, body.groups, body.policies),
    ),
  );
  return router;
}
