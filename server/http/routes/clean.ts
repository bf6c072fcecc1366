import type { Selection } from '@early-set/core/api/types';
import type { FieldEdit } from '@early-set/core/changes/fields';
import { checkSteps } from '@early-set/core/clean/presets';
import type { Step } from '@early-set/core/clean/steps';
import { FIELDS } from '@early-set/core/fields/table';
import { Router } from 'express';
import Joi from 'joi';
import {
  applyFieldDraft,
  cleanTracks,
  folderLines,
  genreCounts,
  keepPreset,
  nameCounts,
  removePreset,
  savedPresets,
} from '../../clean/clean.ts';
import { Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { idParam, route, selectionSchema } from '../validate.ts';

const edits = Joi.array()
  .items(
    Joi.object({
      trackId: Joi.number().integer().min(1).required(),
      fields: Joi.object()
        .pattern(
          Joi.string().valid(...FIELDS.map((f) => f.id)),
          Joi.object({ before: Joi.any().required(), after: Joi.any().required() }),
        )
        .min(1)
        .required(),
    }),
  )
  .min(1)
  .max(200_000)
  .required();

/** Cleaning: what the steps work on, presets kept, and drafts made on the page. */
export function cleanRoutes({ database, changing }: Context): Router {
  const router = Router();

  router.post(
    '/clean/tracks',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }) => cleanTracks(database, body.selection),
    ),
  );
  router.get(
    '/clean/names',
    route({}, () => nameCounts(database)),
  );
  router.get(
    '/clean/genres',
    route({}, () => genreCounts(database)),
  );
  router.get(
    '/clean/folders',
    route({}, () => folderLines(database)),
  );

  router.post(
    '/drafts/fields',
    route<unknown, unknown, { title: string; edits: FieldEdit[] }>(
      {
        body: Joi.object({ title: Joi.string().trim().min(1).max(300).required(), edits }),
      },
      ({ body }) => applyFieldDraft(changing, body.title, body.edits),
    ),
  );

  const preset = {
    name: Joi.string().trim().min(1).max(200).required(),
    steps: Joi.array().items(Joi.object().unknown(true)).max(100).required(),
  };
  const read = (steps: unknown[]): Step[] => {
    const checked = checkSteps(steps);
    if (typeof checked === 'string') throw new Problem(400, 'bad-preset', checked);
    return checked;
  };
  router.get(
    '/presets',
    route({}, () => savedPresets()),
  );
  router.post(
    '/presets',
    route<unknown, unknown, { name: string; steps: unknown[] }>({ body: Joi.object(preset) }, ({ body }) =>
      keepPreset(database, null, body.name, read(body.steps)),
    ),
  );
  router.patch(
    '/presets/:id',
    route<{ id: number }, unknown, { name: string; steps: unknown[] }>(
      { params: idParam, body: Joi.object(preset) },
      ({ params, body }) => keepPreset(database, params.id, body.name, read(body.steps)),
    ),
  );
  router.delete(
    '/presets/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => removePreset(database, params.id)),
  );
  return router;
}
