/** Format clocks: the template of an hour, its items and its rules (docs/formats/clock.md). */
import type { Condition } from '../conditions/condition.ts';
import type { HourRule } from './rules.ts';

/** When an item begins, in seconds from the beginning of the hour: to the second, or then or later. */
export interface FixedTime {
  at: number;
  when: 'exact' | 'not before';
}

interface Item {
  name: string;
  /** Left out: behind the item before it. */
  fixed?: FixedTime;
}
/** Somebody speaks, or a jingle is played. */
export interface SetItem extends Item {
  item: 'spoken' | 'link' | 'jingle';
  seconds: number;
  /** So many of its last seconds are to lie over the intro of the track that follows, where that has so many. */
  overIntro?: number;
  /** What lies under it. */
  bed?: string;
}
/** A place for a track. */
export interface TrackItem extends Item {
  item: 'track';
  /** Which tracks; all where it is left out. */
  from?: Condition;
  /** Wished energy, 0 … 100, and tempo, in BPM. */
  energy?: number;
  bpm?: number;
}
/** Places for as many tracks as there is time for. */
export interface FillerItem extends Item {
  item: 'filler';
  from?: Condition;
  /** Tracks at most. */
  most: number;
}
export type ClockItem = SetItem | TrackItem | FillerItem;

export interface FormatClock {
  name: string;
  /** How long it lasts. */
  seconds: number;
  items: readonly ClockItem[];
  rules: readonly HourRule[];
  /** Names that are one artist. */
  aliases?: readonly (readonly string[])[];
  /** Explicit words are not heard before this time of day, nor from six in the morning on; "22:00". */
  explicitFrom?: string;
}

/** A stretch of a clock between two times that are fixed. */
export interface Stretch<I = ClockItem> {
  /** Seconds from the beginning of the hour. */
  from: number;
  to: FixedTime;
  items: readonly I[];
}

/** Cuts a clock at its fixed times; the last stretch ends with the hour. */
export function stretches<I extends { fixed?: FixedTime }>({
  items,
  seconds,
}: {
  items: readonly I[];
  seconds: number;
}): Stretch<I>[] {
  const out: Stretch<I>[] = [];
  let from = 0,
    own: I[] = [];
  for (const item of items) {
    const { fixed } = item;
    if (fixed && (own.length > 0 || fixed.at > from)) {
      out.push({ from, to: fixed, items: own });
      own = [];
      from = fixed.at;
    }
    own.push(item);
  }
  out.push({ from, to: { at: seconds, when: 'exact' }, items: own });
  return out;
}
