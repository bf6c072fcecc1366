/** Times of an hour in words and figures. */
import { format } from 'date-fns';
import type { HourLine } from '@early-set/core/api/hours';
import { clockLength } from '@early-set/core/clock/clock';

/** "19:02:31", where the desk stands. */
export const timeOnAir = (at: number): string => format(new Date(Math.round(at) * 1000), 'HH:mm:ss');

/** Less than this is on time, in seconds. */
const ON_TIME = 0.5;

export const isOnTime = (off: number): boolean => Math.abs(off) < ON_TIME;

/** "+0:11", "−0:03", "0:00". */
export const signedLength = (off: number): string =>
  isOnTime(off) ? '0:00' : `${off > 0 ? '+' : '−'}${clockLength(Math.abs(off))}`;

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

/** How a line ends, what it lies over, or why it is open. */
export function endInWords({ fixed, ends, overIntro, bed, kind, reason }: HourLine, hourAt: number): string {
  if (kind === 'open') return reason ?? '';
  if (ends) return `${ends.by} ${clockLength(ends.at)}`;
  const parts = [
    fixed && `${fixed.when === 'exact' ? 'exactly at' : 'not before'} ${timeOnAir(hourAt + fixed.at)}`,
    overIntro && `${clockLength(overIntro)} over the intro`,
    bed && `bed: ${bed}`,
  ];
  return parts.filter(Boolean).join(', ');
}
