/** Crates and playlists: reading them, and the drafts that change them. */
import type { Applied, FilledList, ListContents, ListLine, SheetRow } from '@early-set/core/api/types';
import { randomUUID } from 'node:crypto';
import {
  addEntry,
  addTracks,
  copyList,
  createList,
  describeEntry,
  describeList,
  moveEntries,
  removeEntries,
  reorderEntries,
} from '@early-set/core/changes/lists';
import { nameAfter } from '@early-set/core/changes/listName';
import { shapeLabel } from '@early-set/core/arrange/shape';
import type { Rule } from '@early-set/core/conditions/rule';
import { placedBy } from '@early-set/core/changes/kinds/editList';
import type { Entry, EntryData, EntryKind, ListInfo, ListKind, ListState } from '@early-set/core/changes/snapshot';
import { cleanText } from '@early-set/core/fields/text';
import { applyDraft, type Applying, type Draft } from '../changes/apply.ts';
import { loadLists } from '../changes/snapshot.ts';
import type { Database } from '../db/database.ts';
import { sheetRows } from '../library/sheet.ts';
import { notFound, Problem } from '../base/problem.ts';
import { cut } from '@early-set/core/fields/cut';
import { clockLength } from '@early-set/core/clock/clock';
import { leavingOut } from './leftOut.ts';
import { checkedRule, memberEntries } from './selfFilling.ts';

/** All lists, removed ones too, in the order of the tree. */
export const allLists = (database: Database): Promise<ListLine[]> =>
  database.rows<ListLine>(
    `SELECT l.id, l.kind, l.name, l.parent_id AS "parentId", l.position, l.removed, l.starts_at AS "startsAt", l.shape,
      l.rule, l.colour, l.note, l.wished_seconds AS "wishedSeconds", l.reserve_id AS "reserveId", l.mirror,
      l.mirror_of AS "mirrorOf", l.clock, l.on_air_at AS "onAirAt", l.updated_at AS "updatedAt",
       CASE WHEN l.rule IS NULL THEN count(e.id) ELSE COALESCE(f.tracks, 0) END AS tracks,
       CASE WHEN l.rule IS NULL THEN COALESCE(sum(t.duration_seconds), 0) ELSE COALESCE(f.seconds, 0) END
         AS "durationSeconds"
     FROM lists l LEFT JOIN list_entries e ON e.list_id = l.id LEFT JOIN tracks t ON t.id = e.track_id
       LEFT JOIN rule_fillings f ON f.list_id = l.id GROUP BY l.id, f.list_id
       ORDER BY l.kind, l.position, l.name`,
  );

/** How much of a list is wanted. */
export interface Wanted {
  /** Of a list that fills itself at most so many tracks. */
  limit?: number;
  /** Ids of fields; all where none are named. */
  fields?: readonly string[];
}

/** A list with its tracks in order. @throws Problem when there is none. */
export async function listContents(database: Database, id: string, wanted: Wanted = {}): Promise<ListContents> {
  const state = await stateOf(database, id);
  if (state.info.rule !== null)
    return { id, info: state.info, ...(await memberEntries(database, id, state.info, wanted)) };
  const ids = [...new Set(state.entries.flatMap((e) => e.trackId ?? []))];
  const rows = await sheetRows(database, ids, wanted.fields);
  const byTrack = new Map(rows.map((row) => [row.id, row]));
  return {
    id,
    info: state.info,
    entries: state.entries.map(({ id: entryId, kind, trackId, data }) => ({
      ...((trackId !== null && byTrack.get(trackId)) || NO_TRACK),
      entryId,
      kind,
      data,
    })),
    total: state.entries.length,
  };
}

/** The row of an entry that is no track. */
const NO_TRACK: SheetRow = { id: 0, rootId: 0, artHash: null, analysisReason: null, fit: null, values: {} };

/** Applies a draft over lists. */
const apply = async (context: Applying, draft: Draft): Promise<Applied> => (await applyDraft(context, draft)).applied;

export async function stateOf(database: Database, id: string): Promise<ListState> {
  const state = (await loadLists(database, [id])).get(id);
  if (!state) throw notFound('The list');
  return state;
}

export const several = (n: number, one: string, many = `${one}s`): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
export const quoted = (name: string): string => `"${name.length > 60 ? `${cut(name, 57)}…` : name}"`;

