import { Router } from 'express';
import Joi from 'joi';
import { WEEKDAYS } from '@early-set/core/hours/week';
import type { ClockUse } from '@early-set/core/hours/kept';
import { changeClock, makeClock } from '../../hours/clocks.ts';
import { fillPlaces, hourFilling, insteadOf, openPlaces, type PlacesWish } from '../../hours/fill.ts';
import { hourContents } from '../../hours/hours.ts';
import { makeHours, type MakeHours } from '../../hours/make.ts';
import { playFrom, stationFiles } from '../../hours/stationFiles.ts';
import type { Context } from '../context.ts';
import { goneWith, route, uuidParam } from '../validate.ts';

type Id = { id: string };
const entryId = Joi.string().guid().required();
const end = Joi.number().min(0).max(172_800).allow(null).default(null);
const timeOfDay = Joi.string().pattern(/^([01]\d|2[0-3]):[0-5]\d$/);
const times = Joi.array()
  .items(
    Joi.object({
      days: Joi.array()
        .items(Joi.valid(...WEEKDAYS))
        .min(1)
        .unique()
        .required(),
      from: timeOfDay.required(),
      to: timeOfDay.required(),
    }),
  )
  .max(100)
  .default([]);
/** A month of hours at a time. */
const MAX_HOURS = 24 * 31 + 1;

/** Format clocks, and the hours that are made from them. */
export function hourRoutes({ database, changing, hourPool }: Context): Router {
  const router = Router();
  const { inTurn } = changing;
  router.post(
    '/clocks',
    route<unknown, unknown, { clock: { name: string }; times: ClockUse[] }>(
      {
        body: Joi.object({
          clock: Joi.object({ name: Joi.string().max(500).required() })
            .unknown()
            .required(),
          times,
        }),
      },
      ({ body }) => inTurn(() => makeClock(changing, body)),
    ),
  );
  router.put(
    '/clocks/:id',
    route<Id, unknown, { clock: object; times: ClockUse[] }>(
      { params: uuidParam, body: Joi.object({ clock: Joi.object().unknown().required(), times }) },
      ({ params, body }) => inTurn(() => changeClock(changing, params.id, body)),
    ),
  );
  router.post(
    '/hours',
    route<unknown, unknown, MakeHours>(
      {
        body: Joi.object({
          clockId: Joi.string().guid().allow(null).required(),
          from: Joi.number().integer().min(0).max(8_000_000_000).required(),
          hours: Joi.number().integer().min(1).max(MAX_HOURS).required(),
          fill: Joi.boolean().default(true),
          making: Joi.string().guid().allow(null).default(null),
        }),
      },
      ({ body, response }) => {
        return makeHours(changing, hourPool, body, goneWith(response));
      },
    ),
  );
  router.get(
    '/hours-making/:id',
    route<Id>({ params: uuidParam }, async ({ params }) => hourPool.progressOf(params.id)),
  );
  router.get(
    '/hours/:id',
    route<Id>({ params: uuidParam }, ({ params }) => hourContents(database, params.id)),
  );
  router.get(
    '/hours/:id/filling',
    route<Id>({ params: uuidParam }, ({ params }) => hourFilling(database, hourPool, params.id)),
  );
  router.get(
    '/hours/:id/instead/:entryId',
    route<Id & { entryId: string }>(
      { params: Joi.object({ id: Joi.string().guid().required(), entryId }) },
      ({ params }) => insteadOf(database, hourPool, params.id, params.entryId),
    ),
  );
  router.get(
    '/station-files',
    route({}, () => stationFiles(database)),
  );
  router.put(
    '/hours/:id/items/:entryId/file',
    route<Id & { entryId: string }, unknown, { trackId: number | null }>(
      {
        params: Joi.object({ id: Joi.string().guid().required(), entryId }),
        body: Joi.object({ trackId: Joi.number().integer().min(1).allow(null).required() }),
      },
      ({ params, body }) => inTurn(() => playFrom(changing, params.id, params.entryId, body.trackId)),
    ),
  );
  router.post(
    '/hours/:id/places',
    route<Id, unknown, PlacesWish>(
      {
        params: uuidParam,
        body: Joi.object({
          places: Joi.array()
            .items(Joi.object({ entryId, trackId: Joi.number().integer().min(1).required(), to: end }))
            .max(400)
            .default([]),
          ends: Joi.array()
            .items(Joi.object({ entryId, to: end }))
            .max(400)
            .default([]),
        }),
      },
      ({ params, body }) => inTurn(() => fillPlaces(changing, params.id, body)),
    ),
  );
  router.post(
    '/hours/:id/open',
    route<Id, unknown, { entryIds: string[] }>(
      { params: uuidParam, body: Joi.object({ entryIds: Joi.array().items(entryId).min(1).max(400).required() }) },
      ({ params, body }) => inTurn(() => openPlaces(changing, params.id, body.entryIds)),
    ),
  );
  return router;
}
