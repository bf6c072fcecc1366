/** A library beside the collection of a destination: everything that differs, and what both sides will be. */
import type { FieldValue } from '../fields/values.ts';
import type { PathMap } from '../relink/pathMap.ts';
import { compareList, hereKey, trackIdOf, type ComparedList, type HereList, type ListPast } from './compareLists.ts';
import {
  besideItself,
  compareTrack,
  Losses,
  type BesideItself,
  type Choices,
  type HeldOf,
  type HereTrack,
  type Line,
  type LossGroup,
  type TrackPast,
} from './compareTracks.ts';
import { placeThere, recognise, type Tie } from './match.ts';
import { keyed, trackOf } from './mergeOrder.ts';
import type { Collection, Format, OtherChanges, OtherList } from '../exchange/collection.ts';
import type { Policies } from './policies.ts';
import { storable } from './store.ts';

/** What both sides said when they were last compared. */
export interface Past {
  tracks: TrackPast[];
  lists: ListPast[];
}
export const NO_PAST: Past = { tracks: [], lists: [] };

export interface Here {
  tracks: HereTrack[];
  /** Lists that go there; others are no part of it. */
  lists: HereList[];
  /** Lists that are here and do not go there: they are neither given nor taken for removed. */
  others: ReadonlySet<string>;
}

export interface HereChanges {
  fields: { trackId: number; values: Record<string, FieldValue> }[];
  lists: { listId: string; change: NonNullable<ComparedList['here']> }[];
  newLists: { otherId: string; name: string; place: string[]; trackIds: number[] }[];
}

export interface Comparison {
  lines: Line[];
  losses: LossGroup[];
  /** Tracks that only the destination has. */
  notHere: { id: string; path: string; name: string }[];
  here: HereChanges;
  there: OtherChanges;
  /** What both sides say once all this is done. New lists here have no id yet: an empty text. */
  past: Past;
  counts: { here: number; there: number; tied: number };
}

export interface Asked {
  here: Here;
  there: Collection;
  past: Past;
  /** What is known besides: tracks that were taken from there. */
  ties?: readonly Tie[];
  format: Format;
  /** Whole path of the destination's data folder. */
  folder: string;
  maps: readonly PathMap[];
  policies: Policies;
  choices: Choices;
}

/** So many tracks are compared before others have their turn. */
const AT_ONCE = 2000;

/**
 * Compares everything, piece by piece: whoever asks can pause in between. Each piece names tracks of which has to be
 * known where their values come from, and is answered with what says so.
 */
export function* compare({
  here,
  there,
  past,
  ties = [],
  format,
  folder,
  maps,
  policies,
  choices,
}: Asked): Generator<number[], Comparison, HeldOf> {
  const about = format.describe;
  const out: Comparison = {
    lines: [],
    losses: [],
    notHere: [],
    here: { fields: [], lists: [], newLists: [] },
    there: { tracks: [], newTracks: [], lists: [], newLists: [], removedLists: [] },
    past: { tracks: [], lists: [] },
    counts: { here: here.tracks.length, there: there.tracks.length, tied: 0 },
  };
  const asThere =
    maps.length === 0 ? here.tracks : here.tracks.map((t) => ({ ...t, path: t.path && placeThere(t.path, maps) }));
  const tied = recognise(here.tracks, there.tracks, [...past.tracks, ...ties], maps);
  out.counts.tied = tied.size;
  yield [];
  const byId = new Map(asThere.map((t) => [t.id, t]));
  const pastOf = new Map(past.tracks.map((p) => [p.otherId, p]));
  const otherOf = new Map([...tied].map(([otherId, trackId]) => [trackId, otherId]));
  const losses = new Losses();
  for (let from = 0; from < there.tracks.length; from += AT_ONCE) {
    const besides: BesideItself[] = [];
    for (const other of there.tracks.slice(from, from + AT_ONCE)) {
      const trackId = tied.get(other.id);
      if (trackId === undefined) {
        out.notHere.push({ id: other.id, path: other.path, name: nameOf(other) });
        continue;
      }
      const was = pastOf.get(other.id);
      besides.push(besideItself(byId.get(trackId)!, other, was?.trackId === trackId ? was : undefined, about));
    }
    const held = yield besides.filter((b) => b.differs.length > 0).map((b) => b.here.id);
    for (const beside of besides) {
      const one = compareTrack(beside, held, about, policies, choices);
      const { id: trackId, name } = beside.here,
        { id } = beside.there;
      losses.add(name, one.losses);
      for (const line of one.lines) out.lines.push(line);
      if (Object.keys(one.here).length) out.here.fields.push({ trackId, values: one.here });
      if (one.path !== null || Object.keys(one.there).length)
        out.there.tracks.push({ id, ...(one.path === null ? {} : { path: one.path }), values: one.there });
      const otherId = one.path === null ? undefined : format.movedId?.(one.path, folder);
      out.past.tracks.push(otherId === undefined ? one.past : { ...one.past, otherId });
    }
  }
  yield [];
  /** Tracks without a file, and such as are to stay here, are in no list there. */
  const goes = new Set(
    here.tracks.flatMap(({ id, path }) =>
      otherOf.has(id) || (path !== null && choices[newLineId(id)] !== 'leave') ? [id] : [],
    ),
  );
  const lists = comparedLists({
    here: { ...here, lists: here.lists.map((l) => ({ ...l, trackIds: l.trackIds.filter((id) => goes.has(id)) })) },
    ...{ there, past, tied, choices, policies, format },
  });
  const wanted = policies.tracks === 'all' ? null : lists.given;
  const taken = new Set(there.tracks.map((t) => t.id));
  let n = 0;
  for (const track of asThere) {
    if (otherOf.has(track.id) || track.path === null || (wanted && !wanted.has(track.id))) continue;
    if (policies.direction === 'from there') continue;
    if (++n % AT_ONCE === 0) yield [];
    const id = newLineId(track.id);
    const will = choices[id] === 'leave' ? null : 'here';
    out.lines.push({
      ...{ id, what: 'track', trackId: track.id, listId: null, otherId: null, name: track.name, field: 'track' },
      ...{ here: track.path, there: null, base: null, group: 'out', will, joined: null },
      ...{ options: ['here', 'leave'], reason: 'new there' },
    });
    if (will === null) continue;
    const stored = storable(track.values, about);
    losses.add(track.name, stored.losses);
    const otherId = format.newTrackId(track.path, taken, folder);
    taken.add(otherId);
    otherOf.set(track.id, otherId);
    const { durationSeconds = null, format: fileFormat = null } = track.values;
    out.there.newTracks.push({
      ...{ id: otherId, path: track.path, times: {} },
      values: { ...stored.values, durationSeconds, format: fileFormat },
    });
    out.past.tracks.push({ trackId: track.id, otherId, values: stored.values });
  }
  yield [];
  layDown(lists, out, otherOf, format, there);
  out.losses = losses.all();
  return out;
}