export interface NewList {
  kind: ListKind;
  name: string;
  parentId?: string | null;
  trackIds?: number[];
  /** By which a crate fills itself. */
  rule?: Rule | null;
}

/** What ties a crate to the folders it mirrors. */
const UNTIED = { mirror: null, mirrorOf: null };
const UNSET = { wishedSeconds: null, reserveId: null, clock: null, onAirAt: null, ...UNTIED };

/** What a new list says of itself, at the end of its siblings. */
export function infoOf(lists: readonly ListLine[], kind: ListKind, name: string, parentId: string | null): ListInfo {
  const siblings = lists.filter((l) => l.kind === kind && l.parentId === parentId);
  return {
    kind,
    name,
    parentId,
    position: Math.max(0, ...siblings.map((s) => s.position)) + 1,
    removed: false,
    startsAt: kind === 'playlist' ? '20:00' : null,
    shape: null,
    rule: null,
    colour: null,
    note: null,
    ...UNSET,
  };
}

/** So many of its tracks say what a new list is called. */
const NAMING_TRACKS = 500;

/** A name for a list that was given none: after what its tracks have in common; never one that is there. */
async function nameOfTracks(database: Database, { kind, trackIds = [] }: NewList, lists: ListLine[]): Promise<string> {
  if (trackIds.length === 0) return '';
  const rows = await sheetRows(database, trackIds.slice(0, NAMING_TRACKS));
  const name = nameAfter(rows.map((r) => r.values)) ?? `New ${kind}`;
  const taken = new Set(lists.map((l) => l.name));
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(candidate)) return candidate;
  }
}

/** Makes a list, at the end of its siblings. */
export async function makeList(context: Applying, wish: NewList): Promise<Applied & { listId: string }> {
  const { database } = context;
  const lists = await allLists(database);
  const name = cleanText(wish.name) || (await nameOfTracks(database, wish, lists));
  if (!name) throw new Problem(400, 'no-name', 'A list needs a name');
  const parent = wish.parentId ?? null;
  if (parent !== null) requireCrate(lists, parent);
  const listId = randomUUID();
  const info = infoOf(lists, wish.kind, name, parent);
  if (wish.rule) info.rule = await checkedRule(database, listId, wish.rule);
  const applied = await apply(context, {
    title: `New ${wish.rule ? 'self-filling crate' : wish.kind} ${quoted(name)}`,
    items: createList(listId, info, wish.trackIds ?? [], randomUUID),
  });
  return { ...applied, listId };
}

/** Makes a playlist of tracks and open slots. @throws Problem when a track is not there */
export async function makeFilledList(context: Applying, wish: FilledList): Promise<Applied & { listId: string }> {
  const { database } = context;
  const name = cleanText(wish.name);
  if (!name) throw new Problem(400, 'no-name', 'A list needs a name');
  const ids = wish.entries.flatMap((e) => ('trackId' in e ? [e.trackId] : []));
  const there = new Set((await sheetRows(database, ids)).map((r) => r.id));
  if (ids.some((id) => !there.has(id))) throw notFound('One of the tracks');
  const listId = randomUUID();
  const info = infoOf(await allLists(database), 'playlist', name, null);
  const entries = wish.entries.map((e): Entry =>
    'trackId' in e
      ? { id: '', kind: 'track', trackId: e.trackId, data: {} }
      : {
          id: '',
          kind: 'open slot',
          trackId: null,
          data: { text: e.text, ...(e.seconds === null ? {} : { seconds: e.seconds }) },
        },
  );
  const items = copyList(listId, info, entries, randomUUID);
  return { ...(await apply(context, { title: `New playlist ${quoted(name)}`, items })), listId };
}

export function requireCrate(lists: ListLine[], parentId: string): void {
  const parent = lists.find((l) => l.id === parentId);
  if (!parent || parent.kind !== 'crate' || parent.rule !== null)
    throw new Problem(400, 'bad-parent', 'Only crates that are filled by hand can hold other lists');
}

async function requireReserve(database: Database, id: string): Promise<void> {
  if ((await stateOf(database, id)).info.kind !== 'crate')
    throw new Problem(400, 'bad-reserve', 'Only a crate can be the reserve of a playlist');
}

