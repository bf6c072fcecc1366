import type { Applied, Selection } from '@early-set/core/api/types';
import type { DeskSettings } from '@early-set/core/api/settings';
import { gapRulesSchema, keepOrderSchema, namingSchema } from '@early-set/core/api/wishes';
import { Router } from 'express';
import Joi from 'joi';
import { lockField, typeField } from '@early-set/core/changes/fields';
import { AREAS } from '@early-set/core/changes/kinds/kind';
import type { WriteTags } from '@early-set/core/changes/kinds/writeTags';
import { fieldOf, FIELDS } from '@early-set/core/fields/table';
import { checkValue, type FieldValue } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { applyInTurn, draftWriting, editInTurn, writingInWords } from '../../changes/edits.ts';
import { changeSetDetails, changeSets, type HistoryWish } from '../../changes/history.ts';
import { changeCsv } from '../../changes/report.ts';
import { writeParted } from '../../changes/otherNames.ts';
import { undoChangeSet, undoLatest } from '../../changes/undo.ts';
import { followStars } from '../../editing/starsInFiles.ts';
import { tracksInWords } from '../../editing/byHand.ts';
import { FILE_NAME, withoutNames } from '../../library/fileNameField.ts';
import { selectedIds } from '../../library/sheet.ts';
import { heldNow } from '../../library/trackStore.ts';
import { Problem } from '../../base/problem.ts';
import { changeSettings, deskSettings } from '../../db/settings.ts';
import type { Context } from '../context.ts';
import { idParam, route, selectionSchema } from '../validate.ts';

const EDITABLE = FIELDS.filter((f) => f.editable).map((f) => f.id);

interface WritingWish {
  selection: Selection;
  fields: string[] | null;
}

