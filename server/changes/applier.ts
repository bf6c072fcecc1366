/**
 * The one place where drafts are made real. Items are compared with the present, made where nothing is
 * in the way, and journalled with before and after, all in one transaction: after a crash either all
 * of a change set is there or none of it.
 */
import type { Applied, Origins } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import { applyEdit, conflictOf, inverseOf, type ChangeItem, type EditList, type ListState, type SetField } from '@early-set/core/changes/items';
import type { TrackValues } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { ChangeSet } from '../db/models.ts';
import { storeValues } from '../library/columns.ts';
import { originOf, storeOrigins } from '../library/origins.ts';
import { Problem } from '../problem.ts';
import { loadWorld, setHeld, type LoadedWorld } from './world.ts';

export interface Draft { title: string; items: ChangeItem[] }

/**
 * Applies a draft. Items in the way of something are left out and reported; the rest is made.
 * @throws Problem "nothing-to-do" for an empty draft, "conflict" when every item was in the way.
 */
export async function applyDraft(database: Database, draft: Draft, undoOf: number | null = null): Promise<Applied> {
  if (draft.items.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing would change');
  const applied = await database.transaction((t) => applyInside(database, draft, undoOf, t));
  await announce(database, draft.items);
  return applied;
}

async function applyInside(database: Database, draft: Draft, undoOf: number | null, t: Transaction): Promise<Applied> {
  const world = await loadWorld(database, draft.items, t);
  const journal: { item: ChangeItem; reason: string | null }[] = [];
  const touchedTracks = new Map<number, Set<string>>();
  const edited = new Map<string, EditList['edit'][]>();
  for (const item of draft.items) {
    const reason = conflictOf(item, world);
    journal.push({ item, reason });
    if (reason !== null) continue;
    if (item.kind === 'set-field') {
      setHeld(world.tracks.get(item.trackId)!, item.field, item.after);
      const fields = touchedTracks.get(item.trackId) ?? new Set();
      touchedTracks.set(item.trackId, fields.add(item.field));
    } else {
      const next = applyEdit(world.lists.get(item.listId), item.edit);
      if (next) world.lists.set(item.listId, next); else world.lists.delete(item.listId);
      edited.set(item.listId, [...(edited.get(item.listId) ?? []), item.edit]);
    }
  }
  const conflicts = journal.flatMap(({ item, reason }) => (reason === null ? [] : [{ item, reason }]));
  const done = journal.length - conflicts.length;
  if (done === 0) throw new Problem(409, 'conflict', `Nothing was changed: ${lowerFirst(conflicts[0]!.reason)}`);
  await storeTracks(database, world, touchedTracks, t);
  for (const [listId, edits] of edited) await storeList(database, listId, world.lists.get(listId), edits, t);
  const set = await ChangeSet.create({ title: draft.title.slice(0, 300), done, conflicts: conflicts.length, undoOf }, { transaction: t });
  await storeJournal(database, set.id, journal, t);
  return { changeSetId: set.id, title: draft.title, done, conflicts };
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);

async function storeTracks(database: Database, world: LoadedWorld, touched: Map<number, Set<string>>, t: Transaction): Promise<void> {
  const values: { id: number; changed: TrackValues; all: TrackValues }[] = [];
  const origins: { id: number; origins: Record<string, Origins[string] | null> }[] = [];
  for (const [id, fields] of touched) {
    const track = world.tracks.get(id)!;
    values.push({ id, changed: Object.fromEntries([...fields].map((f) => [f, track.values[f] ?? null])), all: track.values });
    origins.push({ id, origins: Object.fromEntries([...fields].map((f) => {
      const held = world.held(id, f);
      return [f, held ? originOf(held) : null];
    })) });
  }
  await storeValues(database, values, t);
  await storeOrigins(database, origins, t);
}

async function storeList(database: Database, listId: string, state: ListState | undefined, edits: EditList['edit'][], t: Transaction): Promise<void> {
  if (!state) {
    await database.run('DELETE FROM lists WHERE id = $1', [listId], t);
    return;
  }
  const { info, entries } = state;
  await database.run(
    `INSERT INTO lists (id, kind, name, parent_id, position, removed, starts_at) VALUES ($1, $2, $3, $4, $5, $6, $7)
     ON CONFLICT (id) DO UPDATE SET name = excluded.name, parent_id = excluded.parent_id, position = excluded.position, removed = excluded.removed, starts_at = excluded.starts_at, updated_at = now()`,
    [listId, info.kind, info.name, info.parentId, info.position, info.removed, info.startsAt], t);
  if (!edits.some((e) => e.op === 'place')) return;
  const order = JSON.stringify(entries.map((e, position) => ({ id: e.id, track_id: e.trackId, position })));
  const given = 'jsonb_to_recordset($2::jsonb) AS v(id uuid, track_id int, position int)';
  await database.run(`DELETE FROM list_entries e WHERE list_id = $1 AND NOT EXISTS (SELECT 1 FROM ${given} WHERE v.id = e.id)`, [listId, order], t);
  await database.run(
    `INSERT INTO list_entries (id, list_id, track_id, position) SELECT v.id, $1, v.track_id, v.position FROM ${given}
     ON CONFLICT (id) DO UPDATE SET position = excluded.position WHERE list_entries.position <> excluded.position`, [listId, order], t);
}

async function storeJournal(database: Database, changeSetId: number, journal: { item: ChangeItem; reason: string | null }[], t: Transaction): Promise<void> {
  for (let from = 0; from < journal.length; from += 2000) {
    const batch = journal.slice(from, from + 2000).map(({ item, reason }, i) => ({ seq: from + i, item, state: reason === null ? 'done' : 'conflict', reason }));
    await database.run(
      'INSERT INTO change_items (change_set_id, seq, item, state, reason) SELECT $1, v.seq, v.item, v.state, v.reason FROM jsonb_to_recordset($2::jsonb) AS v(seq int, item jsonb, state text, reason text)',
      [changeSetId, JSON.stringify(batch)], t);
  }
}

async function announce(database: Database, items: ChangeItem[]): Promise<void> {
  const listIds = [...new Set(items.flatMap((i) => (i.kind === 'edit-list' ? [i.listId] : [])))].slice(0, 50);
  if (listIds.length) await database.notify({ kind: 'lists', listIds });
  if (items.some((i): i is SetField => i.kind === 'set-field')) await database.notify({ kind: 'tracks' });
  await database.notify({ kind: 'changes' });
}

/** Takes a change set back by its inverse through the same engine. @throws Problem when it was taken back already. */
export async function undoChangeSet(database: Database, id: number): Promise<Applied> {
  const set = await ChangeSet.findByPk(id);
  if (!set) throw new Problem(404, 'not-found', 'That change is not there');
  if (set.undoneBy !== null) throw new Problem(409, 'already-undone', `"${set.title}" has been taken back already`);
  const rows = await database.rows<{ item: ChangeItem }>("SELECT item FROM change_items WHERE change_set_id = $1 AND state = 'done' ORDER BY seq", [id]);
  const title = set.undoOf === null ? `Undo: ${set.title}` : `Redo: ${set.title.replace(/^(Undo|Redo): /, '')}`;
  const applied = await applyDraft(database, { title, items: inverseOf(rows.map((r) => r.item)) }, id);
  await set.update({ undoneBy: applied.changeSetId });
  // Taking back an undo makes the original stand again.
  if (set.undoOf !== null) await ChangeSet.update({ undoneBy: null }, { where: { id: set.undoOf } });
  return applied;
}

/** The change set that Ctrl+Z takes back (or Ctrl+Shift+Z brings back); null when there is none. */
export async function latestToUndo(database: Database, redo: boolean): Promise<number | null> {
  const [row] = await database.rows<{ id: number }>(redo
    ? `SELECT s.id FROM change_sets s JOIN change_sets o ON o.id = s.undo_of
       WHERE s.undone_by IS NULL AND o.undo_of IS NULL AND NOT EXISTS (SELECT 1 FROM change_sets n WHERE n.id > s.id AND n.undo_of IS NULL) ORDER BY s.id DESC LIMIT 1`
    : 'SELECT id FROM change_sets WHERE undo_of IS NULL AND undone_by IS NULL ORDER BY id DESC LIMIT 1');
  return row?.id ?? null;
}
