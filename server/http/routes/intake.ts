import type { Applied, Selection } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import { measureShape, type MeasureWish } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { join } from 'node:path';
import { applyInTurn } from '../../changes/edits.ts';
import { Root, Run } from '../../db/models.ts';
import { filesNotTaken, addRoot, moveRoot, removeRoot, rootLines } from '../../intake/intake.ts';
import { allowedPlaces, browse } from '../../intake/places.ts';
import { lookInto } from '../../intake/archives.ts';
import { destination, queueScan } from '../../intake/scans.ts';
import { twinOf } from '../../intake/twins.ts';
import { MAX_UPLOAD_BYTES, placeUpload } from '../../intake/upload.ts';
import { queueAnalysis } from '../../jobs/analysis.ts';
import { recentRuns, runFailures } from '../../jobs/runs.ts';
import { removeDraft } from '../../library/fileDrafts.ts';
import { worthMeasuring } from '../../library/check.ts';
import { selectedIds } from '../../library/sheet.ts';
import { notFound, Problem } from '../../base/problem.ts';
import type { Context } from '../context.ts';
import { receiveOnDisk } from '../uploads.ts';
import { idParam, route, selectionSchema } from '../validate.ts';

/** Intake and running work. */
export function intakeRoutes({ database, queue, changing, runs, dataFolder, demoRoot }: Context): Router {
  const router = Router();
  const pathQuery = Joi.object({ path: Joi.string().max(4000).required() });

  router.get(
    '/places',
    route({}, () => allowedPlaces(demoRoot)),
  );
  router.get(
    '/places/browse',
    route<unknown, { path: string }>({ query: pathQuery }, ({ query }) => browse(query.path, demoRoot)),
  );

  router.get(
    '/roots',
    route({}, () => rootLines(database)),
  );
  router.post(
    '/roots',
    route<unknown, unknown, { path: string; measure: boolean; purpose: Root['purpose'] }>(
      {
        body: Joi.object({
          path: Joi.string().max(4000).required(),
          measure: Joi.boolean().default(true),
          purpose: Joi.valid('library', 'destination').default('library'),
        }),
      },
      async ({ body: { path, ...wish } }) => {
        const root = await addRoot(database, path, demoRoot, wish);
        const runId = wish.purpose === 'destination' ? null : await queueScan(runs.intake, root);
        return { rootId: root.id, runId };
      },
    ),
  );
  router.post(
    '/roots/:id/scan',
    route<{ id: number }, unknown, { lossAccepted: boolean }>(
      { params: idParam, body: Joi.object({ lossAccepted: Joi.boolean().default(false) }) },
      async ({ params, body }) => {
        const root = await rootOf(params.id);
        return { runId: await queueScan(runs.intake, root, body.lossAccepted) };
      },
    ),
  );
  router.post(
    '/roots/:id/remove',
    route<{ id: number }>({ params: idParam }, async ({ params }): Promise<Applied | null> => {
      const root = await rootOf(params.id);
      const where: Condition = { inFolder: { rootId: root.id, path: '' }, below: true };
      const items = await removeDraft(database, await selectedIds(database, { where, except: [] }));
      const title = `Remove the folder ${root.label} from the library`;
      const made = items.length > 0 ? await applyInTurn(changing, () => Promise.resolve({ title, items })) : null;
      await removeRoot(database, root);
      return made;
    }),
  );
  router.post(
    '/roots/:id/path',
    route<{ id: number }, unknown, { path: string }>({ params: idParam, body: pathQuery }, async ({ params, body }) => {
      const root = await rootOf(params.id);
      await moveRoot(database, root, body.path, demoRoot);
      return { runId: await queueScan(runs.intake, root) };
    }),
  );
  const archivePath = Joi.object({ path: Joi.string().max(4000).required() });
  router.get(
    '/roots/:id/archive',
    route<{ id: number }, { path: string }>({ params: idParam, query: archivePath }, async ({ params, query }) =>
      lookInto(await rootOf(params.id), query.path),
    ),
  );
  router.post(
    '/roots/:id/archive',
    route<{ id: number }, unknown, { path: string }>(
      { params: idParam, body: archivePath },
      async ({ params, body: { path } }) => {
        const root = await rootOf(params.id);
        await lookInto(root, path);
        const name = path.slice(path.lastIndexOf('/') + 1);
        return {
          runId: await runs.unpacking.start({ rootId: root.id, path }, { title: `Unpack ${name}`, rootId: root.id }),
        };
      },
    ),
  );
  router.post(
    '/roots/:id/watch',
    route<{ id: number }, unknown, { watch: boolean }>(
      { params: idParam, body: Joi.object({ watch: Joi.boolean().required() }) },
      async ({ params, body: { watch } }) => {
        const root = await rootOf(params.id);
        if (root.purpose === 'destination') throw destination(root);
        await root.update({ watch, watchTrouble: null });
        await database.notify({ kind: 'roots' });
        return {};
      },
    ),
  );
  router.get(
    '/roots/:id/not-taken',
    route<{ id: number }>({ params: idParam }, ({ params }) => filesNotTaken(database, params.id)),
  );

  router.post(
    '/roots/:id/files',
    receiveOnDisk(join(dataFolder, 'arriving'), MAX_UPLOAD_BYTES),
    route<{ id: number }, unknown, { path: string }>(
      {
        params: idParam,
        body: Joi.object({ path: Joi.string().max(4000).required() }),
      },
      async ({ params, body, request }) => {
        if (!request.file) throw new Problem(400, 'no-file', 'No file arrived');
        const root = await Root.findByPk(params.id);
        if (!root) throw notFound('The folder');
        const twin = await twinOf(database, request.file.path);
        if (twin)
          throw new Problem(
            409,
            'here-already',
            `${body.path.split('/').at(-1)!} is here already, as ${twin}; it was not copied`,
          );
        return { path: await placeUpload(changing.files, request.file.path, root.path, body.path) };
      },
    ),
  );

  const rootOf = async (id: number): Promise<Root> => {
    const root = await Root.findByPk(id);
    if (!root) throw notFound('The folder');
    return root;
  };

  router.get(
    '/runs',
    route({}, () => recentRuns()),
  );
  router.get(
    '/runs/:id/failures',
    route<{ id: number }>({ params: idParam }, ({ params }) => runFailures(database, params.id)),
  );
  router.post(
    '/runs/:id/cancel',
    route<{ id: number }>({ params: idParam }, async ({ params }) => {
      const run = await Run.findByPk(params.id);
      if (!run) throw notFound('The work');
      if (run.state !== 'running') throw new Problem(409, 'ended', 'This has ended already');
      await runs[run.kind].cancel(run);
      return { cancelled: true };
    }),
  );
  router.post(
    '/runs/:id/retry',
    route<{ id: number }>({ params: idParam }, async ({ params }) => {
      const run = await Run.findByPk(params.id);
      if (!run) throw notFound('The work');
      if (run.state === 'running') throw new Problem(409, 'running', 'It is still running');
      return { runId: await runs[run.kind].retry(run) };
    }),
  );
  router.post(
    '/analysis',
    route<unknown, unknown, MeasureWish & { selection: Selection }>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          ...measureShape,
        }),
      },
      async ({ body }) => {
        const chosen = await selectedIds(database, body.selection);
        if (chosen.length === 0) throw new Problem(409, 'nothing-to-do', 'No track is chosen');
        const ids = await worthMeasuring(database, chosen, {
          ...(body.older ? { olderThan: ENGINE_VERSION } : {}),
          ...(body.below === null ? {} : { below: body.below }),
        });
        if (ids.length === 0)
          throw new Problem(
            409,
            'nothing-to-do',
            body.older
              ? 'Everything chosen has been measured by this engine'
              : 'Everything chosen is that sure already',
          );
        const title = ids.length === 1 ? 'Measure one track' : `Measure ${ids.length.toLocaleString('en-GB')} tracks`;
        return {
          runId: await queueAnalysis(database, queue, ids, { title, chosen: true, parts: body.parts }),
          tracks: ids.length,
        };
      },
    ),
  );
  return router;
}
