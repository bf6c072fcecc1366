/** Hours as they are kept, made ready to be timed and judged; and what is on air around them. */
import { HOUR_FIELDS } from '@early-set/core/hours/fields';
import type { Entry, ListInfo, ListState } from '@early-set/core/changes/snapshot';
import type { SheetRow } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { aliasNames, airable, conditionKey, type Airable, type Aired } from '@early-set/core/hours/airing';
import type { FormatClock } from '@early-set/core/hours/clock';
import { timed } from '@early-set/core/hours/edit';
import type { HourItem } from '@early-set/core/hours/judge';
import { itemsOf, keptClock, type KeptClock } from '@early-set/core/hours/kept';
import type { HourRule } from '@early-set/core/hours/rules';
import { Problem } from '../base/problem.ts';
import { loadLists } from '../changes/snapshot.ts';
import type { Database } from '../db/database.ts';
import { compileCondition } from '../library/conditionSql.ts';
import { sheetRows } from '../library/sheet.ts';
import { stateOf } from '../lists/lists.ts';
import type { TrackLine } from './hourThread.ts';

/** An hour as it stands. */
export interface HourState {
  id: string;
  info: ListInfo;
  clock: KeptClock;
  /** Its beginning, in seconds since 1970. */
  hourAt: number;
  /** Its entries in order, and the item of each; none of a note. */
  entries: readonly Entry[];
  items: { entry: Entry; item: HourItem }[];
  rows: ReadonlyMap<number, SheetRow>;
}

const isHour = ({ info }: ListState): boolean => info.kind === 'hour' && info.clock !== null && info.onAirAt !== null;

/** @throws Problem when there is no such hour */
export async function hourState(database: Database, id: string): Promise<HourState> {
  const state = await stateOf(database, id);
  if (!isHour(state)) throw new Problem(409, 'no-hour', 'This list is not an hour');
  const [hour] = await ready(database, [[id, state]]);
  return hour!;
}

/** Hours with their tracks, and timed. */
async function ready(database: Database, hours: readonly (readonly [string, ListState])[]): Promise<HourState[]> {
  const ids = new Set(hours.flatMap(([, s]) => s.entries.flatMap((e) => e.trackId ?? [])));
  const rows = new Map((await sheetRows(database, [...ids], HOUR_FIELDS)).map((r) => [r.id, r]));
  const shares = await sharesOf(
    database,
    hours.map(([, { info }]) => keptClock(info.clock!)),
    [...ids],
  );
  return hours.map(([id, { info, entries }]) => {
    const clock = keptClock(info.clock!),
      hourAt = info.onAirAt!,
      alias = aliasNames(clock.aliases);
    const known = new Map<number, Airable | null>();
    const trackOf = ({ trackId }: Entry): Airable | null => {
      const row = trackId === null ? undefined : rows.get(trackId);
      if (!row) return null;
      const there = known.get(row.id);
      const made = there === undefined ? airable(row.id, row.values, alias, shares(row.id)) : there;
      known.set(row.id, made);
      return made;
    };
    const read = itemsOf(entries, clock, trackOf);
    const { items } = timed(
      read.map((r) => r.item),
      hourAt,
      clock.seconds,
    );
    return {
      id,
      info,
      clock,
      hourAt,
      entries,
      items: read.map(({ entry }, i) => ({ entry, item: items[i]! })),
      rows,
    };
  });
}

/** Which conditions of shares tracks meet; null for all where no clock has such a rule. */
async function sharesOf(
  database: Database,
  clocks: readonly Pick<FormatClock, 'rules'>[],
  ids: readonly number[],
): Promise<(id: number) => readonly string[] | null> {
  const conditions = new Map<string, Condition>();
  for (const rule of clocks.flatMap((c) => c.rules))
    if (rule.rule === 'share') conditions.set(conditionKey(rule.from), rule.from);
  if (conditions.size === 0) return () => null;
  const met = new Map<number, string[]>();
  for (const [key, condition] of conditions) {
    const { text, values } = compileCondition(condition);
    const found = await database.rows<{ id: number }>(
      `SELECT t.id FROM tracks t WHERE t.id = ANY($${values.push([...ids])}::int[]) AND ${text}`,
      values,
    );
    for (const { id } of found) met.set(id, [...(met.get(id) ?? []), key]);
  }
  return (id) => met.get(id) ?? [];
}

const DAY = 86_400;

/** How far rules look before and behind an hour, in seconds. */
export const reachOf = (rules: readonly HourRule[]): number =>
  Math.max(
    2 * 3600, // rules of what is in a row ask for the hour before
    ...rules.map((r) => (r.rule === 'apart' ? r.minutes * 60 : r.rule === 'rested' ? r.days * DAY : 0)),
  );

/** What is on air in other hours between two moments. */
export async function airedBetween(
  database: Database,
  from: number,
  to: number,
  without: ReadonlySet<string>,
): Promise<(Aired & { track: Airable })[]> {
  const found = await database.rows<{ id: string }>(
    `SELECT id FROM lists WHERE kind = 'hour' AND NOT removed AND on_air_at > $1 AND on_air_at < $2`,
    [from - DAY, to],
  );
  const states = await loadLists(
    database,
    found.map((f) => f.id).filter((id) => !without.has(id)),
  );
  const hours = await ready(
    database,
    [...states].filter(([, s]) => isHour(s)),
  );
  return hours
    .flatMap((h) => h.items.flatMap(({ item }) => (item.kind === 'track' ? [{ at: item.at, track: item.track }] : [])))
    .filter(({ at }) => at >= from && at <= to)
    .sort((a, b) => a.at - b.at);
}

export const lineOf = ({ id, values, shares }: Airable): TrackLine => ({ id, values, shares });

/** Tracks that can be put on air: their files are there, they have a length, and are no jingles or the like. */
const ON_AIR = `t.file_state = 'here' AND t.duration_seconds > 0 AND (t.kind IS NULL OR t.kind = 'track')`;

/** The tracks from which some clocks take theirs, and which of them meet the conditions of places. */
export async function libraryFor(
  database: Database,
  clocks: readonly Pick<FormatClock, 'items' | 'rules'>[],
): Promise<{ library: TrackLine[]; meets: [string, number[]][] }> {
  const places = clocks.flatMap((c) => c.items).filter((i) => i.item === 'track' || i.item === 'filler');
  const conditions = new Map<string, Condition>();
  for (const { from } of places) if (from) conditions.set(conditionKey(from), from);
  const meets: [string, number[]][] = [];
  for (const [key, condition] of conditions) {
    const { text, values } = compileCondition(condition);
    const found = await database.rows<{ id: number }>(`SELECT t.id FROM tracks t WHERE ${ON_AIR} AND ${text}`, values);
    meets.push([key, found.map((f) => f.id)]);
  }
  const wanted = places.every((p) => p.from)
    ? [...new Set(meets.flatMap(([, ids]) => ids))]
    : (await database.rows<{ id: number }>(`SELECT t.id FROM tracks t WHERE ${ON_AIR}`)).map((f) => f.id);
  const shares = await sharesOf(database, clocks, wanted);
  const rows = await sheetRows(database, wanted, HOUR_FIELDS);
  const library = rows.map(({ id, values }) => ({ id, values, shares: shares(id) }));
  return { library, meets };
}
