/** Drafts for lists: from what is there and what was asked to the items that do it. */
import {
  place,
  type ChangeItem,
  type Entry,
  type ListInfo,
  type ListState,
  type Place,
  type Placement,
} from './items.ts';

/** Makes new ids; given from outside so that drafts stay pure. */
export type NewId = () => string;

const placeAt = (order: readonly Entry[], index: number): Place => ({
  behind: index > 0 ? (order[index - 1]?.id ?? null) : null,
  index,
});

/** Puts tracks in at an index (default: the end). In a crate, tracks that are there already are left out. */
export function addTracks(
  listId: string,
  list: ListState,
  trackIds: readonly number[],
  newId: NewId,
  index = list.entries.length,
): ChangeItem[] {
  const present = list.info.kind === 'crate' ? new Set(list.entries.map((e) => e.trackId)) : new Set<number>();
  let behind = placeAt(list.entries, index).behind;
  let at = index;
  const placements: Placement[] = [];
  for (const trackId of trackIds) {
    if (present.has(trackId)) continue;
    if (list.info.kind === 'crate') present.add(trackId);
    const entryId = newId();
    placements.push({ entryId, trackId, before: null, after: { behind, index: at } });
    behind = entryId;
    at++;
  }
  return placements.length ? [{ kind: 'edit-list', listId, edit: { op: 'place', placements } }] : [];
}

/** Takes entries out. Unknown ids are passed over. */
export function removeEntries(listId: string, list: ListState, entryIds: readonly string[]): ChangeItem[] {
  const wanted = new Set(entryIds);
  const placements: Placement[] = [];
  let behind: string | null = null;
  let index = 0;
  for (const entry of list.entries) {
    if (wanted.has(entry.id))
      placements.push({ entryId: entry.id, trackId: entry.trackId, before: { behind, index }, after: null });
    else {
      behind = entry.id;
      index++;
    }
  }
  return placements.length ? [{ kind: 'edit-list', listId, edit: { op: 'place', placements } }] : [];
}

/** Moves entries, in their present order, behind another entry (null: to the top). Moving behind one of themselves finds the one before it. */
export function moveEntries(
  listId: string,
  list: ListState,
  entryIds: readonly string[],
  behind: string | null,
): ChangeItem[] {
  const moving = new Set(entryIds);
  let anchor = behind;
  if (anchor !== null && moving.has(anchor)) {
    const at = list.entries.findIndex((e) => e.id === anchor);
    anchor =
      list.entries
        .slice(0, at)
        .reverse()
        .find((e) => !moving.has(e.id))?.id ?? null;
  }
  let order = [...list.entries];
  const placements: Placement[] = [];
  for (const entry of list.entries) {
    if (!moving.has(entry.id)) continue;
    const from = order.findIndex((e) => e.id === entry.id);
    const rest = order.filter((e) => e.id !== entry.id);
    const target: Place = { behind: anchor, index: anchor === null ? 0 : rest.findIndex((e) => e.id === anchor) + 1 };
    anchor = entry.id;
    if (from === target.index) continue; // it is there already
    const placement: Placement = {
      entryId: entry.id,
      trackId: entry.trackId,
      before: placeAt(order, from),
      after: target,
    };
    placements.push(placement);
    order = place(order, [placement]);
  }
  return placements.length ? [{ kind: 'edit-list', listId, edit: { op: 'place', placements } }] : [];
}

/** A new list, with tracks in it when given. */
export function createList(listId: string, info: ListInfo, trackIds: readonly number[], newId: NewId): ChangeItem[] {
  const made: ChangeItem = { kind: 'edit-list', listId, edit: { op: 'exist', before: null, after: info } };
  return [made, ...addTracks(listId, { info, entries: [] }, trackIds, newId)];
}

/** Changes what a list says of itself: name, place in the tree, put away or brought back. */
export function describeList(listId: string, list: ListState, wish: Partial<ListInfo>): ChangeItem[] {
  const keys = (Object.keys(wish) as (keyof ListInfo)[]).filter(
    (k) => wish[k] !== undefined && wish[k] !== list.info[k],
  );
  if (keys.length === 0) return [];
  const only = (from: Partial<ListInfo>): Partial<ListInfo> => Object.fromEntries(keys.map((k) => [k, from[k]]));
  return [{ kind: 'edit-list', listId, edit: { op: 'describe', before: only(list.info), after: only(wish) } }];
}
