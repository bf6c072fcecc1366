/** A library beside the collection of a destination: everything that differs, and what both sides will be. */
import type { FieldValue } from '../fields/values.ts';
import type { PathMap } from '../relink/pathMap.ts';
import { compareList, hereKey, trackIdOf, type ComparedList, type HereList, type ListPast } from './compareLists.ts';
import {
  besideItself,
  compareTrack,
  Losses,
  samePath,
  type Choices,
  type HereTrack,
  type Line,
  type LossGroup,
  type TrackPast,
} from './compareTracks.ts';
import { placeThere, type Tie } from './match.ts';
import { tieAll } from './tie.ts';
import type { Ask, Told } from './ask.ts';
import { KeptPast, NewThere } from './kept.ts';
import { keyed, trackOf } from './mergeOrder.ts';
import type { Collection, Format, OtherChanges, OtherList, OtherTrack } from '../exchange/collection.ts';
import type { Policies } from './policies.ts';
import { storable, type Loss } from './store.ts';

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
  newLists: { otherId: string; name: string; place: string[]; trackIds: number[]; kind?: 'crate' | 'playlist' }[];
}

export interface Comparison {
  lines: Line[];
  losses: LossGroup[];
  /** Tracks that only the destination has. */
  notHere: { id: string; path: string; name: string }[];
  here: HereChanges;
  there: OtherChanges;
  /** Tracks of which nothing differs, by id there. */
  same: Map<string, Same>;
  /** Tracks that are the same once what is to be written there is written, by id there. */
  settled: Map<string, Omit<Same, 'there'>>;
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
  /** What the last comparison with the same past has found to be the same. */
  same?: ReadonlyMap<string, Same>;
  format: Format;
  /** Whole path of the destination's data folder. */
  folder: string;
  maps: readonly PathMap[];
  policies: Policies;
  choices: Choices;
  /** Asked for its lines alone, it does not work out what both sides are to be. */
  linesOnly?: boolean;
}

/** Tracks that were found to be the same on both sides, as they were written then. */
export interface Same {
  trackId: number;
  here: string;
  there: string;
  losses: Loss[];
}

const NOTHING: Ask = { what: 'nothing' };

/** So many tracks are compared before others have their turn. */
const AT_ONCE = 2000;

/**
 * Compares everything, piece by piece: whoever asks can pause in between. Each piece says what has to be known of the
 * library, and is answered with that.
 */
export function* compare(asked: Asked): Generator<Ask, Comparison, Told> {
  const { here, there, past, ties = [], same, format, folder, maps, policies, choices, linesOnly = false } = asked;
  const about = format.describe;
  const out: Comparison = {
    lines: [],
    losses: [],
    notHere: [],
    here: { fields: [], lists: [], newLists: [] },
    there: { tracks: [], newTracks: [], lists: [], newLists: [], removedLists: [] },
    past: { tracks: [], lists: [] },
    same: new Map(),
    settled: new Map(),
    counts: { here: here.tracks.length, there: there.tracks.length, tied: 0 },
  };
  const asThere =
    maps.length === 0 ? here.tracks : here.tracks.map((t) => ({ ...t, path: t.path && placeThere(t.path, maps) }));
  const tied = yield* tieAll(here.tracks, there.tracks, [...past.tracks, ...ties], maps);
  out.counts.tied = tied.size;
  yield NOTHING;
  const byId = new Map(asThere.map((t) => [t.id, t]));
  const pastOf = new Map(past.tracks.map((p) => [p.otherId, p]));
  const otherOf = new Map([...tied].map(([otherId, trackId]) => [trackId, otherId]));
  const losses = new Losses();
  /** The next tracks that have to be looked at, with what the others come to; empty when there are none. */
  let from = 0;
  const nextPairs = (): Pair[] => {
    const pairs: Pair[] = [];
    for (; from < there.tracks.length && pairs.length < AT_ONCE; from++) {
      const other = there.tracks[from]!;
      const trackId = tied.get(other.id);
      if (trackId === undefined) {
        out.notHere.push({ id: other.id, path: other.path, name: nameOf(other) });
        continue;
      }
      const mine = byId.get(trackId)!,
        found = pastOf.get(other.id);
      const was = found?.trackId === trackId ? found : undefined;
      const known = same?.get(other.id);
      if (was && known && isSame(known, mine, other)) {
        losses.add(mine.name, known.losses);
        if (!linesOnly) out.past.tracks.push(was);
        out.same.set(other.id, known);
      } else pairs.push({ mine, other, was });
    }
    return pairs;
  };
  const idsOf = (pairs: readonly Pair[]): number[] => pairs.map((p) => p.mine.id);
  for (let pairs = nextPairs(), next: Pair[]; pairs.length > 0; pairs = next) {
    next = nextPairs();
    const { values } = yield { what: 'values', ids: idsOf(pairs), next: idsOf(next) };
    // What is read anew each time it is asked for is read once here, and gone behind this piece.
    const besides = pairs.map(({ mine, other, was }) =>
      besideItself(mine, values(mine.id), new ReadTrack(other), was && readPast(was), about),
    );
    const { held } = yield { what: 'held', ids: besides.filter((b) => b.differs.length > 0).map((b) => b.here.id) };
    for (const [at, beside] of besides.entries()) {
      const one = compareTrack(beside, held, about, policies, choices, linesOnly);
      const { id: trackId, name, print } = beside.here,
        { id, print: written } = beside.there;
      losses.add(name, one.losses);
      for (const line of one.lines) out.lines.push(line);
      if (one.lines.length === 0 && print !== undefined && written !== undefined)
        out.same.set(id, { trackId, here: print, there: written, losses: losses.shared(one.losses) });
      if (linesOnly) continue;
      const otherId = one.path === null ? undefined : format.movedId?.(one.path, folder);
      if (print !== undefined && one.lines.length > 0 && one.lines.every((l) => l.will === 'here'))
        out.settled.set(otherId ?? id, { trackId, here: print, losses: losses.shared(one.losses) });
      if (Object.keys(one.here).length) out.here.fields.push({ trackId, values: one.here });
      if (one.path !== null || Object.keys(one.there).length)
        out.there.tracks.push({ id, ...(one.path === null ? {} : { path: one.path }), values: one.there });
      if (one.past === beside.past && otherId === undefined) out.past.tracks.push(pairs[at]!.was!);
      else out.past.tracks.push(new KeptPast(trackId, otherId ?? id, JSON.stringify(one.past.values)));
    }
  }
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
  const fresh =
    policies.direction === 'from there'
      ? []
      : asThere.filter((t) => !otherOf.has(t.id) && t.path !== null && (!wanted || wanted.has(t.id)));
  yield* giveNew(fresh, asked, out, otherOf, losses);
  layDown(lists, out, otherOf, format, there);
  out.losses = losses.all();
  return out;
}

