import type { Selection } from '@early-set/core/api/types';
import { FIELDS } from '@early-set/core/fields/table';
import { Router } from 'express';
import Joi from 'joi';
import { copyField, folderPicture, keepPicture, knownValues, setPicture, sharedValues } from '../../editing/byHand.ts';
import { notFound, Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { MAX_PICTURE_BYTES } from '../../media/raster.ts';
import { receiveInMemory } from '../uploads.ts';
import { route, selectionSchema } from '../validate.ts';

const editable = Joi.string().valid(...FIELDS.filter((f) => f.editable).map((f) => f.id));
const hash = Joi.string().hex().length(40);
const ENDINGS: Record<string, string> = { 'image/png': 'png', 'image/webp': 'webp', 'image/gif': 'gif' };

/** Editing by hand: type-ahead, what many tracks share, copying fields, pictures. */
export function editingRoutes({ database, changing, art }: Context): Router {
  const router = Router();
  router.get(
    '/values',
    route<unknown, { field: string; text: string; limit: number }>(
      {
        query: Joi.object({
          field: Joi.string()
            .valid(...FIELDS.map((f) => f.id))
            .required(),
          text: Joi.string().max(200).allow('').default(''),
          limit: Joi.number().integer().min(1).max(100).default(12),
        }),
      },
      ({ query }) => knownValues(database, query.field, query.text, query.limit),
    ),
  );
  router.post(
    '/fields/shared',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }) => sharedValues(database, body.selection),
    ),
  );
  router.post(
    '/fields/copy',
    route<unknown, unknown, { selection: Selection; from: string; to: string; over: boolean }>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          from: editable.required(),
          to: editable.required(),
          over: Joi.boolean().default(true),
        }),
      },
      ({ body }) => copyField(changing, body.selection, body.from, body.to, body.over),
    ),
  );

  router.post(
    '/pictures',
    receiveInMemory(MAX_PICTURE_BYTES),
    route({ body: Joi.object({ path: Joi.string().max(4000).allow('') }) }, async ({ request }) => {
      if (!request.file) throw new Problem(400, 'no-file', 'No cover arrived');
      return keepPicture(changing, new Uint8Array(request.file.buffer), request.file.originalname || 'The cover');
    }),
  );
  router.post(
    '/pictures/folder',
    route<unknown, unknown, { trackId: number }>(
      { body: Joi.object({ trackId: Joi.number().integer().min(1).required() }) },
      ({ body }) => folderPicture(changing, body.trackId),
    ),
  );
  router.post(
    '/pictures/set',
    route<unknown, unknown, { selection: Selection; hash: string | null }>(
      {
        body: Joi.object({ selection: selectionSchema.required(), hash: hash.allow(null).required() }),
      },
      ({ body }) => setPicture(changing, body.selection, body.hash),
    ),
  );
  router.get(
    '/art/:hash/original',
    route<{ hash: string }>({ params: Joi.object({ hash: hash.required() }) }, async ({ params, response }) => {
      const picture = await art.original(params.hash);
      if (!picture) throw notFound('The cover');
      response.setHeader('Content-Disposition', `attachment; filename="cover.${ENDINGS[picture.mime] ?? 'jpg'}"`);
      response.type(picture.mime).send(Buffer.from(picture.data));
    }),
  );
  return router;
}
