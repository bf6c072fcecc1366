import type { CompletenessWish, Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { completeness, writeCsv, writeXlsx } from '../../library/completeness.ts';
import type { Context } from '../context.ts';
import { route, selectionSchema } from '../validate.ts';

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};

/** How much is filled, as figures and as spreadsheets. */
export function completenessRoutes({ database }: Context): Router {
  const router = Router();
  router.post(
    '/completeness',
    route<unknown, unknown, CompletenessWish>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          by: Joi.valid('none', 'folder', 'album', 'list').default('none'),
        }),
      },
      ({ body }) => completeness(database, body),
    ),
  );
  router.post(
    '/completeness/export',
    route<unknown, unknown, { selection: Selection; format: 'csv' | 'xlsx' }>(
      {
        body: Joi.object({ selection: selectionSchema.required(), format: Joi.valid('csv', 'xlsx').required() }),
      },
      async ({ body, response }) => {
        response.setHeader('Content-Type', TYPES[body.format]);
        response.setHeader('Content-Disposition', `attachment; filename="tracks.${body.format}"`);
        await (body.format === 'csv' ? writeCsv : writeXlsx)(database, body.selection, response);
      },
    ),
  );
  return router;
}
