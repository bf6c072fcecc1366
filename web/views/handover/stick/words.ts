/** What is said of sticks. */
import type { StickAnswer, StickLine, StickReport } from '@early-set/core/api/stick';
import type { StickState } from '@early-set/core/stick/compare';
import { several } from '../../../data/actions.ts';
import { bytes, dayAndTime } from '../../../ui/format.ts';

/** How long it takes, coarse on purpose. */
export function aboutTime(seconds: number): string {
  if (seconds < 60) return 'less than a minute';
  if (seconds < 3600) return `about ${Math.round(seconds / 60)} min`;
  return `about ${(seconds / 3600).toFixed(1)} h`;
}

/** What becomes of a file, where that is not how it is made. */
export const STATE_WORDS: Readonly<Record<StickState, string | null>> = {
  new: null,
  'other sound': null,
  'other tags': 'is there, tags newer',
  same: 'is there, the same',
  'gone from there': 'was deleted there',
  'changed there': 'was changed there, is replaced',
};

/** What is to be said of it in one line of the list, and in which tone. */
export function stateOf({
  trouble,
  waiting,
  writtenAt,
  brokenOff,
  isPlayout,
}: StickLine): [words: string, tone: string] {
  if (trouble) return [isPlayout ? 'not there' : 'not plugged in', 'text-dim'];
  if (brokenOff) return ['broke off midway', 'text-flare'];
  if (waiting !== null && waiting > 0) return [`${several(waiting, 'file')} to write or remove`, 'text-sodium-text'];
  if (writtenAt === null) return ['never written', 'text-dim'];
  return ['up to date', 'text-kelp'];
}

/** Is there anything to write? */
export const hasWork = ({ counts, removed }: StickAnswer): boolean => counts.write + removed.length > 0;

/** How the last writing ended, in sentences. */
export function reportText(
  { at, written, removed, bytes: size, total, failed, stopped, readBack }: StickReport,
  isPlayout = false,
): string {
  const done = [
    `${dayAndTime(at)}: ${several(written, 'file')} written, ${bytes(size)}`,
    removed > 0 && `${several(removed, 'file')} removed`,
  ];
  const said = [done.filter(Boolean).join(', ')];
  if (stopped) {
    const why = { cancelled: 'cancelled', full: 'there was no more room', gone: 'it was taken away' }[stopped];
    said.push(`Ended before its end (${why}): ${several(Math.max(0, total - written), 'file')} not written`);
  }
  if (failed.length > 0) said.push(`${several(failed.length, 'file')} could not be written`);
  if (readBack === 'medium') said.push('Every copy was read back from the drive itself');
  if (readBack === 'memory') said.push('Every copy was read back, not surely from the drive itself');
  if (!stopped && !isPlayout) said.push('Safe to remove');
  return `${said.join('. ')}.`;
}
