/**
 * The one place where drafts are made real. Items are compared with the present, made where nothing is in the way, and
 * journalled with before and after, all in one transaction: after a crash either all of a change set is there or none
 * of it. What lies in files is journalled here as waiting, and carried out behind it.
 */
import type { Applied } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import { isFileItem, run, type ChangeItem } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import { ChangeSet } from '../db/models.ts';
import { Problem } from '../base/problem.ts';
import type { FileContext, Restored } from './context.ts';
import { withCompanions } from '../library/companions.ts';
import { countLines, markRestored, nextLine, storeLines } from './journal.ts';
import { fileWorkOf, serverKindOf, STORED_IN_ORDER } from './kinds.ts';
import { loadSnapshot, type Loaded } from './snapshot.ts';
import { cut } from '@early-set/core/fields/cut';

export interface Draft {
  title: string;
  items: readonly ChangeItem[];
  /** For a draft that takes lines back: which one each item does, by its place. */
  restores?: readonly Restored[];
  /** The change set that it takes back. */
  undoOf?: number | null;
  /** A change set of its own that grows by it, in place of a new one. */
  into?: number | null;
  /** Done with it, in the same transaction. */
  also?: (t: Transaction) => Promise<void>;
}

/** Who applies it: until its files are written, they are in the hands of this process. */
export type Applying = Pick<FileContext, 'database' | 'workerId'>;

/** What files have to do with it. */
export interface FilePart {
  lines: number;
  bytes: number;
  /** Of these, such as are copied. */
  copied: number;
  devices: string[];
}

/**
 * Applies a draft. Items in the way of something are left out and reported; the rest is made.
 * @throws Problem "nothing-to-do" for an empty draft, "conflict" when every item was in the way.
 */
export async function applyDraft(
  { database, workerId }: Applying,
  draft: Draft,
): Promise<{ applied: Applied; files: FilePart }> {
  if (draft.items.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing would change');
  const whole = { ...draft, items: await withCompanions(database, draft.items) };
  const made = await database.transaction((t) => applyInside({ database, workerId }, whole, t));
  await announce(database, draft.items);
  return made;
}

async function applyInside(
  { database, workerId }: Applying,
  { title, items, restores, undoOf = null, into = null, also }: Draft,
  t: Transaction,
): Promise<{ applied: Applied; files: FilePart }> {
  await tellFields(database, items, t);
  const loaded = await loadSnapshot(database, items, t);
  const before = structuredClone({ files: loaded.snapshot.files, roots: loaded.snapshot.roots });
  const lines = run(items, loaded.snapshot);
  if (lines.every((line) => line.state === 'conflict'))
    throw new Problem(409, 'conflict', `Nothing was changed: ${lowerFirst(lines[0]!.reason!)}`);
  const done = lines.filter((line) => line.state === 'done').map((line) => line.item);
  await store(database, loaded, done, t);
  // What follows from a conflict of the library is told there.
  const told = new Set(lines.filter((l) => l.state === 'conflict' && !isFileItem(l.item)).map((l) => l.reason));
  const conflicts = lines
    .filter((l) => l.state === 'conflict' && !(isFileItem(l.item) && told.has(l.reason)))
    .map(({ item, reason }) => ({ item, reason: reason! }));
  const set =
    into === null ? await ChangeSet.create({ title: cut(title, 300), undoOf }, { transaction: t }) : { id: into };
  // Who has it in hand writes its files.
  await ChangeSet.update({ workerId }, { where: { id: set.id }, transaction: t });
  await storeLines(
    database,
    set.id,
    lines.map((line) => ({ ...line, restores: restores?.[line.of] ?? null })),
    t,
    into === null ? 0 : await nextLine(database, into, t),
  );
  await countLines(database, set.id, t);
  if (restores) await markRestored(database, set.id, null, t);
  await also?.(t);
  const waiting = lines.filter((line) => line.state === 'waiting');
  const weights = waiting.map(({ item }) => fileWorkOf(item).weigh(item, { ...loaded.snapshot, ...before }));
  return {
    applied: { changeSetId: set.id, title, done: done.length, conflicts },
    files: {
      lines: waiting.length,
      bytes: weights.reduce((sum, w) => sum + w.bytes, 0),
      copied: weights.reduce((sum, w) => sum + (w.copied ?? 0), 0),
      devices: [...new Set(weights.flatMap((w) => w.devices))],
    },
  };
}

/**
 * Where it is known which fields of tracks a draft changes, the database hears it: fewer crates are asked anew then.
 */
async function tellFields(database: Database, items: readonly ChangeItem[], t: Transaction): Promise<void> {
  const fields = new Set<string>();
  for (const item of items) {
    const changed = serverKindOf(item).changes?.(item);
    if (!changed) return;
    for (const field of changed) fields.add(field);
  }
  if (fields.size === 0) return;
  await database.run("SELECT set_config('early_set.fields', $1, true)", [[...fields].join(',')], t);
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);

/** Stores what was made, kind by kind. */
async function store(database: Database, loaded: Loaded, done: readonly ChangeItem[], t: Transaction): Promise<void> {
  for (const { kind, store: storeAll } of STORED_IN_ORDER) {
    const own = done.filter((item) => item.kind === kind);
    if (own.length) await storeAll?.({ database, snapshot: loaded.snapshot, loaded: loaded.tracks, t }, own);
  }
}

/** Tells the pages what to look at again. */
export async function announce(database: Database, items: readonly ChangeItem[]): Promise<void> {
  const told = new Set(items.map((item) => serverKindOf(item).tells));
  const listIds = [...new Set(items.flatMap((i) => ('listId' in i ? [i.listId] : [])))].slice(0, 50);
  if (told.has('lists')) await database.notify({ kind: 'lists', listIds });
  if (told.has('tracks')) await database.notify({ kind: 'tracks' });
  if (told.has('dates')) await database.notify({ kind: 'dates' });
  if (told.has('destinations')) await database.notify({ kind: 'destinations' });
  await database.notify({ kind: 'changes' });
}
