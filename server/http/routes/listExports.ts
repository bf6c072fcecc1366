import type { ExportedList, ExportWish } from '@early-set/core/api/types';
import { exportShape } from '@early-set/core/api/wishes';
import { LIST_FORMAT_IDS } from '@early-set/core/exchange/listFile';
import { Router } from 'express';
import Joi from 'joi';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { noteGiven } from '../../library/trackFiles.ts';
import { exportList, exportWorkbook, writeListToRoot } from '../../lists/export.ts';
import { zipOfLists, type SeveralWish } from '../../lists/exportSeveral.ts';
import type { Context } from '../context.ts';
import { route, uuidParam } from '../validate.ts';

type Id = { id: string };

/** Lists as files: to download, one or many, or into a root. */
export function listExportRoutes({ database, changing, members, listPool, dataFolder }: Context): Router {
  const router = Router();
  const exported = async (id: string, wish: ExportWish): Promise<ExportedList> => {
    await members.fresh();
    const { trackIds, ...list } = await exportList(database, listPool.export(), id, wish);
    await noteGiven(database, trackIds, `download of ${list.fileName}`, id);
    return list;
  };

  router.post(
    '/lists/:id/export',
    route<Id, unknown, ExportWish>({ params: uuidParam, body: Joi.object(exportShape) }, ({ params, body }) =>
      exported(params.id, body),
    ),
  );
  router.post(
    '/lists/:id/write',
    route<Id, unknown, ExportWish & { rootId: number }>(
      { params: uuidParam, body: Joi.object({ ...exportShape, rootId: Joi.number().integer().min(1).required() }) },
      ({ params, body }) =>
        writeListToRoot(
          {
            database,
            files: changing.files,
            write: listPool.export(),
            arriving: join(dataFolder, 'arriving'),
          },
          params.id,
          body,
        ),
    ),
  );

  router.post(
    '/lists/:id/workbook',
    route<Id, unknown, ExportWish>(
      { params: uuidParam, body: Joi.object(exportShape) },
      async ({ params, body, response }) => {
        await members.fresh();
        const { bytes, fileName, trackIds } = await exportWorkbook(database, listPool.export(), params.id, body);
        await noteGiven(database, trackIds, `download of ${fileName}`, params.id);
        response.type(XLSX).end(Buffer.from(bytes));
      },
    ),
  );
  router.post(
    '/lists/zip',
    route<unknown, unknown, SeveralWish>(
      {
        body: Joi.object({
          ...exportShape,
          format: Joi.valid(...LIST_FORMAT_IDS, 'xlsx').required(),
          listIds: Joi.array().items(Joi.string().guid()).min(1).max(2000).unique().required(),
        }),
      },
      async ({ body, response }) => {
        await members.fresh();
        const zip = await zipOfLists(database, listPool.export(), body);
        response.type('application/zip');
        // Whoever goes away breaks the connection; that is no failure.
        await pipeline(zip, response).catch(() => undefined);
      },
    ),
  );
  return router;
}

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
