import type { DeskSettings, Origins, Selection, WritingDraft } from '@early-set/core/api/types';
import { RULE_CHOICES } from '@early-set/core/conditions/needs';
import { Router } from 'express';
import Joi from 'joi';
import { lockField, typeField } from '@early-set/core/changes/fields';
import type { WriteTags } from '@early-set/core/changes/items';
import { fieldOf, FIELDS, findField } from '@early-set/core/fields/table';
import { checkValue, type FieldValue } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { applyDraft, latestToUndo } from '../../changes/applier.ts';
import { applyEdits, applyWithFiles, draftWriting, undoChangeSet } from '../../changes/changing.ts';
import { CHANGE_KINDS, changeSetDetails, changeSets, type HistoryWish } from '../../changes/history.ts';
import { heldOf } from '../../library/origins.ts';
import { FILE_NAME, withoutNames } from '../../library/renaming.ts';
import { selectedIds } from '../../library/sheet.ts';
import { Problem } from '../../problem.ts';
import { changeSettings, deskSettings } from '../../settings.ts';
import type { Context } from '../context.ts';
import { idParam, route, selectionSchema } from '../validate.ts';

const EDITABLE = FIELDS.filter((f) => f.editable).map((f) => f.id);

const rule = Joi.array()
  .items(Joi.string().valid(...RULE_CHOICES))
  .min(1)
  .unique()
  .required();

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
      ({ body }) =>
        changing.inTurn(async () => {
          const checked = checkValue(body.field, body.value);
          if (!checked.ok) throw new Problem(400, 'bad-value', checked.reason);
          if (body.field === FILE_NAME) return renameOne(await selectedIds(database, body.selection), checked.value);
          const now = await fieldsNow(body.field, body.selection);
          const { items, locked } = typeField(body.field, now, checked.value, new Date().toISOString());
          if (items.length === 0 && locked.length > 0)
            throw new Problem(409, 'locked', `${fieldOf(body.field).label} is locked; unlock it first`);
          const applied = await applyEdits(changing, {
            title: `${fieldOf(body.field).label} on ${items.length === 1 ? 'one track' : `${items.length} tracks`}`,
            items,
          });
          return { ...applied, locked: locked.length };
        }),
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
      ({ body }) =>
        changing.inTurn(async () => {
          const items = lockField(
            body.field,
            await fieldsNow(body.field, body.selection),
            body.locked,
            new Date().toISOString(),
          );
          return applyDraft(database, {
            title: `${body.locked ? 'Lock' : 'Unlock'} ${fieldOf(body.field).label} on ${items.length === 1 ? 'one track' : `${items.length} tracks`}`,
            items,
          });
        }),
    ),
  );

  const renameOne = async (ids: readonly number[], value: FieldValue) => {
    const [trackId] = ids;
    if (trackId === undefined || ids.length > 1)
      throw new Problem(400, 'bad-value', 'One name is for one file; a recipe under Clean gives many their names');
    const { moves } = await withoutNames(database, [
      { trackId, fields: { [FILE_NAME]: { before: undefined, after: value } } },
    ]);
    return { ...(await applyWithFiles(changing, { title: 'File name of one track', items: moves })), locked: 0 };
  };
  const fieldsNow = async (field: string, selection: Selection) => {
    const ids = await selectedIds(database, selection);
    const column = findField(field)!.column;
    const rows = await database.rows<{ id: number; value: FieldValue; origins: Origins | null }>(
      `SELECT t.id, t.${column} AS value, o.origins FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[]) ORDER BY t.id`,
      [ids],
    );
    return rows.map(({ id, value, origins }) => ({ trackId: id, held: heldOf(value, origins ?? {}, field) }));
  };

  router.get(
    '/changes',
    route<unknown, HistoryWish>(
      {
        query: Joi.object({
          before: Joi.number().integer().min(1).default(null),
          limit: Joi.number().integer().min(1).max(200).default(100),
          search: Joi.string().trim().max(200).allow('').empty('').default(null),
          kind: Joi.valid(...CHANGE_KINDS).default(null),
        }),
      },
      ({ query }) => changeSets(database, query),
    ),
  );
  router.get(
    '/changes/:id',
    route<{ id: number }>({ params: idParam }, ({ params }) => changeSetDetails(database, params.id)),
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
      ({ params, body }) => changing.inTurn(() => undoChangeSet(changing, params.id, body.lines)),
    ),
  );
  router.post(
    '/undo',
    route<unknown, unknown, { redo: boolean }>(
      { body: Joi.object({ redo: Joi.boolean().default(false) }) },
      ({ body }) =>
        changing.inTurn(async () => {
          const id = await latestToUndo(database, body.redo);
          if (id === null)
            throw new Problem(
              409,
              'nothing-to-do',
              body.redo ? 'There is nothing to bring back' : 'There is nothing to take back',
            );
          return undoChangeSet(changing, id);
        }),
    ),
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
      const items = await draftFor(body);
      const first = items.slice(0, 200);
      const names = new Map(
        (
          await database.rows<{ id: number; name: string; path: string }>(
            'SELECT id, COALESCE(title, path) AS name, path FROM tracks WHERE id = ANY($1::int[])',
            [first.map((i) => i.trackId)],
          )
        ).map((n) => [n.id, n]),
      );
      const draft: WritingDraft = {
        tracks: items.length,
        fields: items.reduce((n, i) => n + Object.keys(i.fields).length, 0),
        lines: first.map((i) => ({
          trackId: i.trackId,
          name: names.get(i.trackId)!.name,
          path: names.get(i.trackId)!.path,
          fields: Object.entries(i.fields).map(([field, texts]) => ({ field, ...texts })),
        })),
      };
      return draft;
    }),
  );
  router.post(
    '/files/write',
    route<unknown, unknown, WritingWish>(writing, ({ body }) =>
      changing.inTurn(async () => {
        const items = await draftFor(body);
        if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'The files say all of that already');
        return applyWithFiles(changing, {
          title: `Write ${body.fields ? body.fields.map((f) => fieldOf(f).label.toLowerCase()).join(', ') : 'what was edited'} into ${items.length === 1 ? 'one file' : `${items.length.toLocaleString('en-GB')} files`}`,
          items,
        });
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
          changedFiles: Joi.valid('fill gaps', 'theirs'),
          gapRules: Joi.object({ floor: rule, playout: rule }),
        }).min(1),
      },
      async ({ body }) => {
        const settings = await changeSettings(body);
        await database.notify({ kind: 'settings' });
        return settings;
      },
    ),
  );
  return router;
}
