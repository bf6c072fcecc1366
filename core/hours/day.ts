/** Hours one after the other: what was on air in one counts in the next. */
import type { Condition } from '../conditions/condition.ts';
import { seeded } from '../signal/random.ts';
import { airLog, type Airable, type Aired } from './airing.ts';
import type { FormatClock } from './clock.ts';
import { fillHour, type FilledHour } from './fill.ts';
import { judge, type Judgement } from './judge.ts';
import { pools } from './pool.ts';

/** Of the hour before so many tracks are known. */
const REMEMBERED = 20;

export interface HoursWish {
  /** The beginnings of the hours, in seconds since 1970, in order. */
  hours: readonly number[];
  /** The clock of an hour; null: it stays empty. */
  clockOf: (hourAt: number) => FormatClock | null;
  tracks: readonly Airable[];
  /** What has been, and will be, on air besides. */
  aired?: readonly Aired[];
  /** Whether a track meets a condition, where its values by themselves do not tell. */
  meets?: (track: Airable, from: Condition) => boolean;
  /** Equal seeds give equal hours. */
  seed?: number;
  /** Told after each hour how many are filled. */
  progress?: (done: number) => void;
}

/** Fills hours in order. */
export function fillHours({ hours, clockOf, tracks, aired = [], meets, seed = 1, progress }: HoursWish): FilledHour[] {
  const random = seeded(seed);
  const log = airLog(aired);
  const poolOf = pools(tracks, random, meets);
  let before = lastBefore(aired, hours[0] ?? 0);
  return hours.map((hourAt, i) => {
    const clock = clockOf(hourAt);
    const filled = clock ? fillHour({ clock, hourAt, poolOf, log, before, random }) : { items: [], landings: [] };
    for (const item of filled.items)
      if (item.kind === 'track') {
        log.add({ at: item.at, track: item.track });
        before = [...before, item.track].slice(-REMEMBERED);
      }
    progress?.(i + 1);
    return filled;
  });
}

/** Judges hours that follow each other, each after what was on air in those before it. */
export function judgeHours(
  hours: readonly number[],
  clockOf: HoursWish['clockOf'],
  filled: readonly Pick<FilledHour, 'items'>[],
): Judgement[][] {
  const log = airLog();
  let before: Airable[] = [];
  return filled.map(({ items }, i) => {
    const clock = clockOf(hours[i]!);
    const judged = clock ? judge(clock, items, hours[i]!, log, before) : [];
    for (const item of items)
      if (item.kind === 'track') {
        log.add({ at: item.at, track: item.track });
        before = [...before, item.track].slice(-REMEMBERED);
      }
    return judged;
  });
}

/** The last tracks on air before a moment, the nearest last. */
export const lastBefore = (aired: readonly Aired[], at: number): Airable[] =>
  [...aired]
    .filter((a) => a.at < at)
    .sort((a, b) => a.at - b.at)
    .slice(-REMEMBERED)
    .map((a) => a.track);

const HOUR = 3600;

/** The beginnings of the hours from one local midnight to the next: 23 or 25 where the clock is changed. */
export const hoursBetween = (midnight: Date, next: Date): number[] =>
  Array.from(
    { length: Math.round((next.getTime() - midnight.getTime()) / 1000 / HOUR) },
    (_, i) => midnight.getTime() / 1000 + i * HOUR,
  );
