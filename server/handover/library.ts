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
  const tracks = await tracksHere(database, COMPARED_FIELDS);
  return { tracks, ...(await listsHere(database, lists)) };
}

/** All tracks, with these fields. */
export async function tracksHere(database: Database, fields: readonly string[]): Promise<HereTrack[]> {
  const out: HereTrack[] = [];
  for (let last = 0; ; last = out.at(-1)!.id) {
    const rows = await database.rows<{ id: number; path: string | null; name: string } & TrackValues>(
      `SELECT t.id, COALESCE(t.title, t.file_name, t.path) AS "ownName",
        CASE WHEN t.file_state = 'here' THEN r.path || '/' || t.path END AS "wholePath", ${selectOf(fields)}
       FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.file_state <> 'retired' AND t.id > $1
       ORDER BY t.id LIMIT ${AT_ONCE}`,
      [last],
    );
    for (const { id, ownName, wholePath, ...values } of rows)
      out.push({ id, name: String(ownName), path: wholePath as string | null, values: values as TrackValues });
    if (rows.length < AT_ONCE) return out;
  }
}

/** Where values of tracks come from, and when they were set. */
export async function heldFor(
  database: Database,
  tracks: readonly HereTrack[],
  ids: readonly number[],
): Promise<HeldOf> {
  if (ids.length === 0) return () => null;
  const rows = await database.rows<{ id: number; origins: Origins }>(
    'SELECT track_id AS id, origins FROM track_origins WHERE track_id = ANY($1::int[])',
    [[...ids]],
  );
  const origins = new Map(rows.map((r) => [r.id, r.origins]));
  const wanted = new Set(ids);
  const values = new Map(tracks.flatMap((t) => (wanted.has(t.id) ? [[t.id, t.values] as const] : [])));
  return (trackId, field) => heldOf(values.get(trackId)?.[field], origins.get(trackId) ?? {}, field);
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
