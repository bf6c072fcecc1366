import type { DestinationSettings, SyncWish } from '@early-set/core/api/handover';
import type { KeyTable } from '@early-set/core/exchange/collection';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { FORMATS } from '@early-set/core/exchange/programs';
import type { Choices } from '@early-set/core/sync/compareTracks';
import { DIRECTIONS, POLICIES, POLICY_KINDS, type Policies } from '@early-set/core/sync/policies';
import { Router } from 'express';
import Joi from 'joi';
import { compareWith, syncWith } from '../../handover/compare.ts';
import { addDestination, allDestinations, changeDestination, removeDestination } from '../../handover/destinations.ts';
import { allowedFolder } from '../../intake/places.ts';
import type { Context } from '../context.ts';
import { goneWith, idParam, route } from '../validate.ts';

const path = Joi.string().max(4000);
const policies = Joi.object<Policies>({
  ...Object.fromEntries(POLICY_KINDS.map((kind) => [kind, Joi.valid(...POLICIES).required()])),
  direction: Joi.valid(...DIRECTIONS).required(),
  removals: Joi.boolean().required(),
  tracks: Joi.valid('all', 'in lists').required(),
});
const settings = Joi.object<Partial<DestinationSettings>>({
  policies,
  lists: Joi.array().items(Joi.string().guid()).max(5000).allow(null),
  maps: Joi.array()
    .items(Joi.object({ from: path.allow('').required(), to: path.allow('').required() }))
    .max(50),
  keys: Joi.object<KeyTable>(
    Object.fromEntries(ALL_KEYS.map((k) => [k, Joi.string().trim().min(1).max(20).required()])),
  )
    .custom((table: KeyTable, helpers) =>
      new Set(Object.values(table)).size === ALL_KEYS.length ? table : helpers.error('any.invalid'),
    )
    .allow(null),
  accepted: Joi.array().items(Joi.string().max(300)).max(500),
});
const choices = Joi.object<Choices>().pattern(Joi.string().max(400), Joi.valid('here', 'there', 'both', 'leave'));

/** Programs that the library is handed over to. */
export function handoverRoutes({ database, dataFolder, states, handover, demoRoot }: Context): Router {
  const router = Router();
  router.get(
    '/destinations',
    route({}, () => allDestinations(database)),
  );
  router.get(
    '/destinations/kinds',
    route({}, () => Promise.resolve(Object.values(FORMATS).map((format) => format.describe))),
  );
  router.post(
    '/destinations',
    route<unknown, unknown, { folder: string }>({ body: Joi.object({ folder: path.required() }) }, ({ body }) =>
      allowedFolder(body.folder, demoRoot).then((folder) => addDestination(database, folder)),
    ),
  );
  router.patch(
    '/destinations/:id',
    route<{ id: number }, unknown, { name?: string; settings?: Partial<DestinationSettings> }>(
      { params: idParam, body: Joi.object({ name: Joi.string().trim().min(1).max(100), settings }).min(1) },
      ({ params, body }) => changeDestination(database, params.id, body),
    ),
  );
  router.delete(
    '/destinations/:id',
    route<{ id: number }>({ params: idParam }, async ({ params }) => {
      await removeDestination({ database, states, dataFolder }, params.id);
      return { removed: true };
    }),
  );
  router.post(
    '/destinations/:id/compare',
    route<{ id: number }, unknown, { choices: Choices }>(
      { params: idParam, body: Joi.object({ choices: choices.default({}) }) },
      ({ params, body, response }) => compareWith(handover, params.id, body.choices, goneWith(response)),
    ),
  );
  router.post(
    '/destinations/:id/sync',
    route<{ id: number }, unknown, SyncWish>(
      { params: idParam, body: Joi.object({ token: Joi.string().max(64).required(), choices: choices.default({}) }) },
      ({ params, body, response }) => syncWith(handover, params.id, body, goneWith(response)),
    ),
  );
  router.get(
    '/destinations/:id/step',
    route<{ id: number }>({ params: idParam }, ({ params }) =>
      Promise.resolve({ step: handover.steps.get(params.id) ?? null }),
    ),
  );
  return router;
}