const readPast = ({ trackId, otherId, values }: TrackPast): TrackPast => ({ trackId, otherId, values });

interface Pair {
  mine: HereTrack;
  other: OtherTrack;
  was: TrackPast | undefined;
}

/** A track there whose values are read. */
class ReadTrack implements OtherTrack {
  readonly id: string;
  readonly path: string;
  readonly values: OtherTrack['values'];
  readonly print?: string;
  readonly #other: OtherTrack;

  constructor(other: OtherTrack) {
    this.id = other.id;
    this.path = other.path;
    this.values = other.values;
    if (other.print !== undefined) this.print = other.print;
    this.#other = other;
  }

  get times(): OtherTrack['times'] {
    return this.#other.times;
  }
}

const isSame = ({ trackId, here, there }: Same, mine: HereTrack, other: OtherTrack): boolean =>
  trackId === mine.id &&
  here === mine.print &&
  there === other.print &&
  (mine.path === null || samePath(mine.path, other.path));

/** Tracks that the destination does not have yet. */
function* giveNew(
  fresh: readonly HereTrack[],
  { there, format, folder, choices, linesOnly }: Asked,
  out: Comparison,
  otherOf: Map<number, string>,
  losses: Losses,
): Generator<Ask, void, Told> {
  const taken = new Set(there.tracks.map((t) => t.id));
  for (let from = 0; from < fresh.length; from += AT_ONCE) {
    const [some, next] = [from, from + AT_ONCE].map((at) => fresh.slice(at, at + AT_ONCE)) as [
      HereTrack[],
      HereTrack[],
    ];
    const { values } = yield { what: 'values', ids: some.map((t) => t.id), next: next.map((t) => t.id) };
    for (const track of some) {
      const path = track.path!,
        id = newLineId(track.id);
      const will = choices[id] === 'leave' ? null : 'here';
      out.lines.push({
        id,
        what: 'track',
        trackId: track.id,
        listId: null,
        otherId: null,
        name: track.name,
        field: 'track',
        here: path,
        there: null,
        base: null,
        group: 'out',
        will,
        joined: null,
        options: NEW_OPTIONS,
        reason: 'new there',
      });
      if (will === null) continue;
      const own = values(track.id);
      const stored = storable(own, format.describe);
      losses.add(track.name, stored.losses);
      const otherId = format.newTrackId(path, taken, folder);
      taken.add(otherId);
      otherOf.set(track.id, otherId);
      if (linesOnly) continue;
      const was = new KeptPast(track.id, otherId, JSON.stringify(stored.values));
      out.past.tracks.push(was);
      const { print } = track;
      if (print !== undefined)
        out.settled.set(otherId, { trackId: track.id, here: print, losses: losses.shared(stored.losses) });
      out.there.newTracks.push(new NewThere(was, path, own));
    }
  }
}

const NEW_OPTIONS: Line['options'] = ['here', 'leave'];
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
      const { name, place, trackIds } = result.here!,
        { id, kind } = other!;
      const made = { otherId: id, name: name!, place: place!, trackIds: trackIds! };
      out.here.newLists.push(kind ? { ...made, kind } : made);
    } else if (result.here) out.here.lists.push({ listId: here!.id, change: result.here });
    if (result.made === 'there' || !result.there) continue;
    const { removed, order, ...texts } = result.there;
    if (removed) out.there.removedLists.push(other!.id);
    else out.there.lists.push({ id: other!.id, ...texts, ...(order ? { trackIds: idsOf(order) } : {}) });
  }
}
