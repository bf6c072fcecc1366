/** What a comparison says for this side, as items of a draft. */
import { randomUUID } from 'node:crypto';
import { editFields, type FieldEdit } from '@early-set/core/changes/fields';
import type { ChangeItem } from '@early-set/core/changes/items';
import { describeList, replaceEntries } from '@early-set/core/changes/lists';
import type { ListInfo } from '@early-set/core/changes/snapshot';
import type { Description } from '@early-set/core/exchange/collection';
import type { HereChanges } from '@early-set/core/sync/compare';
import type { Database } from '../db/database.ts';
import { loadLists } from '../changes/snapshot.ts';
import { heldNow } from '../library/trackStore.ts';
import { listMaker } from '../lists/listMaker.ts';
import { allLists } from '../lists/lists.ts';

/** @returns items, and the ids of lists that are made here by their ids there */
export async function draftHere(
  database: Database,
  here: HereChanges,
  about: Description,
  at: string,
): Promise<{ items: ChangeItem[]; lists: Map<string, string> }> {
  const ids = here.fields.map((f) => f.trackId);
  const fields = [...new Set(here.fields.flatMap((f) => Object.keys(f.values)))];
  const held = await heldNow(database, ids, fields);
  const edits = here.fields.map(({ trackId, values }): FieldEdit => ({
    trackId,
    fields: Object.fromEntries(
      Object.entries(values).map(([f, after]) => [f, { before: held(trackId, f)?.value ?? null, after }]),
    ),
  }));
  const lists = await listItems(database, here, about);
  return { items: [...editFields(edits, held, at, 'destination'), ...lists.items], lists: lists.made };
}

async function listItems(
  database: Database,
  { lists: changed, newLists }: HereChanges,
  about: Description,
): Promise<{ items: ChangeItem[]; made: Map<string, string> }> {
  const made = new Map<string, string>();
  if (changed.length + newLists.length === 0) return { items: [], made };
  const { items, crateFor, make } = listMaker(await allLists(database));
  const states = await loadLists(
    database,
    changed.map((c) => c.listId),
  );
  for (const { listId, change } of changed) {
    const state = states.get(listId);
    if (!state) continue;
    const { name, place, removed, trackIds } = change;
    const wish: Partial<ListInfo> = {
      ...(name === undefined ? {} : { name }),
      ...(place === undefined ? {} : { parentId: crateFor(place) }),
      ...(removed ? { removed: true } : {}),
    };
    items.push(...describeList(listId, state, wish));
    if (trackIds) items.push(...replaceEntries(listId, state, trackIds, randomUUID, true));
  }
  for (const { otherId, name, place, trackIds, kind = about.lists.kind } of newLists)
    made.set(otherId, make(kind, name, crateFor(place), trackIds));
  return { items, made };
}
