/** Drafts for lists: from what is there and what was asked to the items that do it. */
import { longestRise } from './compare.ts';
import { applyEdit, editList, type EditList } from './kinds/editList.ts';
import { Chain, type Place, type Placement } from './placements.ts';
import type { Entry, EntryData, EntryKind, ListInfo, ListState } from './snapshot.ts';

/** Makes new ids; given from outside so that drafts stay pure. */
export type NewId = () => string;

const placeAt = (order: readonly Entry[], index: number): Place => ({
  behind: index > 0 ? (order[index - 1]?.id ?? null) : null,
  index,
});

/** An entry as a placement says it: what a plain track does not carry is left out. */
const carried = ({ id, trackId, kind, data }: Entry): Omit<Placement, 'before' | 'after'> => ({
  entryId: id,
  trackId,
  ...(kind === 'track' && Object.keys(data).length === 0 ? {} : { entry: { kind, data } }),
});

/** Puts in something that is no track (or a jingle's track): a pause, an open slot, a link, a note. */
export function addEntry(
  listId: string,
  list: ListState,
  entry: { kind: EntryKind; trackId: number | null; data: EntryData },
  newId: NewId,
  index = list.entries.length,
): EditList[] {
  const { trackId, kind, data } = entry;
  const placement: Placement = {
    entryId: newId(),
    trackId,
    before: null,
    after: placeAt(list.entries, index),
    entry: { kind, data },
  };
  return [editList(listId, { op: 'place', placements: [placement] })];
}

/** Changes what an entry carries; null takes something away. Empty when nothing would change. */
export function describeEntry(
  listId: string,
  list: ListState,
  entryId: string,
  wish: { [K in keyof EntryData]?: EntryData[K] | null },
): EditList[] {
  const entry = list.entries.find((e) => e.id === entryId);
  if (!entry) return [];
  const names = (Object.keys(wish) as (keyof EntryData)[]).filter((n) => (wish[n] ?? undefined) !== entry.data[n]);
  if (names.length === 0) return [];
  const only = (from: object): EntryData =>
    Object.fromEntries(
      names.flatMap((n) => {
        const value = (from as Record<string, unknown>)[n];
        return value === undefined || value === null ? [] : [[n, value]];
      }),
    );
  return [editList(listId, { op: 'describe-entry', entryId, before: only(entry.data), after: only(wish) })];
}

/** Puts tracks in at an index (default: the end). In a crate, tracks that are there already are left out. */
export function addTracks(
  listId: string,
  list: ListState,
  trackIds: readonly number[],
  newId: NewId,
  index = list.entries.length,
): EditList[] {
  const present = new Set(list.info.kind === 'crate' ? list.entries.map((e) => e.trackId) : []);
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
  return placements.length ? [editList(listId, { op: 'place', placements })] : [];
}

/** Takes entries out. Unknown ids are passed over. */
export function removeEntries(listId: string, list: ListState, entryIds: readonly string[]): EditList[] {
  const wanted = new Set(entryIds);
  const placements: Placement[] = [];
  let behind: string | null = null;
  let index = 0;
  for (const entry of list.entries) {
    if (wanted.has(entry.id)) placements.push({ ...carried(entry), before: { behind, index }, after: null });
    else {
      behind = entry.id;
      index++;
    }
  }
  return placements.length ? [editList(listId, { op: 'place', placements })] : [];
}

/**
 * Moves entries, in their present order, behind another entry (null: to the top). Moving behind one of themselves
 * finds the one before it.
 */
