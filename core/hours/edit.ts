/** An hour changed by hand: times worked out anew, a track swapped, and what could go instead of one. */
import type { Airable, AirLog } from './airing.ts';
import type { FixedTime, FormatClock } from './clock.ts';
import type { Landing } from './fill.ts';
import { breaks, spotsOf, type HourItem } from './judge.ts';
import { ruleText, type HourRule } from './rules.ts';

export interface TimedHour {
  items: HourItem[];
  landings: Landing[];
}

/** Seconds are told to the thousandth. */
const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/**
 * When each item is on air, from what is before it and how long it is. What comes too early to a fixed time waits for
 * it, what comes too late begins late.
 * @param seconds length of the hour
 */
export function timed(items: readonly HourItem[], hourAt: number, seconds: number): TimedHour {
  const landings: Landing[] = [];
  const land = (fixed: FixedTime, name: string, at: number): void => {
    landings.push({ ...fixed, name, off: rounded(at - hourAt - fixed.at) });
  };
  let at = hourAt;
  const out = items.map((item, i): HourItem => {
    const { fixed } = item,
      before = items[i - 1];
    if (fixed) {
      if (i > 0) land(fixed, item.name, at);
      at = Math.max(at, hourAt + fixed.at);
    } else if (item.kind === 'track' && before && 'overIntro' in before)
      at -= Math.min(item.track.air.intro, before.overIntro ?? 0);
    const next = { ...item, at };
    at += item.seconds;
    return next;
  });
  land({ at: seconds, when: 'exact' }, 'end of the hour', at);
  return { items: out, landings };
}

/** Another track at the place of one, or in an open place; it is on air up to its segue point. */
export function swapped(items: readonly HourItem[], place: number, track: Airable): HourItem[] {
  return items.map((item, i): HourItem => {
    if (i !== place || (item.kind !== 'track' && item.kind !== 'open')) return item;
    const { at, name, fixed, slot } = item;
    return { kind: 'track', at, name, fixed, slot, seconds: track.air.natural, track };
  });
}

export interface Instead {
  track: Airable;
  /** By how much the next fixed time would be missed, in seconds; late above 0. */
  off: number;
  /** Rules that would be broken, there or behind it. */
  broken: { rule: HourRule; text: string }[];
}

/** What an hour is asked about. */
export interface Hour {
  clock: Pick<FormatClock, 'rules' | 'seconds'>;
  items: readonly HourItem[];
  hourAt: number;
  log: AirLog;
  before: readonly Airable[];
}

/** Rules that look at the tracks before one: what comes in can break them for those behind it. */
const LOOKS_BACK: ReadonlySet<HourRule['rule']> = new Set(['in a row', 'cold end before soft start', 'loudness step']);

/** Rules that a track would break at its place, and for the tracks behind it those it breaks newly. */
function brokenBy(
  { clock: { rules }, log, before }: Hour,
  items: readonly HourItem[],
  place: number,
  was: ReadonlySet<string>,
): HourRule[] {
  const spots = spotsOf(items, log, before);
  const others = items.flatMap((item, i) =>
    item.kind === 'track' && i !== place ? [{ at: item.at, track: item.track }] : [],
  );
  return rules.filter((rule) =>
    items.some((item, i) => {
      if (i < place || item.kind !== 'track') return false;
      // Those behind it keep apart from it as it does from them.
      if (i === place) return breaks(rule, item.track, { ...spots[i]!, hour: others });
      return (
        LOOKS_BACK.has(rule.rule) && breaks(rule, item.track, spots[i]!) && !was.has(`${rules.indexOf(rule)} ${i}`)
      );
    }),
  );
}

/**
 * Tracks that could go to a place instead of what is there, those that land best first; those that break a hard rule
 * come last. Tracks that are in the hour are left out.
 */
export function instead(hour: Hour, place: number, tracks: readonly Airable[]): Instead[] {
  const { clock, items, hourAt, log, before } = hour;
  const used = new Set(items.flatMap((item) => (item.kind === 'track' ? [item.track.id] : [])));
  const next = items.slice(0, place + 1).filter((item, i) => i > 0 && item.fixed).length;
  const spots = spotsOf(items, log, before);
  const was = new Set(
    items.flatMap((item, i) =>
      item.kind === 'track'
        ? clock.rules.flatMap((rule, r) => (breaks(rule, item.track, spots[i]!) ? [`${r} ${i}`] : []))
        : [],
    ),
  );
  const hard = ({ broken }: Instead): number => (broken.some((b) => b.rule.hard) ? 1 : 0);
  return tracks
    .filter((track) => !used.has(track.id))
    .map((track): Instead => {
      const after = timed(swapped(items, place, track), hourAt, clock.seconds);
      const broken = brokenBy(hour, after.items, place, was);
      return { track, off: after.landings[next]!.off, broken: broken.map((rule) => ({ rule, text: ruleText(rule) })) };
    })
    .sort((a, b) => hard(a) - hard(b) || Math.abs(a.off) - Math.abs(b.off) || a.track.id - b.track.id);
}
