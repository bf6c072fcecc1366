/** Crates and playlists: reading them, and the drafts that change them. */
import type { Applied, ListContents, ListLine } from '@early-set/core/api/types';
import { randomUUID } from 'node:crypto';
import { addTracks, createList, describeList, moveEntries, removeEntries } from '@early-set/core/changes/lists';
import type { ListInfo, ListState } from '@early-set/core/changes/items';
import { cleanText } from '@early-set/core/fields/text';
import { applyDraft } from '../changes/applier.ts';
import { loadLists } from '../changes/world.ts';
import type { Database } from '../db/database.ts';
import { ROW_SELECT, toSheetRow } from '../library/sheet.ts';
import { notFound, Problem } from '../problem.ts';

/** All lists, removed ones too, in the order of the tree. */
export const allLists = (database: Database): Promise<ListLine[]> =>
  database.rows<ListLine>(
    `SELECT l.id, l.kind, l.name, l.parent_id AS "parentId", l.position, l.removed, l.starts_at AS "startsAt", l.updated_at AS "updatedAt",
       count(e.id) AS tracks, COALESCE(sum(t.duration_seconds), 0) AS "durationSeconds"
     FROM lists l LEFT JOIN list_entries e ON e.list_id = l.id LEFT JOIN tracks t ON t.id = e.track_id GROUP BY l.id ORDER BY l.kind, l.position, l.name`,
  );

/** A list with its tracks in order. @throws Problem when there is none. */
export async function listContents(database: Database, id: string): Promise<ListContents> {
  const state = (await loadLists(database, [id])).get(id);
  if (!state) throw notFound('The list');
  const rows = await database.rows<{ entryId: string } & Parameters<typeof toSheetRow>[0]>(
    `SELECT e.id AS "entryId", NULL::int AS fit, ${ROW_SELECT} FROM list_entries e JOIN tracks t ON t.id = e.track_id WHERE e.list_id = $1 ORDER BY e.position, e.id`,
    [id],
  );
  return {
    id,
    info: state.info,
    entries: rows.map(({ entryId, ...row }) => ({ entryId, ...toSheetRow(row as Parameters<typeof toSheetRow>[0]) })),
  };
}

async function stateOf(database: Database, id: string): Promise<ListState> {
  const state = (await loadLists(database, [id])).get(id);
  if (!state) throw notFound('The list');
  return state;
}

const several = (n: number, one: string, many = `${one}s`): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
const quoted = (name: string): string => `"${name.length > 60 ? `${name.slice(0, 57)}…` : name}"`;

export interface NewList {
  kind: 'crate' | 'playlist';
  name: string;
  parentId?: string | null;
  trackIds?: number[];
}

/** Makes a list, at the end of its siblings. */
export async function makeList(database: Database, wish: NewList): Promise<Applied & { listId: string }> {
  const name = cleanText(wish.name);
  if (!name) throw new Problem(400, 'no-name', 'A list needs a name');
  const lists = await allLists(database);
  const parent = wish.parentId ?? null;
  if (parent !== null) requireCrate(lists, parent, wish.kind);
  const siblings = lists.filter((l) => l.kind === wish.kind && l.parentId === parent);
  const listId = randomUUID();
  const info: ListInfo = {
    kind: wish.kind,
    name,
    parentId: parent,
    position: Math.max(0, ...siblings.map((s) => s.position)) + 1,
    removed: false,
    startsAt: wish.kind === 'playlist' ? '20:00' : null,
  };
  const applied = await applyDraft(database, {
    title: `New ${wish.kind} ${quoted(name)}`,
    items: createList(listId, info, wish.trackIds ?? [], randomUUID),
  });
  return { ...applied, listId };
}

function requireCrate(lists: ListLine[], parentId: string, kind: string): void {
  const parent = lists.find((l) => l.id === parentId);
  if (!parent || parent.kind !== 'crate' || kind !== 'crate')
    throw new Problem(400, 'bad-parent', 'Only crates can hold crates');
}

