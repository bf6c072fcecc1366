import type { Applied, Selection } from '@early-set/core/api/types';
import { Router } from 'express';
import Joi from 'joi';
import { applyInTurn } from '../../changes/edits.ts';
import { tracksInWords } from '../../editing/byHand.ts';
import { mergeDraft, relocateDraft, removeDraft, type FileWish } from '../../library/fileDrafts.ts';
import { selectedIds } from '../../library/sheet.ts';
import { Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { route, selectionSchema } from '../validate.ts';

const id = Joi.number().integer().min(1).max(2_147_483_647);
const ref = Joi.object({ rootId: id.required(), path: Joi.string().max(4000).required() });
const wish = Joi.object({
  trackId: id.required(),
  fileId: Joi.string().guid(),
  mode: Joi.valid('move', 'copy', 'retire', 'restore').required(),
  to: ref.when('mode', { is: Joi.valid('move', 'copy'), then: Joi.required() }),
});

const TITLES: Record<FileWish['mode'], string> = {
  move: 'Move',
  copy: 'Copy',
  retire: 'Put into quarantine',
  restore: 'Restore from quarantine',
};

/** Whole tracks and their files: put elsewhere, out of the library, made one. */
export function fileRoutes({ database, changing }: Context): Router {
  const router = Router();
  router.post(
    '/files/relocate',
    route<unknown, unknown, { wishes: FileWish[] }>(
      { body: Joi.object({ wishes: Joi.array().items(wish).min(1).max(200_000).required() }) },
      ({ body: { wishes } }) =>
        applyInTurn(changing, async () => ({
          title: `${TITLES[wishes[0]!.mode]}: ${wishes.length === 1 ? 'one file' : `${wishes.length.toLocaleString('en-GB')} files`}`,
          items: await relocateDraft(database, wishes),
        })),
    ),
  );
  router.post(
    '/tracks/remove',
    route<unknown, unknown, { selection: Selection }>(
      { body: Joi.object({ selection: selectionSchema.required() }) },
      ({ body }): Promise<Applied> =>
        applyInTurn(changing, async () => {
          const items = await removeDraft(database, await selectedIds(database, body.selection));
          if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'No track is chosen');
          return { title: `Remove ${tracksInWords(items.length)} from the library`, items };
        }),
    ),
  );
  router.post(
    '/tracks/merge',
    route<unknown, unknown, { trackId: number; otherId: number }>(
      { body: Joi.object({ trackId: id.required(), otherId: id.required() }) },
      ({ body }) =>
        applyInTurn(changing, async () => ({
          title: 'Merge two tracks',
          items: await mergeDraft(database, body.trackId, body.otherId),
        })),
    ),
  );
  return router;
}
