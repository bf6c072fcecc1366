import type { Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { Problem } from '../../base/problem.ts';
import { applyInTurn } from '../../changes/edits.ts';
import { pointsFor } from '../../playout/points.ts';
import type { Context } from '../context.ts';
import { route, selectionSchema } from '../validate.ts';

interface Wish {
  selection: Selection;
}
const wish = { body: Joi.object<Wish>({ selection: selectionSchema.required() }) };

/** Playout points in the files themselves. */
export function playoutRoutes({ database, changing }: Context): Router {
  const router = Router();
  router.post(
    '/playout-points/draft',
    route<unknown, unknown, Wish>(wish, async ({ body }) => (await pointsFor(database, body.selection)).draft),
  );
  router.post(
    '/playout-points/write',
    route<unknown, unknown, Wish>(wish, ({ body }) =>
      applyInTurn(changing, async () => {
        const { items } = await pointsFor(database, body.selection);
        if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'None of these is a WAV file with all points');
        const files = items.length === 1 ? 'one WAV file' : `${items.length.toLocaleString('en-GB')} WAV files`;
        return { title: `Write playout points into ${files}`, items };
      }),
    ),
  );
  return router;
}
