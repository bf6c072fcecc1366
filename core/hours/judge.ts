/** Whether rules hold: for one track at one place, and for an hour as it stands. */
import { counted, forbidden, type Airable, type Aired, type AirLog } from './airing.ts';
import type { FixedTime, FormatClock } from './clock.ts';
import { ruleText, type HourRule } from './rules.ts';

/** Where a track stands. */
export interface Spot {
  /** When it begins, in seconds since 1970. */
  at: number;
  /** What is on air in other hours. */
  log: AirLog;
  /** Tracks of the hour that come before it. */
  hour: readonly Aired[];
  /** Tracks before it, the nearest last, of the hour before too. */
  previous: readonly Airable[];
  /** The nearest of them ends as it begins. */
  direct: boolean;
  /** So much of its intro what is spoken before it wants, in seconds; null where nothing is. */
  link: number | null;
  /** Something is spoken behind it. */
  beforeSpoken: boolean;
}

/** Is a rule about one track broken there? Rules that count tracks of an hour are not asked here. */
export function breaks(rule: HourRule, track: Airable, spot: Spot): boolean {
  const before = spot.previous.at(-1);
  switch (rule.rule) {
    case 'apart': {
      const reach = rule.minutes * 60,
        own = track.names[rule.what];
      return own.some(
        (name) =>
          spot.log.nearest(rule.what, name, spot.at) < reach ||
          spot.hour.some((a) => Math.abs(a.at - spot.at) < reach && a.track.names[rule.what].includes(name)),
      );
    }
    case 'rested':
      return (
        spot.log.nearestOf(track.id, spot.at) < rule.days * 86_400 || spot.hour.some((a) => a.track.id === track.id)
      );
    case 'in a row':
      return track.classes[rule.what].some((of) => {
        let run = 1;
        for (let i = spot.previous.length - 1; i >= 0 && run <= rule.most; i--, run++)
          if (!spot.previous[i]!.classes[rule.what].includes(of)) break;
        return run > rule.most;
      });
    case 'instrumental before link':
      return spot.beforeSpoken && !track.instrumental;
    case 'intro for link':
      return spot.link !== null && track.air.intro < spot.link;
    case 'cold end before soft start':
      return spot.direct && before !== undefined && before.cold && track.soft;
    case 'loudness step':
      return (
        before !== undefined &&
        before.lufs !== null &&
        track.lufs !== null &&
        Math.abs(track.lufs - before.lufs) > rule.most
      );
    default:
      return false;
  }
}

/** How many of an hour's places for tracks a rule wants to meet it; null for rules of other sorts. */
export function quotaOf(rule: HourRule, places: number): { least: number; most: number } | null {
  // No more can be asked than there are places.
  if (rule.rule === 'new') return { least: Math.min(rule.count, places), most: rule.count };
  if (rule.rule !== 'share') return null;
  // A whole number is meant where a share comes to one but for rounding.
  const near = 1e-9;
  return {
    least: Math.ceil((rule.least ?? 0) * places - near),
    most: Math.floor((rule.most ?? 1) * places + near),
  };
}

/** An item of an hour as it stands. */
export type HourItem = {
  at: number;
  seconds: number;
  name: string;
  fixed: FixedTime | null;
  /** Which item of its clock it stands for, from 0; none where that is below 0. */
  slot: number;
} & (
  | { kind: 'spoken' | 'link' | 'jingle'; overIntro: number | null; bed: string | null }
  | { kind: 'track'; track: Airable }
  | { kind: 'open'; reason: string }
);

export interface Judgement {
  rule: HourRule;
  text: string;
  /** It could still be met by what comes into open slots. */
  state: 'kept' | 'broken' | 'open';
  /** Items at which it is broken, by their places in the hour. */
  where: number[];
}

const isSpoken = (item: HourItem | undefined): boolean => item?.kind === 'spoken' || item?.kind === 'link';

/** Where each track of an hour stands. @param before the last tracks of the hour before, the nearest last */
export function spotsOf(items: readonly HourItem[], log: AirLog, before: readonly Airable[]): (Spot | null)[] {
  const hour: Aired[] = [],
    previous = [...before];
  return items.map((item, i) => {
    if (item.kind !== 'track') return null;
    const former = items[i - 1];
    const spot: Spot = {
      at: item.at,
      log,
      hour: [...hour],
      previous: [...previous],
      direct: former === undefined || former.kind === 'track',
      link: former && former.kind !== 'track' && former.kind !== 'open' ? former.overIntro : null,
      beforeSpoken: isSpoken(items[i + 1]),
    };
    hour.push({ at: item.at, track: item.track });
    previous.push(item.track);
    return spot;
  });
}

/** Judges every rule of a clock over an hour. @param hourAt its beginning, in seconds since 1970 */
export function judge(
  clock: Pick<FormatClock, 'rules' | 'explicitFrom'>,
  items: readonly HourItem[],
  hourAt: number,
  log: AirLog,
  before: readonly Airable[] = [],
): Judgement[] {
  const spots = spotsOf(items, log, before);
  const open = items.filter((i) => i.kind === 'open').length,
    tracks = items.flatMap((i) => (i.kind === 'track' ? [i.track] : []));
  return clock.rules.map((rule) => {
    const text = ruleText(rule);
    const quota = quotaOf(rule, tracks.length + open);
    if (quota) {
      const count = tracks.filter((t) => counted(rule, t, hourAt)).length;
      const state = count > quota.most || count + open < quota.least ? 'broken' : count < quota.least ? 'open' : 'kept';
      return { rule, text, state, where: [] };
    }
    const where = items.flatMap((item, i) => (item.kind === 'track' && breaks(rule, item.track, spots[i]!) ? [i] : []));
    return { rule, text, state: where.length ? 'broken' : 'kept', where };
  });
}

/** Tracks that may not be on air when they are, by their places in the hour, with why. */
export const forbiddenIn = (
  items: readonly HourItem[],
  explicitFrom: string | undefined,
): { place: number; why: string }[] =>
  items.flatMap((item, place) => {
    const why = item.kind === 'track' ? forbidden(item.track.values, new Date(item.at * 1000), explicitFrom) : null;
    return why ? [{ place, why }] : [];
  });
