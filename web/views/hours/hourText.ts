/** How lines of an hour are shown. */
import type { HourLine } from '@early-set/core/api/hours';
import { clockLength } from '@early-set/core/clock/clock';
import { fixedInWords, isOnTime } from '@early-set/core/hours/words';

/** "+0:11", "−0:03", "0:00". */
export const signedLength = (off: number): string =>
  isOnTime(off) ? '0:00' : `${off > 0 ? '+' : '−'}${clockLength(Math.abs(off))}`;

/** How a line ends, what it lies over, or why it is open. */
export function endInWords({ fixed, ends, overIntro, bed, file, kind, reason }: HourLine, hourAt: number): string {
  if (kind === 'open') return reason ?? '';
  if (ends) return `${ends.by} ${clockLength(ends.at)}`;
  const over = overIntro && `${clockLength(overIntro)} over the intro`;
  return [fixedInWords(fixed, hourAt), over, bed && `bed: ${bed}`, file && `file: ${file}`].filter(Boolean).join(', ');
}
