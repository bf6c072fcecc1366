/** Lists of the desk beside those of a destination: whether they are there, their names, places and orders. */
import { cut } from '../fields/cut.ts';
import { safeFileName } from '../files/paths.ts';
import type { Choice } from './decide.ts';
import type { Choices, Line } from './compareTracks.ts';
import { keyed, mergeOrder, trackOf } from './mergeOrder.ts';
import type { Description, OtherList } from '../exchange/collection.ts';
import type { Policies } from './policies.ts';

/** A list as it is here. */
export interface HereList {
  id: string;
  name: string;
  /** Names of the crates it lies in, the topmost first. */
  place: string[];
  trackIds: number[];
  /** It fills itself, or follows a folder: its order is not for others to change. */
  fillsItself: boolean;
  /** It holds each track once. */
  once: boolean;
}

/** What both said of a list at the last sync, as it stood there; null for what they did not agree on. */
export interface ListPast {
  listId: string;
  otherId: string;
  name: string | null;
  place: string[] | null;
  /** Keys, see below. */
  order: string[] | null;
}

/** Tracks of lists by one kind of key: "t:12" for one of the library, "o:…" for one that only the destination has. */
export const hereKey = (trackId: number): string => `t:${trackId}`;
export const trackIdOf = (key: string): number | null => (key.startsWith('t:') ? Number(trackOf(key).slice(2)) : null);

export interface ComparedList {
  lines: Line[];
  /** What is to be done here; null: nothing. */
  here: { name?: string; place?: string[]; trackIds?: number[]; removed?: true } | null;
  there: { name?: string; place?: string[]; order?: string[]; removed?: true } | null;
  /** The list is made there or here. */
  made: 'here' | 'there' | null;
  past: ListPast | null;
}

const SEPARATOR = ' / ';
export const placeText = (place: readonly string[]): string => place.join(SEPARATOR);

/** Name and place of a list as a destination can hold them. */
export function storableList(
  { name, place }: { name: string; place: readonly string[] },
  { lists }: Description,
): { name: string; place: string[]; deeper: boolean } {
  const short = (text: string): string => cut(text, lists.maxName).trim();
  const folder = (text: string): string => (lists.folders ? safeFileName(short(text)) : short(text));
  const most = lists.depth === null ? place.length : Math.max(0, lists.depth - 1);
  return { name: short(name), place: place.slice(0, most).map(folder), deeper: place.length > most };
}

/** The order of a list as a destination can hold it. */
export function storableOrder(trackIds: readonly number[], { lists }: Description): string[] {
  const keys = trackIds.map(hereKey);
  return keyed(lists.repeats ? keys : [...new Set(keys)]);
}

const same = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((x, i) => x === b[i]);
const onlyHere = (order: readonly string[]): string[] => order.filter((key) => key.startsWith('t:'));
const tracksIn = (order: readonly string[]): string => {
  const n = order.length;
  return `${n.toLocaleString('en-GB')} ${n === 1 ? 'track' : 'tracks'}`;
};

