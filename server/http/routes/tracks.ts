import { WORKED_OUT, type CheckWhat, type Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { FIELDS } from '@early-set/core/fields/table';
import { checkList } from '../../library/check.ts';
import type { FacetFilters } from '../../library/facets/facets.ts';
import { overview } from '../../dates/overview.ts';
import { selectedIds, sheetRows } from '../../library/sheet.ts';
import type { SheetOrder, SheetQuery } from '../../library/sheets.ts';
import { summaryOf } from '../../library/summary.ts';
import { noticeMissing } from '../../library/missedFiles.ts';
import { fileOf, trackDetails, waveformOf } from '../../library/tracks.ts';
import { MAX_EXCERPT_SECONDS, sendExcerpt } from '../../media/audition.ts';
import { sendSound } from '../../media/sendSound.ts';
import { resolveInRoot } from '../../media/roots.ts';
import { notFound, Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { idParam, jsonOf, route, selectionSchema, trackIds } from '../validate.ts';
import { conditionSchema } from '@early-set/core/conditions/schema';

const sortField = Joi.string().valid(...WORKED_OUT, ...FIELDS.map((f) => f.id));

const sheetOrder = {
  where: jsonOf(conditionSchema).default(EVERYTHING),
  sort: sortField.default(null),
  descending: Joi.boolean().default(false),
  fitTo: Joi.number().integer().min(1).max(2_147_483_647).default(null),
};

/** Tracks: the sheet, its pictures, one track. */
export function trackRoutes({ database, art, facets, sheets, counts }: Context): Router {
  const router = Router();

  router.get(
    '/overview',
    route({}, () => overview(database, counts)),
  );

  router.get(
    '/tracks',
    route<unknown, SheetQuery>(
      {
        query: Joi.object({
          ...sheetOrder,
          offset: Joi.number().integer().min(0).max(10_000_000).default(0),
          limit: Joi.number().integer().min(1).max(500).default(100),
        }),
      },
      ({ query }) => sheets.page(query),
    ),
  );

  router.get(
    '/tracks/along',
    route<unknown, SheetOrder>({ query: Joi.object(sheetOrder) }, ({ query }) => sheets.along(query)),
  );

  router.get(
    '/check',
    route<unknown, { what: CheckWhat; below: number; limit: number }>(
      {
        query: Joi.object({
          what: Joi.valid('tempo', 'key').default('tempo'),
          below: Joi.number().min(0).max(1).default(0.8),
          limit: Joi.number().integer().min(1).max(1000).default(300),
        }),
      },
      ({ query }) => checkList(database, query.what, query.below, query.limit),
    ),
  );

  router.get(
    '/facets',
    route<unknown, { filters: FacetFilters }>(
      {
        query: Joi.object({
          filters: jsonOf(Joi.object().pattern(Joi.string().max(20), conditionSchema).max(30)).default({}),
        }),
      },
      ({ query }) => facets.facets(query.filters),
    ),
  );

  router.post(
    '/tracks/ids',
    route<unknown, unknown, { selection: Selection; sort: string | null; descending: boolean }>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          sort: sortField.allow(null).default(null),
          descending: Joi.boolean().default(false),
        }),
      },
      async ({ body }) => ({ ids: await selectedIds(database, body.selection, body.sort, body.descending) }),
    ),
  );

  router.post(
    '/tracks/rows',
    route<unknown, unknown, { ids: number[] }>(
      { body: Joi.object({ ids: trackIds.max(1000).required() }) },
      ({ body }) => sheetRows(database, body.ids),
    ),
  );

  router.post(
    '/tracks/summary',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }) => summaryOf(database, body.selection),
    ),
  );

  router.get(
    '/tracks/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => trackDetails(database, params.id)),
  );

  router.get(
    '/tracks/:id/waveform',
    route<{ id: number }>({ params: idParam }, async ({ params, response }) => {
      const waveform = await waveformOf(database, params.id);
      if (!waveform) throw notFound('The waveform');
      response.setHeader('X-Columns-Per-Second', String(waveform.rate));
      response.type('application/octet-stream').send(waveform.data);
    }),
  );

  /** Where a file lies; that it is gone is noticed here. */
  const pathOf = async (id: number, { rootPath, path }: { rootPath: string; path: string }): Promise<string> => {
    try {
      return await resolveInRoot(rootPath, path);
    } catch (error) {
      await noticeMissing(database, [id]);
      throw error;
    }
  };
  router.get(
    '/tracks/:id/audio',
    route<{ id: number }>(
      { params: idParam, query: Joi.object({}).unknown(true) },
      async ({ params, request, response }) => {
        const file = await fileOf(database, params.id);
        const path = await pathOf(params.id, file);
        await sendSound(path, file, request, response);
      },
    ),
  );

  router.get(
    '/tracks/:id/excerpt',
    route<{ id: number }, { from: number; seconds: number }>(
      {
        params: idParam,
        query: Joi.object({
          from: Joi.number().min(0).max(172_800).required(),
          seconds: Joi.number().greater(0).max(MAX_EXCERPT_SECONDS).required(),
        }),
      },
      async ({ params, query, response }) => {
        const file = await fileOf(database, params.id);
        const path = await pathOf(params.id, file);
        if ((await stat(path).catch(() => null))?.isFile() !== true)
          throw new Problem(404, 'file-not-found', `${basename(path)} could not be opened`);
        response.setHeader('Content-Type', 'audio/wav');
        await sendExcerpt(path, query.from, query.seconds, response);
      },
    ),
  );

  router.get(
    '/art/:hash',
    route<{ hash: string }, { size: number }>(
      {
        params: Joi.object({ hash: Joi.string().hex().length(40).required() }),
        query: Joi.object({ size: Joi.number().integer().min(16).max(1000).default(160) }),
      },
      async ({ params, query, response }) => {
        const path = await art.thumbnail(params.hash, query.size);
        if (!path) throw notFound('The cover');
        response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
        response.type('image/jpeg');
        await new Promise<void>((resolve) =>
          response.sendFile(path, { dotfiles: 'allow', cacheControl: false }, () => resolve()),
        );
      },
    ),
  );

  return router;
}
