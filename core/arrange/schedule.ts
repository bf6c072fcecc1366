/** When the entries of a list begin: the one place where start times are worked out. */
import type { EntryData, EntryKind } from '../changes/snapshot.ts';

export interface Timed {
  kind: EntryKind;
  data: EntryData;
  /** Length of the entry's track, in seconds; null where it has none or it is not known. */
  durationSeconds: number | null;
}

/** How long an entry lasts, in seconds: its own start and end count before its track's length. Notes take no time. */
export function lengthOf({ kind, data, durationSeconds }: Timed): number {
  if (kind === 'note') return 0;
  if (kind !== 'track' && kind !== 'jingle') return data.seconds ?? 0;
  const whole = durationSeconds ?? data.seconds ?? 0;
  return Math.max(0, Math.min(data.to ?? whole, whole || Infinity) - (data.from ?? 0));
}

export interface Schedule {
  /** Seconds from the list's own start, per entry. */
  starts: number[];
  /** The whole length, in seconds. */
  total: number;
}

/** Each entry begins when the one before has ended, or so much earlier as that one lies over it. */
export function schedule(entries: readonly Timed[]): Schedule {
  let at = 0,
    end = 0;
  const starts = entries.map((entry) => {
    const start = at,
      length = lengthOf(entry);
    end = Math.max(end, start + length);
    at = start + Math.max(0, length - (entry.data.overlap ?? 0));
    return start;
  });
  return { starts, total: end };
}
