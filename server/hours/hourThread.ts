/** Thread in which hours are filled and looked through, so that it holds nobody up. */
import type { MessagePort } from 'node:worker_threads';
import type { TrackValues } from '@early-set/core/fields/values';
import type { Condition } from '@early-set/core/conditions/condition';
import { aliasNames, airable, airLog, conditionKey, type Airable } from '@early-set/core/hours/airing';
import type { FormatClock } from '@early-set/core/hours/clock';
import { fillHours, lastBefore } from '@early-set/core/hours/day';
import { instead, timed } from '@early-set/core/hours/edit';
import type { HourItem } from '@early-set/core/hours/judge';
import { pools } from '@early-set/core/hours/pool';
import { refill } from '@early-set/core/hours/refill';
import { seeded } from '@early-set/core/signal/random';

export interface TrackLine {
  id: number;
  values: TrackValues;
  /** See Airable. */
  shares: readonly string[] | null;
}
/** What is known of a library and of what is on air around some hours. */
export interface World {
  library: readonly TrackLine[];
  aired: readonly { at: number; track: TrackLine }[];
  /** Which tracks meet the conditions of places, by the condition as JSON. */
  meets: readonly (readonly [string, readonly number[]])[];
  seed: number;
}
export type HourWish = World &
  (
    | { task: 'make'; hours: readonly { at: number; clock: FormatClock | null }[] }
    | { task: 'refill'; hourAt: number; clock: FormatClock; items: readonly HourItem[] }
    | { task: 'instead'; hourAt: number; clock: FormatClock; items: readonly HourItem[]; place: number; most: number }
  );
export interface Found {
  trackId: number;
  off: number;
  broken: { text: string; hard: boolean }[];
}
export type HourAnswer = { hours: HourItem[][] } | { found: Found[] };

/** What is wished, and where to tell how many hours are filled. */
export interface HourTask {
  wish: HourWish;
  port: MessagePort;
}

export default function work({ wish, port }: HourTask): HourAnswer {
  const clocks = wish.task === 'make' ? wish.hours.flatMap((h) => h.clock ?? []) : [wish.clock];
  const alias = aliasNames(clocks.flatMap((c) => c.aliases ?? []));
  const made = ({ id, values, shares }: TrackLine): Airable[] => {
    const track = airable(id, values, alias, shares);
    return track ? [track] : [];
  };
  const tracks = wish.library.flatMap(made);
  const aired = wish.aired.flatMap(({ at, track }) => made(track).map((t) => ({ at, track: t })));
  const sets = new Map(wish.meets.map(([key, ids]) => [key, new Set(ids)]));
  const meets = (track: Airable, from: Condition): boolean => sets.get(conditionKey(from))?.has(track.id) ?? false;
  if (wish.task === 'make') {
    const clockOf = new Map(wish.hours.map((h) => [h.at, h.clock]));
    const hours = fillHours({
      hours: wish.hours.map((h) => h.at),
      clockOf: (at) => clockOf.get(at) ?? null,
      tracks,
      aired,
      meets,
      seed: wish.seed,
      progress: (done) => port.postMessage(done),
    });
    return { hours: hours.map((h) => h.items) };
  }
  const { hourAt, clock, items } = wish;
  const log = airLog(aired),
    before = lastBefore(aired, hourAt);
  if (wish.task === 'refill') {
    const random = seeded(wish.seed);
    return {
      hours: [refill({ clock, items, hourAt, log, before, random, poolOf: pools(tracks, random, meets) }).items],
    };
  }
  const from = fromOf(clock, items[wish.place]);
  const able = from ? tracks.filter((t) => meets(t, from)) : tracks;
  const hour = { clock, items: timed(items, hourAt, clock.seconds).items, hourAt, log, before };
  return {
    found: instead(hour, wish.place, able)
      .slice(0, wish.most)
      .map(({ track, off, broken }) => ({
        trackId: track.id,
        off,
        broken: broken.map((b) => ({ text: b.text, hard: b.rule.hard })),
      })),
  };
}

const fromOf = (clock: FormatClock, item: HourItem | undefined): Condition | undefined => {
  const own = clock.items[item?.slot ?? -1];
  return own && 'from' in own ? own.from : undefined;
};
