import type { Applied, Selection } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import { measureShape, type MeasureWish } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { basename, join } from 'node:path';
import type { FileRef } from '@early-set/core/files/fileRef';
import { PUT_NAMES } from '@early-set/core/files/put';
import { deskSettings } from '../../db/settings.ts';
import { applyInTurn } from '../../changes/edits.ts';
import { Preset, Root, Run } from '../../db/models.ts';
import { filesNotTaken, addRoot, moveRoot, removeRoot, rootLines } from '../../intake/intake.ts';
import type { CopyWish } from '../../intake/copying.ts';
import { lookThroughFolder, MAX_LOOKED } from '../../intake/lookFirst.ts';
import { allowedFolder, allowedPlaces, browse } from '../../intake/places.ts';
import { lookInto, placeToUnpack } from '../../intake/archives.ts';
import { destination, queueScan } from '../../intake/scans.ts';
import { scanFigures } from '../../intake/scanTracks.ts';
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
  const copyWish = Joi.object<CopyWish>({
    from: Joi.string().max(4000).required(),
    paths: Joi.array().items(Joi.string().max(4000)).min(1).max(MAX_LOOKED).unique().required(),
    rootId: Joi.number().integer().min(1).max(2_147_483_647).required(),
    into: Joi.string().max(2000).allow('').required(),
    names: Joi.valid(...PUT_NAMES).required(),
  });
  const pathQuery = Joi.object({ path: Joi.string().max(4000).required() });

  router.get(
    '/places',
    route({}, () => allowedPlaces(demoRoot)),
  );
  router.get(
    '/places/browse',
    route<unknown, { path: string }>({ query: pathQuery }, ({ query }) => browse(query.path, demoRoot)),
  );

  router.post(
    '/places/look',
    route<unknown, unknown, { path: string }>({ body: pathQuery }, async ({ body, response }) => {
      const gone = new AbortController();
      response.on('close', () => gone.abort());
      const folder = await allowedFolder(body.path, demoRoot);
      return lookThroughFolder(
        { database, files: changing.files, settings: await deskSettings() },
        folder,
        gone.signal,
      );
    }),
  );
  router.post(
    '/places/copy',
    route<unknown, unknown, CopyWish>({ body: copyWish }, async ({ body }) => {
      const root = await rootOf(body.rootId);
      if (root.awaySince) throw new Problem(409, 'drive-away', `The drive of ${root.label} is not there`);
      if (root.purpose === 'destination') throw destination(root);
      const from = await allowedFolder(body.from, demoRoot);
      const files = body.paths.length === 1 ? 'one file' : `${body.paths.length.toLocaleString('en-GB')} files`;
      const title = `Copy ${files} from ${basename(from)} into ${root.label}`;
      return { runId: await runs.copying.start({ ...body, from }, { title, rootId: root.id }) };
    }),
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
    route<{ id: number }, unknown, { path: string; into: FileRef | null }>(
      {
        params: idParam,
        body: archivePath.keys({
          into: Joi.object({
            rootId: Joi.number().integer().min(1).max(2_147_483_647).required(),
            path: Joi.string().max(2000).allow('').required(),
          })
            .allow(null)
            .default(null),
        }),
      },
      async ({ params, body: { path, into } }) => {
        const root = await rootOf(params.id);
        await lookInto(root, path);
        if (into) await placeToUnpack(await rootOf(into.rootId), path, into.path);
        const name = path.slice(path.lastIndexOf('/') + 1);
        const wish = { rootId: root.id, path, ...(into ? { into } : {}) };
        return { runId: await runs.unpacking.start(wish, { title: `Unpack ${name}`, rootId: root.id }) };
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
  router.post(
    '/roots/:id/new-files',
    route<{ id: number }, unknown, { presetId?: number | null; putByRules?: boolean }>(
      {
        params: idParam,
        body: Joi.object({
          presetId: Joi.number().integer().min(1).max(2_147_483_647).allow(null),
          putByRules: Joi.boolean(),
        }).min(1),
      },
      async ({ params, body }) => {
        const root = await rootOf(params.id);
        if (root.purpose === 'destination') throw destination(root);
        if (typeof body.presetId === 'number' && !(await Preset.findByPk(body.presetId))) throw notFound('The preset');
        await root.update(body);
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
            `${body.path.split('/').at(-1)!} is here already, as ${twin.path}; it was not copied`,
          );
        return { path: await placeUpload(changing.files, request.file.path, root, body.path) };
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
    route<unknown, { before?: number }>(
      { query: Joi.object({ before: Joi.number().integer().min(1).max(2_147_483_647) }) },
      ({ query }) => recentRuns(database, query.before),
    ),
  );
  router.get(
    '/runs/:id/scan',
    route<{ id: number }>({ params: idParam }, ({ params }) => scanFigures(database, params.id)),
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
