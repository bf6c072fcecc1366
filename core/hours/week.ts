/** Which clock an hour has: clocks by weekdays and times of day. */
import { format } from 'date-fns';
import type { FormatClock } from './clock.ts';

/** Monday first, as weekdays are counted from 1 by ISO 8601. */
export const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
export type Weekday = (typeof WEEKDAYS)[number];

/** From a time of day to another, "19:00" to "22:00"; past midnight where it ends before it begins. */
export interface ClockTime {
  days: readonly Weekday[];
  from: string;
  to: string;
  /** The name of the clock. */
  clock: string;
}
export interface ClockWeek {
  clocks: readonly FormatClock[];
  week: readonly ClockTime[];
}

const weekdayOf = (moment: Date): Weekday => WEEKDAYS[Number(format(moment, 'i')) - 1]!;
const before = (day: Weekday): Weekday => WEEKDAYS[(WEEKDAYS.indexOf(day) + WEEKDAYS.length - 1) % WEEKDAYS.length]!;

/** Does a moment, in local time, lie in it? What goes past midnight belongs to the day on which it begins. */
export function liesIn({ days, from, to }: ClockTime, moment: Date): boolean {
  const day = weekdayOf(moment),
    time = format(moment, 'HH:mm');
  const past = to <= from;
  if (days.includes(day) && time >= from && (past || time < to)) return true;
  return past && days.includes(before(day)) && time < to;
}

/** The clock of an hour that begins then; null where none is wanted. The first that fits counts. */
export function clockAt({ clocks, week }: ClockWeek, hourAt: number): FormatClock | null {
  const found = week.find((w) => liesIn(w, new Date(hourAt * 1000)));
  return (found && clocks.find((c) => c.name === found.clock)) ?? null;
}
