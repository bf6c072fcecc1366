/** What is done with several lists: joined, split, one taken out of another, and the page of all of them. */
import { randomUUID } from 'node:crypto';
import type { ListHolding, ListOverview, ToFind } from '@early-set/core/api/lists';
import type { Applied } from '@early-set/core/api/types';
import { lacksOne } from '@early-set/core/conditions/needs';
import {
  addTracks,
  describeList,
  joinLists,
  removeEntries,
  replaceEntries,
  splitList,
  swapEntry,
} from '@early-set/core/changes/lists';
import type { Entry, ListKind } from '@early-set/core/changes/snapshot';
import { cleanText } from '@early-set/core/fields/text';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { deskSettings } from '../db/settings.ts';
import { compileCondition } from '../library/conditionSql.ts';
import { allLists, infoOf, listContents, quoted, several, stateOf } from './lists.ts';

export interface JoinWish {
  kind: ListKind;
  name: string;
  /** In the order in which they are joined. */
  listIds: string[];
}

/** Makes a new list of several, one after the other; these stay. */
export async function joinSeveral(context: Applying, wish: JoinWish): Promise<Applied & { listId: string }> {
  const { database } = context;
  const name = cleanText(wish.name);
  if (!name) throw new Problem(400, 'no-name', 'A list needs a name');
  const parts: Entry[][] = [];
  for (const id of wish.listIds)
    parts.push(
      (await listContents(database, id, { fields: [] })).entries.map((e) => ({
        id: e.entryId,
        kind: e.kind,
        trackId: e.id > 0 ? e.id : null,
        data: e.data,
      })),
    );
  const listId = randomUUID();
  const info = infoOf(await allLists(database), wish.kind, name, null);
  const { applied } = await applyDraft(context, {
    title: `Join ${several(wish.listIds.length, 'list')} into ${quoted(name)}`,
    items: joinLists(listId, info, parts, randomUUID),
  });
  return { ...applied, listId };
}

/** Cuts a playlist off from an entry on; the rest becomes a list beside it. */
export async function splitAt(context: Applying, id: string, entryId: string): Promise<Applied & { listId: string }> {
  const state = await stateOf(context.database, id);
  const taken = new Set((await allLists(context.database)).map((l) => l.name));
  let name = `${state.info.name}, part 2`;
  for (let n = 3; taken.has(name); n++) name = `${state.info.name}, part ${n}`;
  const listId = randomUUID();
  const info = { ...state.info, name, position: state.info.position + 0.001, shape: null };
  const items = splitList(id, state, entryId, { listId, info }, randomUUID);
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'There is nothing before this entry');
  const { applied } = await applyDraft(context, { title: `Split ${quoted(state.info.name)}`, items });
  return { ...applied, listId };
}

/** Takes out of a list what is in another. */
export async function takeOut(context: Applying, id: string, otherId: string): Promise<Applied> {
  const { database } = context;
  const state = await stateOf(database, id),
    other = await stateOf(database, otherId);
  const rows = await database.rows<{ id: number }>(
    'SELECT DISTINCT track_id AS id FROM list_tracks WHERE list_id = $1::uuid',
    [otherId],
  );
  const there = new Set(rows.map((r) => r.id));
  const gone = state.entries.filter((e) => e.trackId !== null && there.has(e.trackId)).map((e) => e.id);
  if (gone.length === 0) throw new Problem(409, 'nothing-to-do', 'No track is in both lists');
  const title = `Take ${several(gone.length, 'track')} out of ${quoted(state.info.name)} that ${gone.length === 1 ? 'is' : 'are'} in ${quoted(other.info.name)}`;
  return (await applyDraft(context, { title, items: removeEntries(id, state, gone) })).applied;
}

/** Removes lists as one change; they can be restored. */
export async function removeSeveral(context: Applying, listIds: readonly string[]): Promise<Applied> {
  const states = await Promise.all(listIds.map(async (id) => [id, await stateOf(context.database, id)] as const));
  const title =
    states.length === 1
      ? `Remove ${states[0]![1].info.kind} ${quoted(states[0]![1].info.name)}`
      : `Remove ${several(states.length, 'list')}`;
  const items = states.flatMap(([id, state]) => describeList(id, state, { removed: true }));
  return (await applyDraft(context, { title, items })).applied;
}

/** Which lists hold tracks with these words? */
export async function listsHolding(database: Database, text: string): Promise<ListHolding[]> {
  const { text: where, values } = compileCondition({ test: 'words', text });
  return database.rows<ListHolding>(
    `SELECT lt.list_id AS id, count(DISTINCT t.id) AS tracks FROM tracks t JOIN list_tracks lt ON lt.track_id = t.id
      WHERE ${where} GROUP BY lt.list_id`,
    values,
  );
}