/** @param order of the list there, as keys */
export function compareList(
  here: HereList | null,
  there: (OtherList & { order: string[] }) | null,
  past: ListPast | null,
  about: Description,
  policies: Policies,
  choices: Choices,
): ComparedList {
  const of: ComparedList = { lines: [], here: null, there: null, made: null, past };
  const about1 = `l:${here?.id ?? past?.listId ?? ''}:${there?.id ?? past?.otherId ?? ''}`;
  const line = (
    field: string,
    more: Pick<Line, 'here' | 'there' | 'base' | 'group' | 'will'> & Partial<Line>,
  ): Line => {
    const one: Line = {
      ...{ id: `${about1}:${field}`, what: 'list', trackId: null, listId: here?.id ?? null },
      ...{ otherId: there?.id ?? null, name: here?.name ?? there?.name ?? past?.name ?? '', field },
      ...{ joined: null, options: [], reason: null, ...more },
    };
    const chosen = choices[one.id];
    if (chosen !== undefined && one.options.includes(chosen)) one.will = chosen === 'leave' ? null : chosen;
    of.lines.push(one);
    return one;
  };
  const may = { out: policies.direction !== 'from there', in: policies.direction !== 'to there' };

  if (!here && !there) return { ...of, past: null };
  if (here && !there) {
    // Nothing ever goes there, and it does not know what was here.
    if (about.readOnly) return of;
    if (past) {
      const removed = line('list', {
        ...{ here: tracksIn(storableOrder(here.trackIds, about)), there: null, base: tracksIn(past.order ?? []) },
        ...(policies.removals && may.in && !here.fillsItself
          ? { group: 'in' as const, will: 'there' as const }
          : { group: 'left' as const, will: null, reason: 'removed there' }),
        options: ['here', 'there', 'leave'],
      });
      if (removed.will === 'there') return { ...of, here: { removed: true }, past: null };
      if (removed.will === null) return of;
    }
    const stored = storableList(here, about),
      order = storableOrder(here.trackIds, about);
    const made = past
      ? null
      : line('list', {
          ...{ here: tracksIn(order), there: null, base: null },
          ...(may.out ? { group: 'out' as const, will: 'here' as const } : { group: 'left' as const, will: null }),
          options: ['here', 'leave'],
          reason: may.out
            ? stored.place.length
              ? `made in ${placeText(stored.place)}`
              : 'made'
            : 'only taken from there',
        });
    if (made?.will === null) return of;
    return {
      ...of,
      made: 'there',
      there: { name: stored.name, place: stored.place, order },
      past: { listId: here.id, otherId: '', name: stored.name, place: stored.place, order },
    };
  }
  if (!here && there) {
    if (past) {
      const removed = line('list', {
        ...{ here: null, there: tracksIn(there.order), base: tracksIn(past.order ?? []) },
        ...(policies.removals && may.out
          ? { group: 'out' as const, will: 'here' as const }
          : { group: 'left' as const, will: null, reason: 'removed here' }),
        options: ['here', 'leave'],
      });
      return removed.will === 'here' ? { ...of, there: { removed: true }, past: null } : of;
    }
    const known = onlyHere(there.order),
      unknown = there.order.length - known.length;
    const made = line('list', {
      ...{ here: null, there: tracksIn(there.order), base: null },
      ...(may.in ? { group: 'in' as const, will: 'there' as const } : { group: 'left' as const, will: null }),
      options: ['there', 'leave'],
      reason: unknown > 0 ? `${unknown.toLocaleString('en-GB')} of them are not here` : null,
    });
    if (made.will === null) return of;
    const trackIds = known.map((key) => trackIdOf(key)!);
    return {
      ...of,
      made: 'here',
      here: { name: there.name, place: there.place, trackIds },
      past: { listId: '', otherId: there.id, name: there.name, place: there.place, order: there.order },
    };
  }
  return compareBoth(here!, there!, past, about, policies, of, line);
}

type AddLine = (field: string, more: Pick<Line, 'here' | 'there' | 'base' | 'group' | 'will'> & Partial<Line>) => Line;

function compareBoth(
  here: HereList,
  there: OtherList & { order: string[] },
  past: ListPast | null,
  about: Description,
  policies: Policies,
  of: ComparedList,
  line: AddLine,
): ComparedList {
  const stored = storableList(here, about);
  const now: ListPast = { name: null, place: null, order: null, ...past, listId: here.id, otherId: there.id };
  const changes = { here: {} as NonNullable<ComparedList['here']>, there: {} as NonNullable<ComparedList['there']> };
  const texts: ['name' | 'place', string, string, string | null][] = [
    ['name', stored.name, there.name, past?.name ?? null],
    ['place', placeText(stored.place), placeText(there.place), past?.place ? placeText(past.place) : null],
  ];
  for (const [field, mine, theirs, was] of texts) {
    const [group, will] = sideOfText(mine, theirs, was, policies);
    const done =
      mine === theirs ? null : line(field, { here: mine, there: theirs, base: was, group, will, options: SIDES });
    const side = done ? done.will : 'same';
    if (side === 'here') changes.there = { ...changes.there, [field]: stored[field] };
    if (side === 'there') changes.here = { ...changes.here, [field]: there[field] };
    if (side !== null) Object.assign(now, { [field]: side === 'here' ? stored[field] : there[field] });
  }
  orderOfBoth(here, there, past, about, policies, line, changes, now);
  return {
    ...of,
    here: Object.keys(changes.here).length ? changes.here : null,
    there: Object.keys(changes.there).length ? changes.there : null,
    past: now,
  };
}
const SIDES: Choice[] = ['here', 'there', 'leave'];

