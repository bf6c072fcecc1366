/** Times and kinds of an hour in words and figures. */
import { format } from 'date-fns';
import { clockLength } from '../clock/clock.ts';
import type { HourLine } from './contents.ts';

/** "19:02:31", where the desk stands. @param at seconds since 1970 */
export const timeOnAir = (at: number): string => format(new Date(Math.round(at) * 1000), 'HH:mm:ss');

/** Less than this is on time, in seconds. */
const ON_TIME = 0.5;
export const isOnTime = (off: number): boolean => Math.abs(off) < ON_TIME;

/** "0:11 over", "0:03 under", "on time". */
export const overOrUnder = (off: number): string =>
  isOnTime(off) ? 'on time' : `${clockLength(Math.abs(off))} ${off > 0 ? 'over' : 'under'}`;

export const KIND_NAMES: Record<HourLine['kind'], string> = {
  spoken: 'spoken',
  link: 'link',
  jingle: 'jingle',
  track: 'track',
  open: 'open slot',
  note: 'note',
};

/** "exactly at 19:30:00"; empty for what has no time of its own. */
export const fixedInWords = (fixed: HourLine['fixed'], hourAt: number): string =>
  fixed ? `${fixed.when === 'exact' ? 'exactly at' : 'not before'} ${timeOnAir(hourAt + fixed.at)}` : '';
