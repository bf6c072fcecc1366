/** What cleaning needs of the library: tracks with their fields, known names, folders; and drafts made on the page. */
import type {
  Applied,
  CleanTracks,
  FolderLine,
  NameCounts,
  Origins,
  SavedPreset,
  Selection,
} from '@early-set/core/api/types';
import { READ_FIELDS } from '@early-set/core/clean/stepFields';
import type { Step } from '@early-set/core/clean/steps';
import { editFields, type FieldEdit } from '@early-set/core/changes/fields';
import type { ChangeItem } from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import { checkValue, type Origin, type TrackValues } from '@early-set/core/fields/values';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import { col, fn } from 'sequelize';
import type { Database } from '../db/database.ts';
import { Preset } from '../db/models.ts';
import { valueOf } from '../library/columns.ts';
import { withoutNames } from '../library/fileNameField.ts';
import { selectedIds } from '../library/sheet.ts';
import { heldNow, lockedIn } from '../library/trackStore.ts';
import { notFound, Problem } from '../base/problem.ts';

/** So many tracks are cleaned at a time. */
export const MAX_TRACKS = 50_000;

const SELECT = READ_FIELDS.map(fieldOf)
  .map((f) => `${valueOf(f)} AS "${f.id}"`)
  .join(', ');

/** The fields of chosen tracks, in the order of their folders. */
export async function cleanTracks(database: Database, selection: Selection): Promise<CleanTracks> {
  const ids = await selectedIds(database, selection);
  const rows = await database.rows<{ id: number; rootId: number; path: string; origins: Origins | null } & TrackValues>(
    `SELECT t.id, t.root_id AS "rootId", t.path, o.origins, ${SELECT} FROM tracks t LEFT
      JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[]) ORDER BY t.root_id, t.path
      LIMIT ${MAX_TRACKS}`,
    [ids],
  );
  const tracks = rows.map(({ id, rootId, path, origins, ...values }) => ({
    id,
    rootId,
    path,
    values: values as TrackValues,
    locked: lockedIn(origins),
  }));
  return { total: ids.length, tracks };
}

/** Artists, album artists and remixers by how many tracks name them. */
export async function nameCounts(database: Database): Promise<NameCounts> {
  const rows = await database.rows<{ name: string; n: number }>(
    `SELECT name, count(*) AS n FROM (SELECT unnest(artist) AS name FROM tracks UNION ALL SELECT album_artist
      FROM tracks UNION ALL SELECT unnest(remixer) FROM tracks) names
     WHERE name IS NOT NULL AND length(name) <= 200 GROUP BY name ORDER BY n DESC, name LIMIT 100000`,
  );
  return rows.map((r) => [r.name, r.n]);
}

/** Genres by how many tracks have them. */
export async function genreCounts(database: Database): Promise<NameCounts> {
  return (
    await database.rows<{ name: string; n: number }>(
      `SELECT name, count(*) AS n FROM (SELECT unnest(genre) AS name FROM tracks) g GROUP BY name
        ORDER BY n DESC, name LIMIT 5000`,
    )
  ).map((r) => [r.name, r.n]);
}

/** Folders of each root, and of one and two levels below it, with the tracks in and below them. */
export const folderLines = (database: Database): Promise<FolderLine[]> =>
  database.rows<FolderLine>(
    `SELECT jsonb_build_object('rootId', f.root_id, 'path', f.path) AS ref, r.label AS root, f.n AS tracks FROM (
       SELECT root_id, '' AS path, count(*) AS n FROM tracks GROUP BY 1
       UNION ALL SELECT root_id, split_part(path, '/', 1), count(*) FROM tracks WHERE path LIKE '%/%' GROUP BY 1, 2
       UNION ALL SELECT root_id, split_part(path, '/', 1) || '/' || split_part(path, '/', 2), count(*) FROM tracks
         WHERE path LIKE '%/%/%' GROUP BY 1, 2) f
     JOIN roots r ON r.id = f.root_id ORDER BY r.id, f.path LIMIT 3000`,
  );

/**
 * Applies a draft that was made on the page; values are checked again here. @throws Problem for a value that cannot be
 */
export function applyFieldDraft(context: ChangeContext, title: string, edits: readonly FieldEdit[]): Promise<Applied> {
  const { database } = context;
  const checked = edits.map(({ trackId, fields }): FieldEdit => ({
    trackId,
    fields: Object.fromEntries(
      Object.entries(fields).map(([id, { before, after }]) => {
        if (!fieldOf(id).editable) throw new Problem(400, 'bad-value', `${fieldOf(id).label} cannot be edited`);
        const value = checkValue(id, after);
        if (!value.ok) throw new Problem(400, 'bad-value', value.reason);
        return [id, { before, after: value.value }];
      }),
    ),
  }));
  return editInTurn(context, async () => ({ title, items: await draftOf(database, checked) }));
}

/** Edits of fields and of file names as items. */
export async function draftOf(
  database: Database,
  edits: Parameters<typeof withoutNames>[1],
  origin: Origin = 'typed',
): Promise<ChangeItem[]> {
  const { fields, moves } = await withoutNames(database, edits);
  const held = await heldNow(
    database,
    fields.map((e) => e.trackId),
    fields.flatMap((e) => Object.keys(e.fields)),
  );
  return [...editFields(fields, held, new Date().toISOString(), origin), ...moves];
}

const told = ({ id, name, steps, updatedAt }: Preset): SavedPreset => ({
  id,
  name,
  steps,
  updatedAt: updatedAt.toISOString(),
});

export const savedPresets = async (): Promise<SavedPreset[]> =>
  (await Preset.findAll({ order: [fn('lower', col('name')), 'id'] })).map(told);

async function presetOf(id: number): Promise<Preset> {
  const preset = await Preset.findByPk(id);
  if (!preset) throw notFound('The preset');
  return preset;
}

/** Keeps a preset: under a new id, or in place of one. */
export async function keepPreset(
  database: Database,
  id: number | null,
  name: string,
  steps: readonly Step[],
): Promise<SavedPreset> {
  const values = { name, steps: [...steps] };
  const preset =
    id === null ? await Preset.create(values) : await (await presetOf(id)).update({ ...values, updatedAt: new Date() });
  await database.notify({ kind: 'presets' });
  return told(preset);
}

export async function removePreset(database: Database, id: number): Promise<SavedPreset> {
  const preset = await presetOf(id);
  await preset.destroy();
  await database.notify({ kind: 'presets' });
  return told(preset);
}
