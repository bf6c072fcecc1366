/** The library as a destination is compared with it: tracks with their files, and the lists that go there. */
import type { DestinationSettings } from '@early-set/core/api/handover';
import type { Here } from '@early-set/core/sync/compare';
import type { HereList } from '@early-set/core/sync/compareLists';
import type { HeldOf, HereTrack } from '@early-set/core/sync/compareTracks';
import type { Origins } from '@early-set/core/changes/snapshot';
import type { TrackValues } from '@early-set/core/fields/values';
import { COMPARED_FIELDS } from '@early-set/core/sync/store';
import type { Database } from '../db/database.ts';
import { selectOf } from '../library/columns.ts';
import { heldOf } from '../library/trackStore.ts';

/** So many tracks are asked for at once. */
const AT_ONCE = 4000;

export async function libraryFor(database: Database, { lists }: Pick<DestinationSettings, 'lists'>): Promise<Here> {
  const tracks = await tracksHere(database);
  return { tracks, ...(await listsHere(database, lists)) };
}

const FROM = "FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.file_state <> 'retired'";

/** All tracks, each with a print of what is compared; what they say is asked for where it has to be known. */
export async function tracksHere(database: Database): Promise<HereTrack[]> {
  const out: HereTrack[] = [];
  for (let last = 0; ; last = out.at(-1)!.id) {
    const rows = await database.rows<Omit<HereTrack, 'print'> & { print: string }>(
      `SELECT t.id, COALESCE(t.title, t.file_name, t.path) AS name,
        CASE WHEN t.file_state = 'here' THEN r.path || '/' || t.path END AS path,
        md5((SELECT x FROM (SELECT ${selectOf(COMPARED_FIELDS)}) x)::text) AS print
       ${FROM} AND t.id > $1 ORDER BY t.id LIMIT ${AT_ONCE}`,
      [last],
    );
    for (const row of rows) out.push(row);
    if (rows.length < AT_ONCE) return out;
  }
}

/** What tracks are recognised by, where neither their past nor their place says so. */
const NAMES = ['title', 'artist', 'version', 'durationSeconds'];

const EMPTY: TrackValues = {};
/** What tracks say. */
export async function valuesFor(
  database: Database,
  ids: readonly number[],
  which: 'values' | 'names',
): Promise<(trackId: number) => TrackValues> {
  const values = new Map<number, TrackValues>();
  const fields = selectOf(which === 'names' ? NAMES : COMPARED_FIELDS);
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const rows = await database.rows<{ ownId: number } & TrackValues>(
      `SELECT t.id AS "ownId", ${fields} FROM tracks t WHERE t.id = ANY($1::int[])`,
      [ids.slice(from, from + AT_ONCE)],
    );
    for (const { ownId, ...own } of rows) values.set(ownId, own as TrackValues);
  }
  return (trackId) => values.get(trackId) ?? EMPTY;
}

/** Where values of tracks come from, and when they were set. @param valuesOf what they say */
export async function heldFor(
  database: Database,
  ids: readonly number[],
  valuesOf: (trackId: number) => TrackValues,
): Promise<HeldOf> {
  if (ids.length === 0) return () => null;
  const rows = await database.rows<{ id: number; origins: Origins }>(
    'SELECT track_id AS id, origins FROM track_origins WHERE track_id = ANY($1::int[])',
    [[...ids]],
  );
  const origins = new Map(rows.map((r) => [r.id, r.origins]));
  return (trackId, field) => heldOf(valuesOf(trackId)[field], origins.get(trackId) ?? {}, field);
}

interface ListRow {
  id: string;
  kind: string;
  name: string;
  parentId: string | null;
  fillsItself: boolean;
  removed: boolean;
}

async function listsHere(
  database: Database,
  wanted: readonly string[] | null,
): Promise<Pick<Here, 'lists' | 'others'>> {
  const rows = await database.rows<ListRow>(
    `SELECT id, kind, name, parent_id AS "parentId", rule IS NOT NULL OR mirror_of IS NOT NULL AS "fillsItself", removed
      FROM lists ORDER BY kind, position, name`,
  );
  const entries = await database.rows<{ listId: string; trackIds: number[] }>(
    `SELECT list_id AS "listId", array_agg(track_id ORDER BY position, id) AS "trackIds" FROM list_entries
      WHERE track_id IS NOT NULL GROUP BY list_id
     UNION ALL SELECT list_id, array_agg(track_id ORDER BY track_id) FROM rule_members GROUP BY list_id`,
  );
  const tracksOf = new Map(entries.map((e) => [e.listId, e.trackIds]));
  const byId = new Map(rows.map((r) => [r.id, r]));
  const above = (row: ListRow): ListRow[] => {
    const path: ListRow[] = [];
    const seen = new Set([row.id]);
    for (let at = row.parentId; at !== null && !seen.has(at); at = byId.get(at)?.parentId ?? null) {
      seen.add(at);
      const parent = byId.get(at);
      if (parent) path.unshift(parent);
    }
    return path;
  };
  const holdsOthers = new Set(rows.filter((r) => !r.removed).map((r) => r.parentId));
  const chosen = wanted === null ? null : new Set(wanted);
  const lists: HereList[] = [];
  const others = new Set<string>();
  for (const row of rows) {
    if (row.removed) continue;
    const path = above(row);
    const goes =
      (row.kind === 'crate' || row.kind === 'playlist') &&
      !path.some((p) => p.removed) &&
      (chosen === null || [row, ...path].some((r) => chosen.has(r.id)));
    const trackIds = tracksOf.get(row.id) ?? [];
    // A crate that only holds others is a place.
    if (!goes || (trackIds.length === 0 && holdsOthers.has(row.id))) {
      others.add(row.id);
      continue;
    }
    const { id, name, fillsItself, kind } = row;
    lists.push({ id, name, place: path.map((p) => p.name), trackIds, fillsItself, once: kind === 'crate' });
  }
  return { lists, others };
}
