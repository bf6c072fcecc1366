/** What is there of what a draft is about, locked for the length of a transaction. */
import type { Transaction } from 'sequelize';
import {
  emptySnapshot,
  type Entry,
  type ListInfo,
  type ListState,
  type Snapshot,
  type TrackFile,
} from '@early-set/core/changes/snapshot';
import type { BaseItem } from '@early-set/core/changes/kinds/kind';
import { refKey, type FileRef } from '@early-set/core/files/fileRef';
import type { Database } from '../db/database.ts';
import { lockedDates } from '../library/dateRows.ts';
import { FILE_SELECT, filesOf } from '../library/trackFiles.ts';
import { loadTracks, type StoredTrack } from '../library/trackStore.ts';
import { serverKindOf } from './kinds.ts';
import type { Wants } from './kinds/kind.ts';

export const LIST_INFO_SELECT = `kind, name, parent_id AS "parentId", position, removed, starts_at AS "startsAt", shape,
  rule, colour, note, wished_seconds AS "wishedSeconds", reserve_id AS "reserveId", mirror, mirror_of AS "mirrorOf",
  clock, on_air_at AS "onAirAt"`;

export interface Loaded {
  snapshot: Snapshot;
  tracks: ReadonlyMap<number, StoredTrack>;
}

/** Loads what the items touch; the rows stay locked until the transaction ends. */
export async function loadSnapshot(database: Database, items: readonly BaseItem[], t: Transaction): Promise<Loaded> {
  const wants: Wants = {
    tracks: new Set(),
    fields: new Set(),
    lists: new Set(),
    dates: new Set(),
    asking: false,
    filesOf: new Set(),
    places: [],
  };
  for (const item of items) serverKindOf(item).wants(item, wants);
  const snapshot = emptySnapshot();
  const tracks = await loadTracks(database, [...wants.tracks], [...wants.fields], t);
  for (const [id, { values, origins, artHash }] of tracks) snapshot.tracks.set(id, { values, origins, artHash });
  snapshot.lists = await loadLists(database, [...wants.lists], t);
  await loadAbove(database, snapshot, t);
  if (wants.asking) await loadAsking(database, snapshot, t);
  if (wants.dates.size) snapshot.dates = await lockedDates([...wants.dates], t);
  if (wants.filesOf.size || wants.places.length) await loadFiles(database, wants, snapshot, t);
  return { snapshot, tracks };
}

/** Lists with their entries in order; the rows stay locked until the transaction ends. */
export async function loadLists(
  database: Database,
  ids: readonly string[],
  t?: Transaction,
): Promise<Map<string, ListState>> {
  if (ids.length === 0) return new Map();
  const infos = await database.rows<{ id: string } & ListInfo>(
    `SELECT id, ${LIST_INFO_SELECT} FROM lists WHERE id = ANY($1::uuid[]) ORDER BY id ${t ? 'FOR UPDATE' : ''}`,
    [[...ids]],
    t,
  );
  const entries = await database.rows<Entry & { listId: string }>(
    `SELECT id, list_id AS "listId", kind, track_id AS "trackId", data FROM list_entries
      WHERE list_id = ANY($1::uuid[]) ORDER BY list_id, position, id`,
    [[...ids]],
    t,
  );
  const states = new Map<string, ListState>(infos.map(({ id, ...info }) => [id, { info, entries: [] }]));
  for (const { listId, ...entry } of entries) states.get(listId)?.entries.push(entry);
  return states;
}

/** The crates in which lists lie, up to the top: a list must not come to lie in itself. */
async function loadAbove(database: Database, { lists }: Snapshot, t: Transaction): Promise<void> {
  if (lists.size === 0) return;
  const above = await database.rows<{ id: string } & ListInfo>(
    `WITH RECURSIVE above AS (SELECT l.* FROM lists l WHERE l.id = ANY($1::uuid[]) UNION SELECT p.* FROM lists p
      JOIN above a ON p.id = a.parent_id)
     SELECT id, ${LIST_INFO_SELECT} FROM above`,
    [[...lists.keys()]],
    t,
  );
  for (const { id, ...info } of above) if (!lists.has(id)) lists.set(id, { info, entries: [] });
}

/** Crates that fill themselves by what is in other lists: they must not ask about each other in a circle. */
async function loadAsking(database: Database, { lists }: Snapshot, t: Transaction): Promise<void> {
  const asking = await database.rows<{ id: string } & ListInfo>(
    `SELECT id, ${LIST_INFO_SELECT} FROM lists WHERE rule LIKE '%"inLists"%'`,
    [],
    t,
  );
  for (const { id, ...info } of asking) if (!lists.has(id)) lists.set(id, { info, entries: [] });
}

async function loadFiles(database: Database, wants: Wants, snapshot: Snapshot, t: Transaction): Promise<void> {
  const roots = await database.rows<{
    id: number;
    path: string;
    label: string;
    purpose: 'library' | 'destination';
    away: boolean;
    fileSystem: string | null;
    device: string | null;
  }>(
    `SELECT id, path, label, purpose, away_since IS NOT NULL AS away, drive->>'fileSystem' AS "fileSystem",
      drive->>'device' AS device FROM roots`,
    [],
    t,
  );
  for (const { id, ...root } of roots) snapshot.roots.set(id, root);
  const put = (file: TrackFile): void => {
    snapshot.files.set(file.id, file);
    snapshot.places.set(refKey(file.ref), file.id);
  };
  (await filesOf(database, [...wants.filesOf], t)).forEach(put);
  (await filesAt(database, wants.places, t)).forEach(put);
}

/** The files that lie at some places. */
const filesAt = (database: Database, refs: readonly FileRef[], t: Transaction): Promise<TrackFile[]> =>
  refs.length === 0
    ? Promise.resolve([])
    : database.rows<TrackFile>(
        `SELECT ${FILE_SELECT} FROM track_files f
          JOIN jsonb_to_recordset($1::jsonb) AS v("rootId" int, path text) ON v."rootId" = f.root_id
          AND v.path = f.path`,
        [JSON.stringify(refs)],
        t,
      );