const newLineId = (trackId: number): string => `t:${trackId}:track`;
const nameOf = ({ values, path }: { values: Record<string, FieldValue>; path: string }): string =>
  typeof values.title === 'string' ? values.title : path.split('/').at(-1)!;

interface ComparedLists {
  compared: { here: HereList | null; there: OtherList | null; result: ComparedList }[];
  /** Tracks that stand in lists that go there. */
  given: ReadonlySet<number>;
}

const listKey = (name: string, place: readonly string[]): string =>
  [...place, name].map((text) => text.normalize('NFC').toLowerCase()).join('\n');

function comparedLists({
  here,
  there,
  past,
  tied,
  choices,
  policies,
  format,
}: Pick<Asked, 'here' | 'there' | 'past' | 'choices' | 'policies' | 'format'> & {
  tied: ReadonlyMap<string, number>;
}): ComparedLists {
  const keyOf = (otherId: string): string => {
    const trackId = tied.get(otherId);
    return trackId === undefined ? `o:${otherId}` : hereKey(trackId);
  };
  const others = new Map(there.lists.map((l) => [l.id, { ...l, order: keyed(l.trackIds.map(keyOf)) }]));
  const open = new Map(here.lists.map((l) => [l.id, l]));
  const compared: ComparedLists['compared'] = [];
  const add = (mine: HereList | null, theirs: (OtherList & { order: string[] }) | null, was: ListPast | null): void => {
    compared.push({
      here: mine,
      there: theirs,
      result: compareList(mine, theirs, was, format.describe, policies, choices),
    });
  };
  const pairs: [HereList | null, (OtherList & { order: string[] }) | null, ListPast | null][] = [];
  for (const was of past.lists) {
    const [mine, theirs] = [open.get(was.listId) ?? null, others.get(was.otherId) ?? null];
    // What is here and does not go there any more is left alone.
    if (!mine && here.others.has(was.listId)) {
      others.delete(was.otherId);
      continue;
    }
    open.delete(was.listId);
    others.delete(was.otherId);
    pairs.push([mine, theirs, was]);
  }
  const byKey = new Map([...others.values()].map((l) => [listKey(l.name, l.place), l]));
  for (const mine of open.values()) {
    const theirs = byKey.get(listKey(mine.name, mine.place)) ?? null;
    if (theirs) others.delete(theirs.id);
    if (theirs) byKey.delete(listKey(theirs.name, theirs.place));
    pairs.push([mine, theirs, null]);
  }
  for (const theirs of others.values()) pairs.push([null, theirs, null]);
  for (const [mine, theirs, was] of pairs) add(mine, theirs, was);
  const given = compared.flatMap(({ here: list, there: other, result }) =>
    list && (result.made === 'there' || other) ? list.trackIds : [],
  );
  return { compared, given: new Set(given) };
}

/** Puts what becomes of lists into the comparison, with ids of the destination. */
function layDown(
  { compared }: ComparedLists,
  out: Comparison,
  otherOf: ReadonlyMap<number, string>,
  format: Format,
  there: Collection,
): void {
  const taken = new Set(there.lists.map((l) => l.id));
  const idsOf = (order: readonly string[]): string[] =>
    order.flatMap((key) => {
      const trackId = trackIdOf(key);
      return trackId === null ? [trackOf(key).slice(2)] : (otherOf.get(trackId) ?? []);
    });
  for (const { here, there: other, result } of compared) {
    for (const line of result.lines) out.lines.push(line);
    if (result.past) {
      const past = { ...result.past };
      if (result.made === 'there') {
        past.otherId = format.newListId(taken);
        taken.add(past.otherId);
        const { name, place, order } = result.there!;
        out.there.newLists.push({ id: past.otherId, name: name!, place: place!, trackIds: idsOf(order!) });
      }
      out.past.lists.push(past);
    }
    if (result.made === 'here') {
      const { name, place, trackIds } = result.here!;
      out.here.newLists.push({ otherId: other!.id, name: name!, place: place!, trackIds: trackIds! });
    } else if (result.here) out.here.lists.push({ listId: here!.id, change: result.here });
    if (result.made === 'there' || !result.there) continue;
    const { removed, order, ...texts } = result.there;
    if (removed) out.there.removedLists.push(other!.id);
    else out.there.lists.push({ id: other!.id, ...texts, ...(order ? { trackIds: idsOf(order) } : {}) });
  }
}