/** Renames, moves in the tree, puts away or brings back. */
export async function changeList(
  context: Applying,
  id: string,
  wish: Partial<
    Pick<
      ListInfo,
      | 'name'
      | 'parentId'
      | 'position'
      | 'removed'
      | 'startsAt'
      | 'shape'
      | 'colour'
      | 'note'
      | 'wishedSeconds'
      | 'reserveId'
    >
  > & { rule?: Rule },
): Promise<Applied> {
  const { database } = context;
  const state = await stateOf(database, id);
  const { rule, ...plain } = wish;
  const clean: Partial<ListInfo> = { ...plain };
  if (rule) {
    if (state.info.rule === null) throw new Problem(409, 'not-self-filling', 'This list is filled by hand');
    if (state.info.mirrorOf) throw new Problem(409, 'mirror', 'This crate follows a folder; change the mirror instead');
    clean.rule = await checkedRule(database, id, rule);
  }
  if (clean.name !== undefined) {
    clean.name = cleanText(clean.name);
    if (!clean.name) throw new Problem(400, 'no-name', 'A list needs a name');
  }
  if (typeof clean.note === 'string') clean.note = clean.note.trim() || null;
  if (clean.parentId) {
    const lists = await allLists(database);
    requireCrate(lists, clean.parentId);
    for (let at: string | null = clean.parentId; at !== null; at = lists.find((l) => l.id === at)?.parentId ?? null) {
      if (at === id) throw new Problem(400, 'bad-parent', 'A crate cannot lie inside itself');
    }
  }
  if (clean.reserveId) await requireReserve(database, clean.reserveId);
  const items = describeList(id, state, clean);
  // A crate of a mirror that is removed by hand is not to come back with the next scan.
  if (clean.removed === true) items.push(...(await leavingOut(database, state.info)));
  return apply(context, { title: titleOf(state.info, clean), items });
}

/** A change of a list in words. */
function titleOf(info: ListInfo, to: Partial<ListInfo>): string {
  const name = quoted(info.name);
  if (to.removed !== undefined) return `${to.removed ? 'Remove' : 'Restore'} ${info.kind} ${name}`;
  if (to.name !== undefined) return `Rename ${name} to ${quoted(to.name)}`;
  if (to.startsAt !== undefined) return `Start ${name} at ${to.startsAt ?? 'no set time'}`;
  if (to.shape !== undefined) return `Wished shape of ${name}: ${shapeLabel(to.shape)}`;
  if (to.colour !== undefined) return `Colour of ${name}`;
  if (to.note !== undefined) return `Note on ${name}`;
  if (to.wishedSeconds !== undefined)
    return `Wished length of ${name}: ${to.wishedSeconds === null ? 'none' : clockLength(to.wishedSeconds)}`;
  if (to.reserveId !== undefined) return to.reserveId ? `Another reserve for ${name}` : `No reserve for ${name}`;
  return to.rule ? `Other conditions for ${name}` : `Move ${info.kind} ${name}`;
}

/** A playlist may hold a track twice; that it does then is said where the change is. */
function twiceIn({ info, entries }: ListState, trackIds: readonly number[]): string {
  if (info.kind === 'crate') return '';
  const there = new Set(entries.map((e) => e.trackId));
  const twice = trackIds.filter((id) => there.has(id)).length;
  return twice ? `, ${twice === 1 ? 'one was' : `${twice.toLocaleString('en-GB')} were`} in it already` : '';
}

export interface AddWish {
  trackIds: number[];
  /** At the end, where it is not said. */
  index?: number;
  /** What a playlist holds already is not put in again: who asked may not have seen it there yet. */
  once?: boolean;
}

/** Puts tracks into a list. */
export async function addToList(
  context: Applying,
  id: string,
  { trackIds: asked, index, once = false }: AddWish,
): Promise<Applied & { skipped: number }> {
  const { database } = context;
  const state = await stateOf(database, id);
  if (state.info.kind === 'clock') throw new Problem(409, 'no-tracks', 'A format clock holds no tracks');
  const there = new Set(once ? state.entries.map((e) => e.trackId) : []);
  const trackIds = asked.filter((track) => !there.has(track));
  const items = addTracks(id, state, trackIds, randomUUID, index);
  const added = items.reduce((n, i) => n + placedBy(i), 0);
  if (added === 0 && asked.length > 0)
    throw new Problem(
      409,
      'nothing-to-do',
      `${asked.length === 1 ? 'The track is' : 'These tracks are'} in this ${state.info.kind} already`,
    );
  const applied = await apply(context, {
    title: `Add ${several(added, 'track')} to ${quoted(state.info.name)}${twiceIn(state, trackIds)}`,
    items,
  });
  return { ...applied, skipped: asked.length - added };
}