/** Changes to fields, what has been changed, taking back, and where edits go. */
export function changeRoutes({ database, changing }: Context): Router {
  const router = Router();

  router.post(
    '/fields',
    route<unknown, unknown, { selection: Selection; field: string; value: unknown }>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          field: Joi.string()
            .valid(...EDITABLE)
            .required(),
          value: Joi.any().required(),
        }),
      },
      async ({ body: { field, value, selection } }) => {
        const checked = checkValue(field, value);
        if (!checked.ok) throw new Problem(400, 'bad-value', checked.reason);
        if (field === FILE_NAME) return renameOne(await selectedIds(database, selection), checked.value);
        let left = 0;
        const applied = await editInTurn(changing, async () => {
          const { items, locked } = typeField(field, await fieldsNow(field, selection), checked.value, now());
          left = locked.length;
          if (items.length === 0 && left > 0)
            throw new Problem(409, 'locked', `${fieldOf(field).label} is locked; unlock it first`);
          return { title: `${fieldOf(field).label} on ${tracksInWords(items.length)}`, items };
        });
        return { ...applied, locked: left };
      },
    ),
  );

  router.post(
    '/locks',
    route<unknown, unknown, { selection: Selection; field: string; locked: boolean }>(
      {
        body: Joi.object({
          selection: selectionSchema.required(),
          field: Joi.string()
            .valid(...EDITABLE.filter((f) => f !== FILE_NAME))
            .required(),
          locked: Joi.boolean().required(),
        }),
      },
      ({ body: { field, locked, selection } }) =>
        applyInTurn(changing, async () => {
          const items = lockField(field, await fieldsNow(field, selection), locked, now());
          const title = `${locked ? 'Lock' : 'Unlock'} ${fieldOf(field).label} on ${tracksInWords(items.length)}`;
          return { title, items };
        }),
    ),
  );

  const now = (): string => new Date().toISOString();
  const renameOne = async (ids: readonly number[], value: FieldValue): Promise<Applied & { locked: number }> => {
    const [trackId] = ids;
    if (trackId === undefined || ids.length > 1)
      throw new Problem(400, 'bad-value', 'One name is for one file; the steps under Clean give many their names');
    const applied = await applyInTurn(changing, async () => {
      const edit = { trackId, fields: { [FILE_NAME]: { before: undefined, after: value } } };
      return { title: 'File name of one track', items: (await withoutNames(database, [edit])).moves };
    });
    return { ...applied, locked: 0 };
  };
  const fieldsNow = async (field: string, selection: Selection) => {
    const ids = await selectedIds(database, selection);
    const held = await heldNow(database, ids, [field]);
    return [...ids].sort((a, b) => a - b).map((trackId) => ({ trackId, held: held(trackId, field) }));
  };

  router.get(
    '/changes',
    route<unknown, HistoryWish>(
      {
        query: Joi.object({
          before: Joi.number().integer().min(1).default(null),
          limit: Joi.number().integer().min(1).max(200).default(100),
          search: Joi.string().trim().max(200).allow('').empty('').default(null),
          area: Joi.valid(...AREAS).default(null),
        }),
      },
      ({ query }) => changeSets(database, query),
    ),
  );
  router.get(
    '/changes/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => changeSetDetails(database, params.id)),
  );
  router.get(
    '/changes/:id/csv',
    route<{ id: number }>({ params: idParam }, async ({ params, response }) => {
      const write = await changeCsv(database, params.id);
      response.setHeader('Content-Disposition', `attachment; filename="change ${params.id}.csv"`);
      response.type('text/csv; charset=utf-8');
      await write(response);
    }),
  );
  router.post(
    '/changes/:id/undo',
    route<{ id: number }, unknown, { lines: number[] | null }>(
      {
        params: idParam,
        body: Joi.object({
          lines: Joi.array().items(Joi.number().integer().min(0)).min(1).max(100_000).allow(null).default(null),
        }),
      },
      ({ params, body }) => undoChangeSet(changing, params.id, body.lines),
    ),
  );
  router.post(
    '/undo',
    route<unknown, unknown, { redo: boolean }>(
      { body: Joi.object({ redo: Joi.boolean().default(false) }) },
      ({ body }) => undoLatest(changing, body.redo),
    ),
  );

  router.post(
    '/changes/:id/part',
    route<{ id: number }>({ params: idParam }, ({ params }) => writeParted(changing, params.id)),
  );

  const writing = {
    body: Joi.object({
      selection: selectionSchema.required(),
      fields: Joi.array()
        .items(Joi.string().valid(...TAG_FIELDS.map((f) => f.id)))
        .min(1)
        .unique()
        .allow(null)
        .default(null),
    }),
  };
  const draftFor = async (body: WritingWish): Promise<WriteTags[]> =>
    draftWriting(changing, await selectedIds(database, body.selection), body.fields);
  router.post(
    '/files/draft',
    route<unknown, unknown, WritingWish>(writing, async ({ body }) => {
      return writingInWords(database, await draftFor(body));
    }),
  );
  router.post(
    '/files/write',
    route<unknown, unknown, WritingWish>(writing, ({ body }) =>
      applyInTurn(changing, async () => {
        const items = await draftFor(body);
        if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'All of these tags are written already');
        const what = body.fields?.map((f) => fieldOf(f).label.toLowerCase()).join(', ') ?? 'what was edited';
        const files = items.length === 1 ? 'one file' : `${items.length.toLocaleString('en-GB')} files`;
        return { title: `Write ${what} into ${files}`, items };
      }),
    ),
  );

  router.get(
    '/settings',
    route({}, () => deskSettings()),
  );
  router.patch(
    '/settings',
    route<unknown, unknown, Partial<DeskSettings>>(
      {
        body: Joi.object({
          editsGoTo: Joi.valid('library and files', 'library'),
          newId3Version: Joi.valid(3, 4),
          changedFiles: Joi.valid('fill gaps', 'replace'),
          starsInFiles: Joi.boolean(),
          keyLock: Joi.boolean(),
          keepOrder: keepOrderSchema,
          naming: namingSchema,
          quarantineDays: Joi.number().integer().min(1).max(3650).allow(null),
          gapRules: gapRulesSchema.fork(['floor', 'playout'], (rule) => rule.required()),
        }).min(1),
      },
      async ({ body }) => {
        const settings = await changeSettings(body);
        if (body.starsInFiles !== undefined) await followStars(database, settings);
        await database.notify({ kind: 'settings' });
        return settings;
      },
    ),
  );
  return router;
}
