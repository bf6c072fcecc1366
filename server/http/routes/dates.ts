import type { DateInfo } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { dateLines, keepDate, removeDate } from '../../dates/dates.ts';
import type { Context } from '../context.ts';
import { idParam, route } from '../validate.ts';

const day = Joi.string()
  .pattern(/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/)
  .custom((value: string, helpers) => {
    // The 31st of June is no day.
    const read = new Date(`${value}T12:00:00Z`);
    return !Number.isNaN(read.getTime()) && read.toISOString().startsWith(value) ? value : helpers.error('any.invalid');
  }, 'a day');

const date = Joi.object({
  name: Joi.string().trim().min(1).max(200).required(),
  kind: Joi.valid('gig', 'show').required(),
  day: day.required(),
  startsAt: Joi.string()
    .pattern(/^(?:[01]\d|2[0-3]):[0-5]\d$/)
    .allow(null)
    .required(),
  asks: Joi.valid('floor', 'playout').required(),
  listIds: Joi.array().items(Joi.string().guid()).max(200).unique().required(),
});

/** Dates to prepare for. Which day it is, is for the page to say: it knows where the desk stands. */
export function dateRoutes({ database, changing }: Context): Router {
  const router = Router();
  router.get(
    '/dates',
    route<unknown, { today: string; past: boolean }>(
      { query: Joi.object({ today: day.required(), past: Joi.boolean().default(false) }) },
      ({ query }) => dateLines(database, query.today, query.past),
    ),
  );
  router.post(
    '/dates',
    route<unknown, unknown, DateInfo>({ body: date }, ({ body }) => keepDate(changing, null, body)),
  );
  router.patch(
    '/dates/:id',
    route<{ id: number }, unknown, DateInfo>({ params: idParam, body: date }, ({ params, body }) =>
      keepDate(changing, params.id, body),
    ),
  );
  router.delete(
    '/dates/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => removeDate(changing, params.id)),
  );
  return router;
}
