/** The library as a destination is compared with it: tracks with their files, and the lists that go there. */
import type { HereList } from '@early-set/core/sync/compareLists';
import type { HereTrack, ValuesOf } from '@early-set/core/sync/compareTracks';
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

/**
 * Tracks as the database wrote them, in JSON: whoever hands them on to a thread need not read them. `last` is the
 * largest id of them; null: there are none.
 */
export interface SomeTracks {
  last: number | null;
  json: string;
}
export const readTracks = ({ json }: SomeTracks): HereTrack[] => JSON.parse(json) as HereTrack[];

/** The next tracks behind an id, each with a print of what is compared; what they say is asked for where it matters. */
async function someTracks(database: Database, after: number): Promise<SomeTracks> {
  const [some] = await database.rows<SomeTracks>(
    `SELECT max(x.id) AS last, COALESCE(json_agg(x ORDER BY x.id), '[]')::text AS json FROM (
      SELECT t.id, COALESCE(t.title, t.file_name, t.path) AS name,
        CASE WHEN t.file_state = 'here' THEN r.path || '/' || t.path END AS path, ${PRINT} AS print
       ${FROM} AND t.id > $1 ORDER BY t.id LIMIT ${AT_ONCE}) x`,
    [after],
  );
  return some!;
}

/** All tracks, some at a time; a few are looked up while those before are still in use. */
export async function* tracksAhead(database: Database): AsyncGenerator<SomeTracks, void> {
  const ready: Promise<SomeTracks>[] = [];
  let newest = someTracks(database, 0);
  // Each is asked for by the last id of the one before.
  const ask = (): void => {
    ready.push(newest);
    newest = newest.then((some) => (some.last === null ? some : someTracks(database, some.last)));
    newest.catch(() => undefined); // it is told where it is waited for
  };
  for (;;) {
    while (ready.length < AHEAD) ask();
    const some = await ready.shift()!;
    if (some.last === null) return;
    yield some;
  }
}
const AHEAD = 8;

/** All tracks. */
export async function tracksHere(database: Database): Promise<HereTrack[]> {
  const out: HereTrack[] = [];
  for await (const some of tracksAhead(database)) for (const track of readTracks(some)) out.push(track);
  return out;
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

/** What tracks say, as the database wrote it: some JSON texts of pairs of an id and what that track says. */
export async function valuesFor(
  database: Database,
  ids: readonly number[],
  which: 'values' | 'names',
): Promise<string[]> {
  const texts: string[] = [];
  const fields = which === 'names' ? selectOf(NAMES) : COMPARED;
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const [some] = await database.rows<{ json: string }>(
      `SELECT COALESCE(json_agg(json_build_array(t.id, (SELECT x FROM (SELECT ${fields}) x))), '[]')::text AS json
        FROM tracks t WHERE t.id = ANY($1::int[])`,
      [ids.slice(from, from + AT_ONCE)],
    );
    texts.push(some!.json);
  }
  return texts;
}

/** What tracks say, read from what the database wrote; of one that is no longer there nothing. */
export function readValues(texts: readonly string[]): ValuesOf {
  const values = new Map<number, TrackValues>();
  for (const text of texts) for (const [id, own] of JSON.parse(text) as [number, TrackValues][]) values.set(id, own);
  return (id) => values.get(id) ?? NO_VALUES;
}
const NO_VALUES: TrackValues = {};

/** Tracks that have one of these sounds. */
export async function withSounds(
  database: Database,
  sounds: readonly string[],
): Promise<[sound: string, trackIds: number[]][]> {
  const found: [string, number[]][] = [];
  for (let from = 0; from < sounds.length; from += AT_ONCE) {
    const rows = await database.rows<{ sound: string; ids: number[] }>(
      `SELECT audio_hash AS sound, array_agg(track_id) AS ids FROM track_files
        WHERE role = 'main' AND state <> 'retired' AND audio_hash = ANY($1::text[]) GROUP BY audio_hash`,
      [sounds.slice(from, from + AT_ONCE)],
    );
    for (const { sound, ids } of rows) found.push([sound, ids]);
  }
  return found;
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
