import type { DateInfo } from '@early-set/core/api/types';
import { dateSchema } from '@early-set/core/api/wishes';
import { daySchema } from '@early-set/core/clock/daySchema';
import { Router } from 'express';
import Joi from 'joi';
import { dateLines, keepDate, removeDate } from '../../dates/dates.ts';
import type { Context } from '../context.ts';
import { idParam, route } from '../validate.ts';

/** Dates to prepare for. Which day it is, is for the page to say: it knows where the desk stands. */
export function dateRoutes({ database, changing }: Context): Router {
  const router = Router();
  router.get(
    '/dates',
    route<unknown, { today: string; past: boolean }>(
      { query: Joi.object({ today: daySchema.required(), past: Joi.boolean().default(false) }) },
      ({ query }) => dateLines(database, query.today, query.past),
    ),
  );
  router.post(
    '/dates',
    route<unknown, unknown, DateInfo>({ body: dateSchema }, ({ body }) => keepDate(changing, null, body)),
  );
  router.patch(
    '/dates/:id',
    route<{ id: number }, unknown, DateInfo>({ params: idParam, body: dateSchema }, ({ params, body }) =>
      keepDate(changing, params.id, body),
    ),
  );
  router.delete(
    '/dates/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => removeDate(changing, params.id)),
  );
  return router;
}
