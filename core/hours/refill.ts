/** Filling the open slots of an hour, and nothing else: what is in it stays. */
import { airLog, type Airable, type AirLog } from './airing.ts';
import type { ClockItem, FormatClock } from './clock.ts';
import { timed } from './edit.ts';
import { fillHour, type FilledHour, type FillWish } from './fill.ts';
import { judge, type HourItem } from './judge.ts';
import type { KeptItem } from './steps.ts';

export interface RefillWish extends Omit<FillWish, 'clock'> {
  clock: FormatClock;
  /** The hour as it stands. */
  items: readonly HourItem[];
}

/** An open slot takes what its item of the clock takes; one that stands for none takes any track. */
function slotItem(item: Extract<HourItem, { kind: 'open' }>, { items }: FormatClock): ClockItem {
  const own = items[item.slot];
  const fixed = item.fixed ? { fixed: item.fixed } : {};
  if (own?.item !== 'track' && own?.item !== 'filler') return { item: 'track', name: item.name, ...fixed };
  const { from, name } = own;
  const contour = own.item === 'track' ? { ...own } : {};
  return { ...contour, item: 'track', name, ...(from ? { from } : {}), ...fixed };
}

/**
 * @returns the hour with its slots filled as far as hard rules leave tracks for them. A track that would break a hard
 *   rule for one that is there already is not taken.
 */
export function refill({ clock, items, log, ...wish }: RefillWish): FilledHour {
  const all = withKept(log, items);
  const wanted = items.map((item): ClockItem | KeptItem => {
    const { name, seconds, slot } = item;
    const fixed = item.fixed ? { fixed: item.fixed } : {};
    if (item.kind === 'track') return { item: 'kept', name, track: item.track, seconds, slot, ...fixed };
    if (item.kind === 'open') return slotItem(item, clock);
    const over = item.overIntro === null ? {} : { overIntro: item.overIntro };
    return { item: item.kind, name, seconds, ...over, ...(item.bed === null ? {} : { bed: item.bed }), ...fixed };
  });
  const filled = fillHour({ ...wish, clock: { ...clock, items: wanted }, log: all });
  const own = filled.items.map((item, i): HourItem => ({ ...item, slot: items[i]?.slot ?? -1 }));
  return timed(reopened(own, items, { clock, log, ...wish }), wish.hourAt, clock.seconds);
}

/** What is in the hour already counts like what is in others. */
function withKept(log: AirLog, items: readonly HourItem[]): AirLog {
  const own = airLog(items.flatMap((i) => (i.kind === 'track' ? [{ at: i.at, track: i.track }] : [])));
  return {
    nearest: (what, name, at) => Math.min(log.nearest(what, name, at), own.nearest(what, name, at)),
    nearestOf: (id, at) => Math.min(log.nearestOf(id, at), own.nearestOf(id, at)),
    add: (aired) => own.add(aired),
  };
}

/** Opens again what was filled where it breaks a hard rule for something behind it that was kept before. */
function reopened(
  filled: readonly HourItem[],
  was: readonly HourItem[],
  { clock, hourAt, log, before }: Pick<RefillWish, 'clock' | 'hourAt' | 'log' | 'before'>,
): HourItem[] {
  const broken = (items: readonly HourItem[]): { text: string; where: number }[] =>
    judge(clock, items, hourAt, log, before)
      .filter((j) => j.rule.hard && j.state === 'broken')
      .flatMap((j) => j.where.map((where) => ({ text: j.text, where })));
  const before0 = new Set(broken(was).map((b) => `${b.text} ${b.where}`));
  let items = [...filled];
  for (;;) {
    const fault = broken(items).find((b) => !before0.has(`${b.text} ${b.where}`));
    if (!fault) return items;
    const at = items.findLastIndex((item, i) => i <= fault.where && item.kind === 'track' && was[i]?.kind === 'open');
    if (at < 0) return items;
    items = items.map((item, i): HourItem => (i === at ? opened(item, fault.text) : item));
  }
}

const opened = ({ at, seconds, name, fixed, slot }: HourItem, reason: string): HourItem => ({
  kind: 'open',
  at,
  seconds,
  name,
  fixed,
  slot,
  reason,
});

/** Tracks that came into an hour, by their places. */
export const newIn = (items: readonly HourItem[], was: readonly HourItem[]): { place: number; track: Airable }[] =>
  items.flatMap((item, place) =>
    item.kind === 'track' && was[place]?.kind === 'open' ? [{ place, track: item.track }] : [],
  );
