/** Hours made from format clocks, and filled. */
import { randomInt, randomUUID } from 'node:crypto';
import { format } from 'date-fns';
import type { HoursMade } from '@early-set/core/api/hours';
import type { ListLine } from '@early-set/core/api/types';
import { copyList } from '@early-set/core/changes/lists';
import type { ListInfo } from '@early-set/core/changes/snapshot';
import type { FormatClock } from '@early-set/core/hours/clock';
import type { HourItem } from '@early-set/core/hours/judge';
import { entryOf, writeClock } from '@early-set/core/hours/kept';
import { withStationFiles } from '@early-set/core/hours/stationFiles';
import { clockAt, type ClockWeek } from '@early-set/core/hours/week';
import { notFound, Problem } from '../base/problem.ts';
import { applyDraft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import { allLists, infoOf, quoted, several } from '../lists/lists.ts';
import { allClocks } from './clocks.ts';
import type { HourPool } from './hourPool.ts';
import { airedBetween, libraryFor, lineOf, reachOf } from './load.ts';
import { stationFiles } from './stationFiles.ts';

export interface MakeHours {
  /** The clock of all of them; null: each has that of its weekday and time. */
  clockId: string | null;
  /** The beginning of the first, in seconds since 1970. */
  from: number;
  hours: number;
  /** Else their slots stay open. */
  fill: boolean;
  /** A name under which their progress is told. */
  making: string | null;
}

const HOUR = 3600;
/** "Tue 1 Dec, 19:00". */
const nameOf = (at: number): string => format(new Date(at * 1000), 'EEE d MMM, HH:mm');

interface WantedHour {
  at: number;
  clock: FormatClock;
  /** The file from which an item of the clock is played. */
  fileAt: (slot: number) => number | null;
}

/** Beginnings of hours that are there. */
const beginnings = (lists: readonly ListLine[]): ReadonlySet<number> =>
  new Set(lists.flatMap((l) => (l.kind === 'hour' && !l.removed ? (l.onAirAt ?? []) : [])));

/** Which hours are to be made, one after the other. @throws Problem when none is */
async function wantedHours(
  database: Database,
  { clockId, from, hours }: MakeHours,
): Promise<{ wanted: WantedHour[]; skipped: HoursMade['skipped'] }> {
  const files = await stationFiles(database);
  const clocks = (await allClocks(database)).map(({ id, clock }) => ({ id, ...withStationFiles(clock, files) }));
  const week: ClockWeek = {
    clocks: clocks.map((c) => c.clock),
    week: clocks.flatMap(({ clock }) => clock.times.map((t) => ({ ...t, clock: clock.name }))),
  };
  const chosen = clockId === null ? null : clocks.find((c) => c.id === clockId);
  if (chosen === undefined) throw notFound('The format clock');
  const there = beginnings(await allLists(database));
  const skipped: HoursMade['skipped'] = [],
    wanted: WantedHour[] = [];
  for (let at = from; at < from + hours * HOUR;) {
    const clock = chosen ? chosen.clock : clockAt(week, at);
    if (there.has(at)) skipped.push({ at, why: 'there already' });
    else if (clock) wanted.push({ at, clock, fileAt: clocks.find((c) => c.clock === clock)!.fileAt });
    else skipped.push({ at, why: 'no clock' });
    at += clock?.seconds ?? HOUR;
  }
  if (wanted.length > 0) return { wanted, skipped };
  const allThere = skipped.every((s) => s.why === 'there already');
  throw new Problem(
    409,
    'nothing-to-do',
    allThere
      ? 'These hours are there already'
      : 'No format clock is for these hours: say in a clock when it is used, or choose one',
  );
}

/** Makes hours from clocks and fills them. Hours that are there already stay as they are. */
export async function makeHours(
  context: ChangeContext,
  pool: HourPool,
  wish: MakeHours,
  gone?: AbortSignal,
): Promise<HoursMade> {
  const { database } = context;
  const { wanted, skipped } = await wantedHours(database, wish);
  const filled = await filledHours(database, pool, wanted, wish, gone);
  return context.inTurn(async () => {
    const lists = await allLists(database);
    const there = beginnings(lists);
    if (wanted.some((w) => there.has(w.at)))
      throw new Problem(409, 'conflict', 'Some of these hours have been made meanwhile');
    const listIds = wanted.map(() => randomUUID());
    const items = wanted.flatMap(({ at, clock, fileAt }, i) => {
      const info: ListInfo = {
        ...infoOf(lists, 'hour', nameOf(at), null),
        position: at,
        clock: writeClock({ ...clock, times: [] }),
        onAirAt: at,
      };
      const entries = filled[i]!.map((item) => ({ id: '', ...entryOf(item, fileAt(item.slot)) }));
      return copyList(listIds[i]!, info, entries, randomUUID);
    });
    const names = [...new Set(wanted.map((w) => w.clock.name))];
    const by = names.length === 1 ? quoted(names[0]!) : several(names.length, 'format clock');
    const title = `Make ${several(wanted.length, 'hour')} by ${by}`;
    const { applied } = await applyDraft(context, { title, items });
    return { ...applied, listIds, open: filled.flat().filter((i) => i.kind === 'open').length, skipped };
  });
}

async function filledHours(
  database: Database,
  pool: HourPool,
  hours: readonly WantedHour[],
  { fill, making }: Pick<MakeHours, 'fill' | 'making'>,
  gone?: AbortSignal,
): Promise<HourItem[][]> {
  const clocks = [...new Set(hours.map((h) => h.clock))];
  const reach = reachOf(clocks.flatMap((c) => c.rules));
  const last = hours.at(-1)!;
  const [around, world] = await Promise.all([
    airedBetween(database, hours[0]!.at - reach, last.at + last.clock.seconds + reach, new Set()),
    libraryFor(database, clocks),
  ]);
  const answer = await pool.run(
    {
      task: 'make',
      hours: hours.map(({ at, clock }) => ({ at, clock })),
      ...world,
      // Where slots are to stay open, lengths still come from the tracks that could be there.
      aired: around.map(({ at, track }) => ({ at, track: lineOf(track) })),
      seed: randomInt(1, 2 ** 31 - 1),
    },
    gone,
    making ?? undefined,
  );
  if (!('hours' in answer)) throw new Error('hours were asked for');
  return fill ? answer.hours : answer.hours.map((items) => items.map(opened));
}

const opened = (item: HourItem): HourItem => {
  if (item.kind !== 'track') return item;
  const { at, seconds, name, fixed, slot } = item;
  return { kind: 'open', at, seconds, name, fixed, slot, reason: 'not filled yet' };
};