/** Renames, moves in the tree, puts away or brings back. */
export async function changeList(
  database: Database,
  id: string,
  wish: Partial<Pick<ListInfo, 'name' | 'parentId' | 'position' | 'removed' | 'startsAt'>>,
): Promise<Applied> {
  const state = await stateOf(database, id);
  const clean = { ...wish };
  if (clean.name !== undefined) {
    clean.name = cleanText(clean.name);
    if (!clean.name) throw new Problem(400, 'no-name', 'A list needs a name');
  }
  if (clean.parentId) {
    const lists = await allLists(database);
    requireCrate(lists, clean.parentId, state.info.kind);
    for (let at: string | null = clean.parentId; at !== null; at = lists.find((l) => l.id === at)?.parentId ?? null) {
      if (at === id) throw new Problem(400, 'bad-parent', 'A crate cannot lie inside itself');
    }
  }
  const title =
    clean.removed === true
      ? `Remove ${state.info.kind} ${quoted(state.info.name)}`
      : clean.removed === false
        ? `Bring back ${state.info.kind} ${quoted(state.info.name)}`
        : clean.name !== undefined
          ? `Rename ${quoted(state.info.name)} to ${quoted(clean.name)}`
          : clean.startsAt !== undefined
            ? `Start ${quoted(state.info.name)} at ${clean.startsAt ?? 'no set time'}`
            : `Move ${state.info.kind} ${quoted(state.info.name)}`;
  return applyDraft(database, { title, items: describeList(id, state, clean) });
}

/** Puts tracks into a list. */
export async function addToList(
  database: Database,
  id: string,
  trackIds: number[],
  index?: number,
): Promise<Applied & { skipped: number }> {
  const state = await stateOf(database, id);
  const items = addTracks(id, state, trackIds, randomUUID, index);
  const added = items.reduce(
    (n, i) => n + (i.kind === 'edit-list' && i.edit.op === 'place' ? i.edit.placements.length : 0),
    0,
  );
  if (added === 0 && trackIds.length > 0)
    throw new Problem(
      409,
      'nothing-to-do',
      trackIds.length === 1 ? 'The track is in this crate already' : 'These tracks are in this crate already',
    );
  const applied = await applyDraft(database, {
    title: `Add ${several(added, 'track')} to ${quoted(state.info.name)}`,
    items,
  });
  return { ...applied, skipped: trackIds.length - added };
}

/** Takes entries out of a list. */
export async function removeFromList(database: Database, id: string, entryIds: string[]): Promise<Applied> {
  const state = await stateOf(database, id);
  return applyDraft(database, {
    title: `Take ${several(entryIds.length, 'track')} out of ${quoted(state.info.name)}`,
    items: removeEntries(id, state, entryIds),
  });
}

/** Moves entries behind another one (null: to the top). */
export async function moveInList(
  database: Database,
  id: string,
  entryIds: string[],
  behind: string | null,
): Promise<Applied> {
  const state = await stateOf(database, id);
  return applyDraft(database, {
    title: `Move ${several(entryIds.length, 'track')} in ${quoted(state.info.name)}`,
    items: moveEntries(id, state, entryIds, behind),
  });
}

/** A copy of a list under a new name, beside it. */
export async function duplicateList(database: Database, id: string): Promise<Applied & { listId: string }> {
  const state = await stateOf(database, id);
  const taken = new Set((await allLists(database)).map((l) => l.name));
  let name = `${state.info.name} copy`;
  for (let n = 2; taken.has(name); n++) name = `${state.info.name} copy ${n}`;
  const listId = randomUUID();
  const info: ListInfo = { ...state.info, name, position: state.info.position + 0.001, removed: false };
  const applied = await applyDraft(database, {
    title: `Duplicate ${quoted(state.info.name)}`,
    items: createList(
      listId,
      info,
      state.entries.map((e) => e.trackId),
      randomUUID,
    ),
  });
  return { ...applied, listId };
}
