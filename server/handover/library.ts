/** The library as a destination is compared with it: tracks with their files, and the lists that go there. */
import type { HereList } from '@early-set/core/sync/compareLists';
import type { HereTrack } from '@early-set/core/sync/compareTracks';
import type { Origins } from '@early-set/core/changes/snapshot';
import type { TrackValues } from '@early-set/core/fields/values';
import { COMPARED_FIELDS } from '@early-set/core/sync/store';
import type { Database } from '../db/database.ts';
import { selectOf } from '../library/columns.ts';

/** So many tracks are asked for at once. */
const AT_ONCE = 4000;

const FROM = "FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.file_state <> 'retired'";
const COMPARED = `${selectOf(COMPARED_FIELDS)}, t.art_hash AS cover`;
const PRINT = `md5((SELECT x FROM (SELECT ${COMPARED}) x)::text)`;

/** The next tracks behind an id, each with a print of what is compared; what they say is asked for where it matters. */
export const someTracks = (database: Database, after: number): Promise<HereTrack[]> =>
  database.rows<HereTrack>(
    `SELECT t.id, COALESCE(t.title, t.file_name, t.path) AS name,
      CASE WHEN t.file_state = 'here' THEN r.path || '/' || t.path END AS path, ${PRINT} AS print
     ${FROM} AND t.id > $1 ORDER BY t.id LIMIT ${AT_ONCE}`,
    [after],
  );

/** All tracks. */
export async function tracksHere(database: Database): Promise<HereTrack[]> {
  const out: HereTrack[] = [];
  for (;;) {
    const rows = await someTracks(database, out.at(-1)?.id ?? 0);
    for (const row of rows) out.push(row);
    if (rows.length < AT_ONCE) return out;
  }
}

/** Prints of some as they are now. */
export async function printsOf(database: Database, ids: readonly number[]): Promise<Map<number, string>> {
  const rows = await database.rows<{ id: number; print: string }>(
    `SELECT t.id, ${PRINT} AS print FROM tracks t WHERE t.id = ANY($1::int[])`,
    [[...ids]],
  );
  return new Map(rows.map((r) => [r.id, r.print]));
}

/** What tracks are recognised by, where neither their past nor their place says so. */
const NAMES = ['title', 'artist', 'version', 'durationSeconds'];

/** What tracks say, in the order of the ids; null where one is no longer there. */
export async function valuesFor(
  database: Database,
  ids: readonly number[],
  which: 'values' | 'names',
): Promise<(TrackValues | null)[]> {
  const values = new Map<number, TrackValues>();
  const fields = which === 'names' ? selectOf(NAMES) : COMPARED;
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const rows = await database.rows<{ ownId: number } & TrackValues>(
      `SELECT t.id AS "ownId", ${fields} FROM tracks t WHERE t.id = ANY($1::int[])`,
      [ids.slice(from, from + AT_ONCE)],
    );
    for (const { ownId, ...own } of rows) values.set(ownId, own as TrackValues);
  }
  return ids.map((id) => values.get(id) ?? null);
}

/** Where values of tracks come from, and when they were set. */
export const originsFor = (database: Database, ids: readonly number[]): Promise<{ id: number; origins: Origins }[]> =>
  database.rows('SELECT track_id AS id, origins FROM track_origins WHERE track_id = ANY($1::int[])', [[...ids]]);

interface ListRow {
  id: string;
  kind: string;
  name: string;
  parentId: string | null;
  fillsItself: boolean;
  removed: boolean;
}

/** Lists that go there, and ids of those that do not. */
export async function listsHere(
  database: Database,
  wanted: readonly string[] | null,
): Promise<{ lists: HereList[]; others: string[] }> {
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
  const others: string[] = [];
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
      others.push(row.id);
      continue;
    }
    const { id, name, fillsItself, kind } = row;
    lists.push({ id, name, place: path.map((p) => p.name), trackIds, fillsItself, once: kind === 'crate' });
  }
  return { lists, others };
}