/** What the page of all lists says of each besides what the tree knows. */
export async function listOverview(database: Database): Promise<ListOverview[]> {
  const { gapRules } = await deskSettings();
  const values: unknown[] = [];
  const [floor, playout] = [gapRules.floor, gapRules.playout].map(
    (fields) => compileCondition(lacksOne(fields), values).text,
  );
  return database.rows<ListOverview>(
    `WITH held AS (SELECT DISTINCT list_id, track_id FROM list_tracks),
      counts AS (SELECT h.list_id, count(*) FILTER (WHERE t.file_state = 'missing') AS missing,
        count(*) FILTER (WHERE NOT (${floor})) AS floor, count(*) FILTER (WHERE NOT (${playout})) AS playout,
        count(*) AS held FROM held h JOIN tracks t ON t.id = h.track_id GROUP BY h.list_id)
     SELECT l.id, COALESCE(c.held, 0) AS held, COALESCE(c.missing, 0) AS missing, COALESCE(c.floor, 0) AS floor,
       COALESCE(c.playout, 0) AS playout,
       COALESCE((SELECT jsonb_agg(jsonb_build_object('name', d.name, 'day', to_char(d.day, 'YYYY-MM-DD')) ORDER BY d.day)
         FROM dates d WHERE l.id = ANY(d.list_ids)), '[]') AS dates,
       g.given
     FROM lists l LEFT JOIN counts c ON c.list_id = l.id
      LEFT JOIN (SELECT DISTINCT ON (list_id) list_id, jsonb_build_object('to', given_to, 'at', given_at) AS given
        FROM file_ledger WHERE list_id IS NOT NULL ORDER BY list_id, given_at DESC) g ON g.list_id = l.id`,
    values,
  );
}

/** Puts tracks in place of what is in a list; the title says how many go. */
export async function replaceInList(context: Applying, id: string, trackIds: number[]): Promise<Applied> {
  const state = await stateOf(context.database, id);
  if (state.info.rule !== null)
    throw new Problem(409, 'self-filling', 'A self-filling crate is filled by its conditions');
  const items = replaceEntries(id, state, trackIds, randomUUID);
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'The list holds just these tracks already');
  const stays = new Set(trackIds);
  const go = state.entries.filter((e) => e.trackId === null || !stays.has(e.trackId)).length;
  const title = `Replace what is in ${quoted(state.info.name)} with ${several(trackIds.length, 'track')}; ${go} go`;
  return (await applyDraft(context, { title, items })).applied;
}

/** Puts a track in place of an entry: of an open slot, or of a track of which there is a better one. */
export async function swapInList(context: Applying, id: string, entryId: string, trackId: number): Promise<Applied> {
  const state = await stateOf(context.database, id);
  const items = swapEntry(id, state, entryId, trackId, randomUUID);
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'The entry is this track already');
  return (await applyDraft(context, { title: `Another track for an entry of ${quoted(state.info.name)}`, items }))
    .applied;
}

/** Takes entries out of a playlist and keeps their tracks in its reserve. @throws Problem when it has none */
export async function moveToReserve(context: Applying, id: string, entryIds: string[]): Promise<Applied> {
  const state = await stateOf(context.database, id);
  const { reserveId } = state.info;
  if (reserveId === null)
    throw new Problem(409, 'no-reserve', 'The playlist has no reserve yet; choose one on the right');
  const reserve = await stateOf(context.database, reserveId);
  if (reserve.info.rule !== null)
    throw new Problem(409, 'self-filling', `${quoted(reserve.info.name)} fills itself; nothing can be put there`);
  const chosen = new Set(entryIds);
  const tracks = state.entries.flatMap((e) => (chosen.has(e.id) && e.trackId !== null ? [e.trackId] : []));
  const items = [...addTracks(reserveId, reserve, tracks, randomUUID), ...removeEntries(id, state, entryIds)];
  const title = `Move ${several(entryIds.length, 'entry', 'entries')} of ${quoted(state.info.name)} to its reserve`;
  return (await applyDraft(context, { title, items })).applied;
}

/** Open slots of all lists that say what is to be found, by list and place; those of hours are filled by rules. */
export const toFind = (database: Database): Promise<ToFind[]> =>
  database.rows<ToFind>(
    `SELECT e.id AS "entryId", l.id AS "listId", l.name AS list, e.position, e.data->>'text' AS text,
      (e.data->>'seconds')::float8 AS seconds FROM list_entries e JOIN lists l ON l.id = e.list_id
      WHERE e.kind = 'open slot' AND l.kind <> 'hour' AND NOT l.removed AND trim(COALESCE(e.data->>'text', '')) <> ''
      ORDER BY l.name, l.id, e.position LIMIT 5000`,
  );
