/**
 * How hours and format clocks are kept as lists: a clock as JSON (docs/formats/clock.md, with the times at which it is
 * used), an hour as entries, of which each says which item of its clock it stands for.
 */
import type { Entry, EntryData } from '../changes/snapshot.ts';
import type { Airable } from './airing.ts';
import type { FixedTime, FormatClock } from './clock.ts';
import type { HourItem } from './judge.ts';
import { CLOCK_VERSION } from './readClock.ts';
import type { ClockTime } from './week.ts';

/** When hours have a clock: weekdays and times of day. */
export type ClockUse = Omit<ClockTime, 'clock'>;
export interface KeptClock extends FormatClock {
  times: readonly ClockUse[];
}

export const writeClock = ({ times, ...clock }: KeptClock): string =>
  JSON.stringify({ version: CLOCK_VERSION, ...clock, ...(times.length > 0 ? { times } : {}) });

/** What `writeClock` has written. */
export function keptClock(text: string): KeptClock {
  const { times = [], ...read } = JSON.parse(text) as Partial<KeptClock> & { version?: number };
  delete read.version;
  return { ...(read as FormatClock), times };
}

export type EntryOfHour = Pick<Entry, 'kind' | 'trackId' | 'data'>;

const fixedData = (fixed: FixedTime | null): EntryData =>
  fixed ? { fixedAt: fixed.at, ...(fixed.when === 'not before' ? { notBefore: true } : {}) } : {};

/** Ends of tracks are kept to the thousandth of a second. */
const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/** Where in the file a track ends that is on air for so long; nothing where that is its segue point. */
export const endData = ({ air }: Airable, seconds: number): Pick<EntryData, 'to'> =>
  rounded(air.start + seconds) === rounded(air.start + air.natural) ? {} : { to: rounded(air.start + seconds) };

/**
 * An item of an hour as the entry of a list.
 * @param fileId the file from which it is played, where it is no track
 */
export function entryOf(item: HourItem, fileId: number | null = null): EntryOfHour {
  const data: EntryData = { ...fixedData(item.fixed), ...(item.slot >= 0 ? { slot: item.slot } : {}) };
  switch (item.kind) {
    case 'track':
      return { kind: 'track', trackId: item.track.id, data: { ...data, ...endData(item.track, item.seconds) } };
    case 'open':
      return {
        kind: 'open slot',
        trackId: null,
        data: { ...data, text: item.name, seconds: rounded(item.seconds), reason: item.reason },
      };
    default:
      return {
        kind: item.kind,
        trackId: fileId,
        data: {
          ...data,
          text: item.name,
          seconds: rounded(item.seconds),
          ...(item.overIntro === null ? {} : { overIntro: item.overIntro }),
          ...(item.bed === null ? {} : { bed: item.bed }),
        },
      };
  }
}

/**
 * The entries of an hour as items, not timed yet. Notes are on air for no time and are no items.
 * @param airableOf the track of an entry; null where it cannot be put on air
 */
export function itemsOf<E extends Pick<Entry, 'kind' | 'trackId' | 'data'>>(
  entries: readonly E[],
  { items }: Pick<FormatClock, 'items'>,
  airableOf: (entry: E) => Airable | null,
): { entry: E; item: HourItem }[] {
  return entries.flatMap((entry) => {
    const item = itemOf(entry, items[entry.data.slot ?? -1]?.name, entry.kind === 'note' ? null : airableOf(entry));
    return item ? [{ entry, item }] : [];
  });
}

/** Seconds of a slot that says nothing of its length. */
const SLOT_SECONDS = 210;

function itemOf({ kind, data }: EntryOfHour, slotName: string | undefined, track: Airable | null): HourItem | null {
  const { fixedAt, text, seconds, slot = -1 } = data;
  const fixed: FixedTime | null =
    fixedAt === undefined ? null : { at: fixedAt, when: data.notBefore ? 'not before' : 'exact' };
  const common = { at: 0, fixed, slot };
  if (kind === 'note') return null;
  if (track && kind === 'track') {
    const ends = data.to === undefined ? track.air.natural : data.to - track.air.start;
    return {
      ...common,
      kind: 'track',
      name: slotName ?? 'Track',
      seconds: Math.max(0, ends - (data.from === undefined ? 0 : data.from - track.air.start)),
      track,
    };
  }
  if (kind === 'open slot' || kind === 'track')
    return {
      ...common,
      kind: 'open',
      name: text ?? slotName ?? 'Track',
      seconds: seconds ?? SLOT_SECONDS,
      reason: data.reason ?? (kind === 'open slot' ? 'not filled yet' : 'the track cannot be put on air'),
    };
  return {
    ...common,
    kind: kind === 'pause' ? 'spoken' : kind,
    name: text ?? (kind === 'pause' ? 'Pause' : ''),
    // What says no length of its own is as long as its file.
    seconds: seconds ?? track?.air.natural ?? 0,
    overIntro: data.overIntro ?? null,
    bed: data.bed ?? null,
  };
}
