/**
 * The one place where drafts are made real. Items are compared with the present, made where nothing is
 * in the way, and journalled with before and after, all in one transaction: after a crash either all
 * of a change set is there or none of it. What lies in files is journalled here as waiting, and made by `writing`.
 */
import type { Applied, Origins } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import {
  applyEdit,
  conflictOf,
  isFileItem,
  type ChangeItem,
  type EditList,
  type FileItem,
  type LibraryItem,
  type ListState,
} from '@early-set/core/changes/items';
import type { TrackValues } from '@early-set/core/fields/values';
import { unwrittenAfter } from '@early-set/core/tags/values';
import type { Database } from '../db/database.ts';
import { ChangeSet } from '../db/models.ts';
import { storeValues } from '../library/columns.ts';
import { originOf, storeOrigins } from '../library/origins.ts';
import { Problem } from '../problem.ts';
import { knownFileFields } from './fileTags.ts';
import { loadWorld, setHeld, type LoadedWorld } from './world.ts';

export interface Draft {
  title: string;
  items: ChangeItem[];
}

interface Line {
  item: ChangeItem;
  state: 'done' | 'conflict' | 'waiting';
  reason: string | null;
}

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
  const journal: Line[] = [];
  const touched: Touched = { fields: new Map(), pictures: new Set() };
  const edited = new Map<string, EditList['edit'][]>();
  const left = new Map<string, string>();
  for (const item of draft.items.filter((i): i is LibraryItem => !isFileItem(i))) {
    const reason = conflictOf(item, world);
    journal.push({ item, state: reason === null ? 'done' : 'conflict', reason });
    if (reason !== null) {
      if (item.kind === 'set-field') left.set(`${item.trackId} ${item.field}`, reason);
      continue;
    }
    make(item, world, touched, edited);
  }
  for (const item of draft.items.filter(isFileItem)) journal.push(withoutLeft(item, left));
  const conflicts = journal.flatMap(({ item, state, reason }) =>
    state === 'conflict' && !isFileItem(item) ? [{ item, reason: reason! }] : [],
  );
  const done = journal.filter((line) => line.state === 'done').length;
  if (journal.every((line) => line.state === 'conflict'))
    throw new Problem(409, 'conflict', `Nothing was changed: ${lowerFirst(journal[0]!.reason!)}`);
  await storeTracks(database, world, touched, t);
  for (const [listId, edits] of edited) await storeList(database, listId, world.lists.get(listId), edits, t);
  const set = await ChangeSet.create(
    { title: draft.title.slice(0, 300), done, conflicts: conflicts.length, undoOf },
    { transaction: t },
  );
  await storeJournal(database, set.id, journal, t);
  return { changeSetId: set.id, title: draft.title, done, conflicts };
}

interface Touched {
  fields: Map<number, Set<string>>;
  pictures: Set<number>;
}

function make(item: LibraryItem, world: LoadedWorld, touched: Touched, edited: Map<string, EditList['edit'][]>): void {
  if (item.kind === 'set-field') {
    setHeld(world.tracks.get(item.trackId)!, item.field, item.after);
    touched.fields.set(item.trackId, (touched.fields.get(item.trackId) ?? new Set()).add(item.field));
  } else if (item.kind === 'set-picture') {
    world.tracks.get(item.trackId)!.artHash = item.after;
    touched.pictures.add(item.trackId);
  } else {
    const next = applyEdit(world.lists.get(item.listId), item.edit);
    if (next) world.lists.set(item.listId, next);
    else world.lists.delete(item.listId);
    edited.set(item.listId, [...(edited.get(item.listId) ?? []), item.edit]);
  }
}

/** What the library did not take does not go into the file either. */
function withoutLeft(item: FileItem, left: ReadonlyMap<string, string>): Line {
  if (item.kind === 'move-file') return { item, state: 'waiting', reason: null };
  const reasonOf = (field: string): string | undefined => left.get(`${item.trackId} ${field}`);
  const kept = Object.entries(item.fields).filter(([field]) => reasonOf(field) === undefined);
  if (kept.length === Object.keys(item.fields).length) return { item, state: 'waiting', reason: null };
  if (kept.length === 0 && !item.picture)
    return { item, state: 'conflict', reason: reasonOf(Object.keys(item.fields)[0]!)! };
  const { kind, trackId, picture } = item;
  return {
    item: { kind, trackId, fields: Object.fromEntries(kept), ...(picture ? { picture } : {}) },
    state: 'waiting',
    reason: null,
  };
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);

