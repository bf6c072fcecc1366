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

/** A length as it is typed: "4:07", "1:02:09", "47" (minutes), "2 h 10", in seconds; null when it says nothing. */
export function readLength(text: string): number | null {
  const clock = /^(?:(\d{1,3}):)?(\d{1,3}):([0-5]?\d(?:[.,]\d{1,3})?)$/.exec(text.trim());
  if (clock) return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]!.replace(',', '.'));
  const spoken = /^(?:(\d{1,3}) ?h)? ?(?:(\d{1,4})(?: ?m(?:in)?)?)?$/.exec(text.trim());
  if (!spoken || (spoken[1] === undefined && spoken[2] === undefined)) return null;
  return Number(spoken[1] ?? 0) * 3600 + Number(spoken[2] ?? 0) * 60;
}

/** A time of day as it is typed: "20:00", "2000", "20"; null when it is none. */
export function readTimeOfDay(text: string): string | null {
  const match = /^([01]?\d|2[0-3])[:.]?([0-5]\d)?$/.exec(text.trim());
  return match && `${match[1]!.padStart(2, '0')}:${match[2] ?? '00'}`;
}

/** By how many seconds one time of day lies behind another, the shorter way round: −43,200 … 43,200. */
export function secondsBehind(time: string, reference: string): number {
  const of = (text: string): number => {
    const [h = 0, m = 0, s = 0] = text.split(':').map(Number);
    return h * 3600 + m * 60 + s;
  };
  const day = 86_400,
    gap = (((of(time) - of(reference)) % day) + day) % day;
  return gap > day / 2 ? gap - day : gap;
}