function sideOfText(
  mine: string,
  theirs: string,
  was: string | null,
  { direction, lists }: Policies,
): [Line['group'], Line['will']] {
  const to = (group: 'out' | 'in'): [Line['group'], Line['will']] =>
    direction === (group === 'out' ? 'from there' : 'to there')
      ? ['left', null]
      : [group, group === 'out' ? 'here' : 'there'];
  if (was !== null && theirs === was) return to('out');
  if (was !== null && mine === was) return to('in');
  if (lists === 'here' || lists === 'there') return to(lists === 'here' ? 'out' : 'in');
  return ['clash', null];
}

function orderOfBoth(
  here: HereList,
  there: { order: string[] },
  past: ListPast | null,
  about: Description,
  { direction, removals, lists }: Policies,
  line: AddLine,
  changes: { here: NonNullable<ComparedList['here']>; there: NonNullable<ComparedList['there']> },
  now: ListPast,
): void {
  const mine = storableOrder(here.trackIds, about),
    theirs = here.once ? there.order.filter((key) => key === trackOf(key)) : there.order,
    agreed = past?.order ?? null,
    was = agreed ?? [];
  if (same(mine, onlyHere(theirs))) {
    now.order = theirs;
    return;
  }
  const [inMine, inTheirs, inPast] = [new Set(mine), new Set(theirs), new Set(was)];
  const merged = mergeOrder(was, mine, theirs);
  /** Taken out by a side: it had it, and has it no longer. */
  const goneHere = (key: string): boolean => inPast.has(key) && !inMine.has(key) && key.startsWith('t:');
  const goneThere = (key: string): boolean => inPast.has(key) && !inTheirs.has(key);
  const forHere = onlyHere(merged.order.filter((k) => !goneHere(k) && !(removals && goneThere(k))));
  const forThere = merged.order.filter((k) => !goneThere(k) && !(removals && goneHere(k)));
  const both = new Set([...forHere, ...forThere]);
  const mergedAll = merged.order.filter((k) => both.has(k));
  const changedHere = !same(forThere, theirs),
    changedThere = !same(forHere, mine) && !here.fillsItself;
  if (!changedHere && !changedThere) {
    now.order = mergedAll;
    return;
  }
  const clash = changedHere && changedThere && (merged.clashes.length > 0 || (!agreed && !isOneOfTwo(mine, theirs)));
  const proposed = proposedOrder({ changedHere, changedThere, clash, direction, lists });
  const options: Choice[] = here.fillsItself ? ['here', 'leave'] : ['here', 'there', 'both', 'leave'];
  const done = line('order', {
    ...{ here: tracksIn(mine), there: tracksIn(theirs), base: agreed && tracksIn(was), joined: tracksIn(mergedAll) },
    ...proposed,
    options,
  });
  if (done.will === null) return;
  if (done.will === 'here') {
    // What only the destination has stays in its list, where it stood.
    const kept = mergeOrder(theirs, mine, theirs).order.filter((k) => inMine.has(k) || k.startsWith('o:'));
    if (!same(kept, theirs)) changes.there.order = kept;
    now.order = kept;
  } else if (done.will === 'there') {
    changes.here.trackIds = onlyHere(theirs).map((key) => trackIdOf(key)!);
    now.order = theirs;
  } else {
    if (changedHere) changes.there.order = forThere;
    if (changedThere) changes.here.trackIds = forHere.map((key) => trackIdOf(key)!);
    now.order = mergedAll;
  }
}

/** Does one hold all of the other, in its order? Then it has only been added to. */
const isOneOfTwo = (a: readonly string[], b: readonly string[]): boolean => {
  const [short, long] = a.length < b.length ? [a, onlyHere(b)] : [onlyHere(b), a];
  let at = 0;
  for (const key of long) if (key === short[at]) at++;
  return at === short.length;
};

function proposedOrder({
  changedHere,
  changedThere,
  clash,
  direction,
  lists,
}: {
  changedHere: boolean;
  changedThere: boolean;
  clash: boolean;
  direction: Policies['direction'];
  lists: Policies['lists'];
}): Pick<Line, 'group' | 'will'> {
  if (direction === 'to there') return changedHere ? { group: 'out', will: 'here' } : { group: 'left', will: null };
  if (direction === 'from there') return changedThere ? { group: 'in', will: 'there' } : { group: 'left', will: null };
  if (lists === 'here') return { group: 'out', will: 'here' };
  if (lists === 'there') return { group: 'in', will: 'there' };
  if (clash) return { group: 'clash', will: null };
  return { group: changedThere ? 'in' : 'out', will: 'both' };
}