/** Takes entries out of a list. */
export async function removeFromList(context: Applying, id: string, entryIds: string[]): Promise<Applied> {
  const { database } = context;
  const state = await stateOf(database, id);
  return apply(context, {
    title: `Take ${several(entryIds.length, 'track')} out of ${quoted(state.info.name)}`,
    items: removeEntries(id, state, entryIds),
  });
}

/** Moves entries behind another one (null: to the top). */
export async function moveInList(
  context: Applying,
  id: string,
  entryIds: string[],
  behind: string | null,
): Promise<Applied> {
  const { database } = context;
  const state = await stateOf(database, id);
  return apply(context, {
    title: `Move ${several(entryIds.length, 'track')} in ${quoted(state.info.name)}`,
    items: moveEntries(id, state, entryIds, behind),
  });
}

/** Puts entries in an order as a whole; those it does not name come last. */
export async function orderList(
  context: Applying,
  id: string,
  entryIds: string[],
  by: 'smoothing' | 'sorting',
): Promise<Applied> {
  const state = await stateOf(context.database, id);
  const items = reorderEntries(id, state, entryIds);
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'The list is in this order already');
  return apply(context, {
    title: `${by === 'smoothing' ? 'Smooth' : 'Sort'} the order of ${quoted(state.info.name)}`,
    items,
  });
}

/** Pins entries to their places, or lets them go. */
export async function pinInList(context: Applying, id: string, entryIds: string[], pinned: boolean): Promise<Applied> {
  const state = await stateOf(context.database, id);
  return apply(context, {
    title: `${pinned ? 'Pin' : 'Unpin'} ${several(entryIds.length, 'entry', 'entries')} in ${quoted(state.info.name)}`,
    items: entryIds.flatMap((entryId) => describeEntry(id, state, entryId, { pinned: pinned || null })),
  });
}

/** A copy of a list under a new name, beside it. */
export async function duplicateList(context: Applying, id: string): Promise<Applied & { listId: string }> {
  const { database } = context;
  const state = await stateOf(database, id);
  const taken = new Set((await allLists(database)).map((l) => l.name));
  let name = `${state.info.name} copy`;
  for (let n = 2; taken.has(name); n++) name = `${state.info.name} copy ${n}`;
  const listId = randomUUID();
  const info: ListInfo = { ...state.info, name, position: state.info.position + 0.001, removed: false, ...UNTIED };
  const applied = await apply(context, {
    title: `Duplicate ${quoted(state.info.name)}`,
    items: copyList(listId, info, state.entries, randomUUID),
  });
  return { ...applied, listId };
}

/** What an entry may be besides a track. */
export interface NewEntry {
  kind: Exclude<EntryKind, 'track'>;
  trackId?: number | null;
  data: EntryData;
  index?: number;
}

/** Puts a pause, an open slot, a link, a note or a jingle into a list. */
export async function addEntryToList(context: Applying, id: string, wish: NewEntry): Promise<Applied> {
  const state = await stateOf(context.database, id);
  if (state.info.kind === 'crate') throw new Problem(400, 'bad-entry', 'Only playlists hold anything but tracks');
  if (wish.kind === 'jingle' && !wish.trackId) throw new Problem(400, 'bad-entry', 'A jingle needs a file');
  return apply(context, {
    title: `Add ${wish.kind === 'open slot' ? 'an' : 'a'} ${wish.kind} to ${quoted(state.info.name)}`,
    items: addEntry(id, state, { ...wish, trackId: wish.trackId ?? null }, randomUUID, wish.index),
  });
}

/** Changes what an entry carries; null takes something away. */
export async function changeEntry(
  context: Applying,
  id: string,
  entryId: string,
  wish: Parameters<typeof describeEntry>[3],
): Promise<Applied> {
  const state = await stateOf(context.database, id);
  if (!state.entries.some((e) => e.id === entryId)) throw notFound('The entry');
  return apply(context, {
    title: `Change an entry of ${quoted(state.info.name)}`,
    items: describeEntry(id, state, entryId, wish),
  });
}