export function moveEntries(
  listId: string,
  list: ListState,
  entryIds: readonly string[],
  behind: string | null,
): EditList[] {
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
  const ends = list.entries.filter((e) => !moving.has(e.id));
  let index = anchor === null ? 0 : ends.findIndex((e) => e.id === anchor) + 1;
  const order = new Chain(list.entries);
  const placements: Placement[] = [];
  for (const [at, entry] of list.entries.entries()) {
    if (!moving.has(entry.id)) continue;
    const was = order.placeOf(entry.id);
    const to: Place = { behind: anchor, index: index++ };
    anchor = entry.id;
    if (was === to.behind) continue; // it is there already
    placements.push({ ...carried(entry), before: { behind: was, index: at }, after: to });
    order.put(order.take(entry.id)!, to);
  }
  return placements.length ? [editList(listId, { op: 'place', placements })] : [];
}

/**
 * Puts entries in an order as a whole; those it does not name come behind, as they were. Only what does not already
 * follow in that order is moved.
 */
export function reorderEntries(listId: string, list: ListState, wished: readonly string[]): EditList[] {
  const at = new Map(list.entries.map((e, i) => [e.id, i]));
  const named = new Set(wished.filter((id) => at.has(id)));
  const target = [...named, ...list.entries.filter((e) => !named.has(e.id)).map((e) => e.id)];
  const stays = longestRise(target.map((id) => at.get(id)!));
  const order = new Chain(list.entries);
  const placements: Placement[] = [];
  for (const [i, id] of target.entries()) {
    if (stays.has(i)) continue;
    const from = at.get(id)!;
    const before: Place = { behind: order.placeOf(id), index: from };
    const after: Place = { behind: target[i - 1] ?? null, index: i };
    placements.push({ ...carried(list.entries[from]!), before, after });
    order.put(order.take(id)!, after);
  }
  return placements.length ? [editList(listId, { op: 'place', placements })] : [];
}

/**
 * Other tracks in place of all that is in a list; entries of tracks that stay keep what they carry.
 * @param keepOthers what is no track stays, behind the entry that it stood behind
 */
export function replaceEntries(
  listId: string,
  list: ListState,
  trackIds: readonly number[],
  newId: NewId,
  keepOthers = false,
): EditList[] {
  const wanted = list.info.kind === 'crate' ? [...new Set(trackIds)] : [...trackIds];
  const free = new Map<number, string[]>();
  for (const { id, trackId } of list.entries)
    if (trackId !== null) free.set(trackId, [...(free.get(trackId) ?? []), id]);
  const order = wanted.map((trackId) => ({ trackId, entryId: free.get(trackId)?.shift() ?? null }));
  const stays = new Set(order.map((o) => o.entryId));
  const remains = ({ id, trackId }: Entry): boolean => stays.has(id) || (keepOthers && trackId === null);
  const kept = list.entries.filter(remains);
  const gone = list.entries.filter((e) => !remains(e)).map((e) => e.id);
  const items = removeEntries(listId, list, gone);
  let last = kept.at(-1)?.id ?? null,
    index = kept.length;
  const placements: Placement[] = [];
  const ids = order.map(({ trackId, entryId }) => {
    if (entryId !== null) return entryId;
    const id = newId();
    placements.push({ entryId: id, trackId, before: null, after: { behind: last, index: index++ } });
    last = id;
    return id;
  });
  if (placements.length > 0) items.push(editList(listId, { op: 'place', placements }));
  return [...items, ...reorderEntries(listId, made(list, items), keepOthers ? withOthers(kept, ids) : ids)];
}

/** An order of tracks' entries, with what is no track behind the entry that it stood behind. */
function withOthers(kept: readonly Entry[], ids: readonly string[]): string[] {
  const followers = new Map<string | null, string[]>();
  let last: string | null = null;
  for (const { id, trackId } of kept)
    if (trackId === null) followers.set(last, [...(followers.get(last) ?? []), id]);
    else last = id;
  return [...(followers.get(null) ?? []), ...ids.flatMap((id) => [id, ...(followers.get(id) ?? [])])];
}

const made = (list: ListState, items: readonly EditList[]): ListState =>
  items.reduce((state, { edit }) => applyEdit(state, edit)!, list);

