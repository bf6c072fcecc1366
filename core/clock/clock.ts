/** Clock and calendar: lengths, times of day and days as people write them. */
import { addMilliseconds, differenceInCalendarDays, format, parse, parseISO } from 'date-fns';

/** "4:07", "1:02:09"; whole seconds, rounded. */
export function clockLength(seconds: number): string {
  const all = Math.round(seconds);
  const h = Math.floor(all / 3600),
    m = Math.floor((all % 3600) / 60),
    s = all % 60;
  return h ? `${h}:${String(m).padStart(2, '0')}:${String(s).padStart(2, '0')}` : `${m}:${String(s).padStart(2, '0')}`;
}

/** Time of day after `seconds` from a start given as "20:00": "20:47". Wraps at midnight. */
export const timeOfDay = (start: string, seconds: number): string =>
  format(addMilliseconds(parse(start, 'HH:mm', NO_CHANGE), seconds * 1000), 'HH:mm');

/** A day on which no clock is put forward or back. */
const NO_CHANGE = new Date(2000, 5, 1);

/** The day of a moment where the clock hangs, "2026-11-27". */
export const localDay = (moment: Date): string => format(moment, 'yyyy-MM-dd');

/** Whole days from one day to another; negative when it has been. */
export const daysBetween = (from: string, to: string): number => differenceInCalendarDays(parseISO(to), parseISO(from));
