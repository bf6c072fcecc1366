/** What comes over with tracks that were taken: values, lists, the crate that they go into. */
import { randomUUID } from 'node:crypto';
import type { TakeWish } from '@early-set/core/api/take';
import { editFields, type FieldEdit } from '@early-set/core/changes/fields';
import type { ChangeItem } from '@early-set/core/changes/items';
import { replaceEntries } from '@early-set/core/changes/lists';
import { BUNDLED_FIELDS } from '@early-set/core/exchange/exchangedFields';
import { takenOver, withNew } from '@early-set/core/take/taken';
import type { Database } from '../db/database.ts';
import { loadLists } from '../changes/snapshot.ts';
import { heldNow } from '../library/trackStore.ts';
import { listMaker } from '../lists/listMaker.ts';
import { allLists } from '../lists/lists.ts';
import type { Looked } from './look.ts';

/** @param tracks track here by id there */
export async function takeDraft(
  database: Database,
  looked: Looked,
  wish: Pick<TakeWish, 'lists' | 'tracks' | 'over' | 'fromComments' | 'crate'>,
  tracks: ReadonlyMap<string, { trackId: number; isNew: boolean; sameFile: boolean }>,
): Promise<{ items: ChangeItem[]; lists: number }> {
  const at = new Date().toISOString();
  const held = await heldNow(
    database,
    [...tracks.values()].map((t) => t.trackId),
    BUNDLED_FIELDS,
  );
  const moods = wish.fromComments ? await moodsHere(database) : [];
  const edits = [...tracks].map(([otherId, { trackId, isNew, sameFile }]): FieldEdit => {
    const { values } = looked.byId.get(otherId)!;
    // Places in another encoding of a recording may be others: they are compared by hand.
    const theirs = sameFile ? values : { ...values, cues: null, gridStartSeconds: null, beatsPerBar: null };
    const rule = { over: isNew ? wish.over : 'fill gaps', fromComments: wish.fromComments, moods } as const;
    return { trackId, fields: takenOver(theirs, (field) => held(trackId, field) ?? null, rule) };
  });
  const lists = await listItems(database, looked, wish, tracks);
  return { items: [...editFields(edits, held, at, 'destination'), ...lists.items], lists: lists.changed };
}

/** Moods as the library spells them. */
export async function moodsHere(database: Database): Promise<string[]> {
  const rows = await database.rows<{ mood: string }>(
    'SELECT DISTINCT unnest(moods) AS mood FROM tracks WHERE moods IS NOT NULL LIMIT 1000',
  );
  return rows.map((r) => r.mood);
}

async function listItems(
  database: Database,
  { collection, listKind }: Looked,
  { lists: wanted, crate }: Pick<TakeWish, 'lists' | 'crate'>,
  tracks: ReadonlyMap<string, { trackId: number }>,
): Promise<{ items: ChangeItem[]; changed: number }> {
  const there = await allLists(database);
  const maker = listMaker(there);
  const items: ChangeItem[] = [];
  let changed = 0;
  /** Fills a list that is there, or makes it. */
  const fill = async (id: string | undefined, make: () => void, trackIds: readonly number[]): Promise<void> => {
    if (trackIds.length === 0) return;
    if (id === undefined) {
      make();
      changed++;
      return;
    }
    const state = (await loadLists(database, [id])).get(id);
    if (!state) return;
    const before = state.entries.flatMap((e) => e.trackId ?? []);
    const after = withNew(before, trackIds);
    if (after.length === before.length) return;
    items.push(...replaceEntries(id, state, after, randomUUID, true));
    changed++;
  };
  const editable = (l: (typeof there)[number]): boolean => !l.removed && l.rule === null && l.mirrorOf === null;
  for (const list of collection.lists) {
    if (!wanted.includes(list.id)) continue;
    const trackIds = list.trackIds.flatMap((id) => tracks.get(id)?.trackId ?? []);
    const kind = list.kind ?? listKind;
    const ids = kind === 'crate' ? [...new Set(trackIds)] : trackIds;
    if (ids.length === 0) continue;
    const parentId = maker.crateFor(list.place);
    const found = there.find((l) => l.kind === kind && l.parentId === parentId && l.name === list.name && editable(l));
    await fill(found?.id, () => maker.make(kind, list.name, parentId, ids), ids);
  }
  if (crate !== null) {
    const ids = [...new Set([...tracks.values()].map((t) => t.trackId))];
    const found = there.find((l) => l.kind === 'crate' && l.name === crate && editable(l));
    await fill(found?.id, () => maker.make('crate', crate, null, ids), ids);
  }
  return { items: [...maker.items, ...items], changed };
}