/** What belongs to the place and not to the track that stands there. */
const KEPT_BY_SWAP = [
  'pinned',
  'at',
  'remark',
  'tempo',
  'rampBars',
  'overlap',
  'overlapBars',
  'fixedAt',
  'notBefore',
  'slot',
] as const;

/** A track in place of an entry, at its place. @param more what it carries besides what belongs to the place */
export function swapEntry(
  listId: string,
  list: ListState,
  entryId: string,
  trackId: number,
  newId: NewId,
  more: EntryData = {},
): EditList[] {
  const at = list.entries.findIndex((e) => e.id === entryId),
    entry = list.entries[at];
  if (!entry || (entry.trackId === trackId && entry.kind === 'track')) return [];
  const kept = Object.fromEntries(KEPT_BY_SWAP.flatMap((n) => (n in entry.data ? [[n, entry.data[n]]] : [])));
  const data: EntryData = { ...kept, ...more };
  const placement: Placement = {
    entryId: newId(),
    trackId,
    before: null,
    after: placeAt(list.entries, at),
    ...(Object.keys(data).length > 0 ? { entry: { kind: 'track' as const, data } } : {}),
  };
  return [...removeEntries(listId, list, [entryId]), editList(listId, { op: 'place', placements: [placement] })];
}

/** A new list, with tracks in it when given. */
export function createList(listId: string, info: ListInfo, trackIds: readonly number[], newId: NewId): EditList[] {
  const made = editList(listId, { op: 'exist', before: null, after: info });
  return [made, ...addTracks(listId, { info, entries: [] }, trackIds, newId)];
}

/** Changes what a list says of itself: name, place in the tree, put away or brought back. */
export function describeList(listId: string, list: ListState, wish: Partial<ListInfo>): EditList[] {
  const keys = (Object.keys(wish) as (keyof ListInfo)[]).filter(
    (k) => wish[k] !== undefined && wish[k] !== list.info[k],
  );
  if (keys.length === 0) return [];
  const only = (from: Partial<ListInfo>): Partial<ListInfo> => Object.fromEntries(keys.map((k) => [k, from[k]]));
  return [editList(listId, { op: 'describe', before: only(list.info), after: only(wish) })];
}

/** A copy of a list: all its entries with what they carry, under new ids. */
export function copyList(listId: string, info: ListInfo, entries: readonly Entry[], newId: NewId): EditList[] {
  let behind: string | null = null;
  const placements = entries.map((entry, index): Placement => {
    const entryId = newId();
    const placement = { ...carried(entry), entryId, before: null, after: { behind, index } };
    behind = entryId;
    return placement;
  });
  const made = editList(listId, { op: 'exist', before: null, after: info });
  return placements.length ? [made, editList(listId, { op: 'place', placements })] : [made];
}

/** From an entry on, a list is cut off and becomes another one. Empty when the entry is not there, or is the first. */
export function splitList(
  listId: string,
  list: ListState,
  entryId: string,
  other: { listId: string; info: ListInfo },
  newId: NewId,
): EditList[] {
  const at = list.entries.findIndex((e) => e.id === entryId);
  if (at <= 0) return [];
  const rest = list.entries.slice(at);
  return [
    ...copyList(other.listId, other.info, rest, newId),
    ...removeEntries(
      listId,
      list,
      rest.map((e) => e.id),
    ),
  ];
}

/** Lists one after the other as a new one; a crate holds each track once, and nothing but tracks. */
export function joinLists(
  listId: string,
  info: ListInfo,
  parts: readonly (readonly Entry[])[],
  newId: NewId,
): EditList[] {
  const seen = new Set<number>();
  const entries = parts.flat().filter(({ trackId, kind }) => {
    if (info.kind === 'playlist') return true;
    if (trackId === null || kind !== 'track' || seen.has(trackId)) return false;
    seen.add(trackId);
    return true;
  });
  return copyList(listId, info, entries, newId);
}