async function storeTracks(database: Database, world: LoadedWorld, touched: Touched, t: Transaction): Promise<void> {
  const inFiles = await knownFileFields(database, [...touched.fields.keys()], t);
  const values: { id: number; changed: TrackValues; all: TrackValues }[] = [];
  const origins: { id: number; origins: Record<string, Origins[string] | null> }[] = [];
  for (const [id, fields] of touched.fields) {
    const track = world.tracks.get(id)!;
    const unwritten = unwrittenAfter(
      track.unwritten,
      [...fields],
      (f) => track.values[f] ?? null,
      inFiles.get(id) ?? null,
    );
    values.push({
      id,
      changed: { ...Object.fromEntries([...fields].map((f) => [f, track.values[f] ?? null])), unwritten },
      all: track.values,
    });
    origins.push({
      id,
      origins: Object.fromEntries(
        [...fields].map((f) => {
          const held = world.held(id, f);
          return [f, held ? originOf(held) : null];
        }),
      ),
    });
  }
  await storeValues(database, values, t);
  await storeOrigins(database, origins, t);
  const pictures = [...touched.pictures].map((id) => ({ id, hash: world.tracks.get(id)!.artHash }));
  if (pictures.length)
    await database.run(
      'UPDATE tracks t SET art_hash = v.hash FROM jsonb_to_recordset($1::jsonb) AS v(id int, hash text) WHERE t.id = v.id',
      [JSON.stringify(pictures)],
      t,
    );
}

async function storeList(
  database: Database,
  listId: string,
  state: ListState | undefined,
  edits: EditList['edit'][],
  t: Transaction,
): Promise<void> {
  if (!state) {
    await database.run('DELETE FROM lists WHERE id = $1', [listId], t);
    return;
  }
  const { info, entries } = state;
  await database.run(
    `INSERT INTO lists (id, kind, name, parent_id, position, removed, starts_at) VALUES ($1, $2, $3, $4, $5, $6, $7)
     ON CONFLICT (id) DO UPDATE SET name = excluded.name, parent_id = excluded.parent_id, position = excluded.position, removed = excluded.removed, starts_at = excluded.starts_at, updated_at = now()`,
    [listId, info.kind, info.name, info.parentId, info.position, info.removed, info.startsAt],
    t,
  );
  if (!edits.some((e) => e.op === 'place')) return;
  const order = JSON.stringify(entries.map((e, position) => ({ id: e.id, track_id: e.trackId, position })));
  const given = 'jsonb_to_recordset($2::jsonb) AS v(id uuid, track_id int, position int)';
  await database.run(
    `DELETE FROM list_entries e WHERE list_id = $1 AND NOT EXISTS (SELECT 1 FROM ${given} WHERE v.id = e.id)`,
    [listId, order],
    t,
  );
  await database.run(
    `INSERT INTO list_entries (id, list_id, track_id, position) SELECT v.id, $1, v.track_id, v.position FROM ${given}
     ON CONFLICT (id) DO UPDATE SET position = excluded.position WHERE list_entries.position <> excluded.position`,
    [listId, order],
    t,
  );
}

async function storeJournal(database: Database, changeSetId: number, journal: Line[], t: Transaction): Promise<void> {
  for (let from = 0; from < journal.length; from += 2000) {
    const batch = journal.slice(from, from + 2000).map((line, i) => ({ seq: from + i, ...line }));
    await database.run(
      'INSERT INTO change_items (change_set_id, seq, item, state, reason) SELECT $1, v.seq, v.item, v.state, v.reason FROM jsonb_to_recordset($2::jsonb) AS v(seq int, item jsonb, state text, reason text)',
      [changeSetId, JSON.stringify(batch)],
      t,
    );
  }
}

async function announce(database: Database, items: ChangeItem[]): Promise<void> {
  const listIds = [...new Set(items.flatMap((i) => (i.kind === 'edit-list' ? [i.listId] : [])))].slice(0, 50);
  if (listIds.length) await database.notify({ kind: 'lists', listIds });
  if (items.some((i) => i.kind !== 'edit-list')) await database.notify({ kind: 'tracks' });
  await database.notify({ kind: 'changes' });
}

/** The change set that Ctrl+Z takes back (or Ctrl+Shift+Z brings back); null when there is none. */
export async function latestToUndo(database: Database, redo: boolean): Promise<number | null> {
  const [row] = await database.rows<{ id: number }>(
    redo
      ? `SELECT s.id FROM change_sets s JOIN change_sets o ON o.id = s.undo_of
       WHERE s.undone_by IS NULL AND o.undo_of IS NULL AND NOT EXISTS (SELECT 1 FROM change_sets n WHERE n.id > s.id AND n.undo_of IS NULL) ORDER BY s.id DESC LIMIT 1`
      : 'SELECT id FROM change_sets WHERE undo_of IS NULL AND undone_by IS NULL ORDER BY id DESC LIMIT 1',
  );
  return row?.id ?? null;
}
