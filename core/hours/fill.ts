/**
 * Filling an hour. Between two fixed times, sequences of tracks are built place by place, the best few beginnings kept
 * (beam search, Lowerre 1976); the last place takes what ends on time. Hard rules are never broken: a place for which
 * nothing is left stays open, with the rule that stood in the way.
 */
import { fitted } from './airtime.ts';
import { counted, forbidden, type Airable, type Aired, type AirLog } from './airing.ts';
import { stretches, type FixedTime, type FormatClock } from './clock.ts';
import { breaks, quotaOf, type HourItem, type Spot } from './judge.ts';
import { lengthAt, takes, type Pool, type Slot } from './pool.ts';
import { firstFrom } from './sorted.ts';
import { ruleText, type HourRule } from './rules.ts';
import { OPEN_SECONDS, stepsOf, type FilledFrom, type Fixed, type Place, type Step } from './steps.ts';

export interface FillWish {
  /** Its items are those of a clock, or of an hour that is filled already in part. */
  clock: Omit<FormatClock, 'items'> & { items: readonly FilledFrom[] };
  /** The beginning of the hour, in seconds since 1970. */
  hourAt: number;
  poolOf: (slot: Slot) => Pool;
  /** What is on air in other hours. */
  log: AirLog;
  /** The last tracks of the hour before, the nearest last. */
  before: readonly Airable[];
  random: () => number;
}

/** How a fixed time is met: seconds too late, negative: too early. */
export interface Landing extends FixedTime {
  name: string;
  off: number;
}
export interface FilledHour {
  /** In order; moments in seconds since 1970. */
  items: HourItem[];
  landings: Landing[];
}

/** Beginnings that are kept, and how many ways each goes on. */
const KEPT = 16,
  WAYS = 8,
  /** At the last place, so many tracks next to the wished length are looked at on each side. */
  ENDINGS = 40;
/** A track is passed over with this chance, so that not all beginnings are alike. */
const PASSED_OVER = 0.4;
/** Moved ends of tracks move what comes after by less than this, in seconds; rules of time keep clear of it. */
const SHIFT = 60;
/** What a second costs: off the time, of a track that is faded, of one that is heard out. */
const OFF_COST = 100,
  FADE_COST = 0.6,
  OUT_COST = 0.2;
/** What a second costs by which the places left would have to be longer or shorter than tracks are. */
const AHEAD_COST = 0.1;
/** Shares of a pool that are no longer than what counts as short there, and as long. */
const SHORT = 0.15,
  LONG = 0.85;
/** A place that stays open costs more than all wishes. */
const OPEN_COST = 10_000;

interface State {
  /** When the next item begins, in seconds since 1970. */
  at: number;
  items: HourItem[];
  hour: Aired[];
  previous: Airable[];
  /** Tracks that count, by rule. */
  counts: number[];
  /** Places for tracks behind it. */
  placed: number;
  cost: number;
}

/** Fills an hour from nothing. */
export function fillHour(wish: FillWish): FilledHour {
  const { clock, hourAt } = wish;
  const all = stretches(clock);
  const cut = all.map((stretch, i) => ({
    stretch,
    steps: stepsOf(stretch, all[i - 1]?.items.at(-1), all[i + 1]?.items[0], wish),
  }));
  const places = cut.reduce((n, { steps }) => n + steps.filter((s) => s.kind !== 'fixed').length, 0);
  const quotas = clock.rules.map((rule) => quotaOf(rule, places));
  const landings: Landing[] = [];
  let state: State = {
    at: hourAt,
    items: [],
    hour: [],
    previous: [...wish.before],
    counts: clock.rules.map(() => 0),
    placed: 0,
    cost: 0,
  };
  for (const [i, { stretch, steps }] of cut.entries()) {
    const to = hourAt + stretch.to.at;
    const found = fillStretch(wish, { state, steps, to, places, quotas });
    const off = Math.round((found.at - to) * 1000) / 1000;
    landings.push({ ...stretch.to, name: cut[i + 1]?.stretch.items[0]?.name ?? 'end of the hour', off });
    // Too early there is a hole before it; too late it begins late.
    state = { ...found, at: Math.max(to, found.at) };
  }
  return { items: state.items, landings };
}

interface StretchWish {
  state: State;
  steps: readonly Step[];
  /** When it is to end. */
  to: number;
  /** Places for tracks of the whole hour. */
  places: number;
  quotas: readonly ({ least: number; most: number } | null)[];
}

function fillStretch(wish: FillWish, { state, steps, to, places, quotas }: StretchWish): State {
  const lastPlace = steps.findLastIndex((s) => s.kind === 'place');
  const begun = state.items.length;
  const asItStands = lastPlace < 0;
  let beam = [state];
  for (const [i, step] of steps.entries()) {
    if (step.kind === 'fixed') {
      beam = beam.map((s) => withFixed(s, step));
      continue;
    }
    if (step.kind === 'kept') {
      const { track, seconds } = step.item;
      const own = asItStands ? seconds : track.air.natural;
      beam = beam.map((s) => withTrack(wish.clock.rules, wish.hourAt, s, track, step.slot, own));
      continue;
    }
    const after = steps.slice(i + 1);
    const setAfter = after.reduce(
      (sum, s) => sum + (s.kind === 'fixed' ? s.item.seconds : s.kind === 'kept' ? takes(s.item.track, s.slot) : 0),
      0,
    );
    const rest: Rest = { to: to - setAfter, last: i === lastPlace, after: after.filter((s) => s.kind === 'place') };
    const next = beam.flatMap((s) => ways(wish, s, step, { places, quotas, rest, begun }));
    next.sort((a, b) => a.cost - b.cost);
    beam = next.slice(0, rest.last ? 1 : KEPT);
  }
  return asItStands ? beam[0]! : landed(beam[0]!, begun, to);
}

const withFixed = (state: State, { item, slot }: Fixed): State => ({
  ...state,
  at: state.at + item.seconds,
  items: [
    ...state.items,
    {
      kind: item.item,
      at: state.at,
      seconds: item.seconds,
      name: item.name,
      fixed: item.fixed ?? null,
      slot,
      overIntro: item.overIntro ?? null,
      bed: item.bed ?? null,
    },
  ],
});

interface Rest {
  /** When the places that are left have to be over. */
  to: number;
  last: boolean;
  after: readonly Place[];
}
interface Bounds {
  places: number;
  quotas: StretchWish['quotas'];
  rest: Rest;
  /** Items of the hour before this stretch. */
  begun: number;
}

/** How a beginning can go on at a place; where nothing may come there, it stays open. */
function ways(wish: FillWish, state: State, { slot, pool }: Place, bounds: Bounds): State[] {
  const { rest } = bounds;
  const found: State[] = [];
  const refusals = new Map<string, number>();
  const consider = (track: Airable, contour: number): boolean => {
    const judged = judgeThere(wish, state, track, slot, bounds);
    if (typeof judged === 'string') {
      refusals.set(judged, (refusals.get(judged) ?? 0) + 1);
      return false;
    }
    const next = withTrack(wish.clock.rules, wish.hourAt, state, track, slot);
    found.push({ ...next, cost: state.cost + judged + contour + timeCost(wish, next, bounds) });
    return true;
  };
  if (endsThere(wish, { ...state, placed: state.placed + 1 }, bounds, lengthAt(pool, LONG))) {
    const { byLength, lengths } = pool;
    const middle = firstFrom(lengths, rest.to - state.at);
    let above = middle,
      below = middle - 1,
      taken = 0;
    // From the wished length outwards, until enough fit; then whatever fits at all.
    while ((above < byLength.length || below >= 0) && taken < ENDINGS) {
      if (above < byLength.length && consider(byLength[above++]!, 0)) taken++;
      if (below >= 0 && consider(byLength[below--]!, 0)) taken++;
    }
  }
  if (!rest.last) {
    const before = found.length;
    for (const { track, cost } of pool.byContour) {
      if (wish.random() < PASSED_OVER) continue;
      if (consider(track, cost) && found.length === before + WAYS) break;
    }
    if (found.length === 0) for (const { track, cost } of pool.byContour) if (consider(track, cost)) break;
  }
  const without = leftOut(wish, state, { slot, pool }, bounds);
  if (found.length === 0) return [without?.instead ? without.state : leftOpen(state, slot, pool, rest, refusals)];
  return without ? [...found, without.state] : found;
}

/**
 * A place of a filler is left out where there is no time for it; null where there is, and where it is needed.
 * @returns `instead`: also where nothing can be there, since without it the stretch ends on time
 */
function leftOut(
  wish: FillWish,
  state: State,
  { slot, pool }: Pick<Place, 'slot' | 'pool'>,
  bounds: Bounds,
): { state: State; instead: boolean } | null {
  const { rest, begun } = bounds;
  const left = rest.to - state.at;
  const after = rest.after.reduce((sum, step) => sum + lengthAt(step.pool, SHORT), 0);
  if (left >= after + lengthAt(pool, SHORT) || !canDoWithout(wish, state, [slot], bounds)) return null;
  const next: State = { ...state, placed: state.placed + 1 };
  const cost = timeCost(wish, next, bounds);
  return {
    state: { ...next, cost: state.cost + cost },
    instead: rest.last ? landingCost(next, begun, rest.to) < OFF_COST : left < after,
  };
}

/** May the next places be left out, as far as hard rules go? */
function canDoWithout(
  { clock }: FillWish,
  { placed, counts }: State,
  slots: readonly Slot[],
  { places, quotas }: Pick<Bounds, 'places' | 'quotas'>,
): boolean {
  const others = places - placed - slots.length;
  const isNeeded = ({ spare, link, beforeSpoken }: Slot): boolean =>
    // What is spoken before it lies over its intro, and a track that may have to be instrumental is chosen for it.
    !spare ||
    link !== null ||
    (beforeSpoken && clock.rules.some((r) => r.hard && r.rule === 'instrumental before link'));
  const counted = (rule: HourRule, i: number): boolean =>
    rule.hard &&
    quotas[i] !== null &&
    // With fewer places the same number is a greater share.
    ((rule.rule === 'share' && (rule.most ?? 1) < 1) || misses(quotas[i]!, counts[i]!, false, others));
  return !slots.some(isNeeded) && !clock.rules.some(counted);
}

/** The place stays open, for the reason that most often stood in the way. */
function leftOpen(
  state: State,
  slot: Slot,
  pool: Pool,
  { last, to }: Rest,
  refusals: ReadonlyMap<string, number>,
): State {
  const [reason = 'no track meets its condition'] = [...refusals].sort((a, b) => b[1] - a[1])[0] ?? [];
  const seconds = last ? Math.max(0, to - state.at) : lengthAt(pool, 0.5) || OPEN_SECONDS;
  return {
    ...state,
    at: state.at + seconds,
    items: [
      ...state.items,
      { kind: 'open', at: state.at, seconds, name: slot.name, fixed: slot.fixed, slot: slot.at, reason },
    ],
    placed: state.placed + 1,
    cost: state.cost + OPEN_COST,
  };
}

const startOf = (state: State, track: Airable, slot: Slot): number =>
  state.at - Math.min(track.air.intro, slot.link ?? 0);

function withTrack(
  rules: readonly HourRule[],
  hourAt: number,
  state: State,
  track: Airable,
  slot: Slot,
  seconds = track.air.natural,
): State {
  const at = startOf(state, track, slot);
  return {
    at: at + seconds,
    items: [...state.items, { kind: 'track', at, seconds, name: slot.name, fixed: slot.fixed, slot: slot.at, track }],
    hour: [...state.hour, { at, track }],
    previous: [...state.previous, track],
    counts: rules.map((rule, i) => state.counts[i]! + (counted(rule, track, hourAt) ? 1 : 0)),
    placed: state.placed + 1,
    cost: state.cost,
  };
}

/** What wishes cost there, or the hard rule that stands in the way. */
function judgeThere(
  { clock, log, hourAt }: FillWish,
  state: State,
  track: Airable,
  slot: Slot,
  { places, quotas }: Bounds,
): number | string {
  if (state.hour.some((a) => a.track.id === track.id)) return 'every track that fits is in the hour already';
  const at = startOf(state, track, slot);
  for (const moment of [at - SHIFT, at + SHIFT]) {
    const why = forbidden(track.values, new Date(moment * 1000), clock.explicitFrom);
    if (why) return why;
  }
  const { previous, hour } = state;
  const spot: Spot = { at, log, hour, previous, direct: slot.direct, link: slot.link, beforeSpoken: slot.beforeSpoken };
  const left = places - state.placed - 1;
  let cost = 0;
  for (const [i, rule] of clock.rules.entries()) {
    const quota = quotas[i];
    const broken = quota
      ? misses(quota, state.counts[i]!, counted(rule, track, hourAt) === true, left)
      : breaksSoon(rule, track, spot);
    if (!broken) continue;
    if (rule.hard) return ruleText(rule);
    cost += rule.weight;
  }
  return cost;
}

/** Would a count come to lie beyond its bounds, whatever comes after? */
const misses = (
  { least, most }: { least: number; most: number },
  count: number,
  one: boolean,
  left: number,
): boolean => (one ? count + 1 > most : count + left < least);

/** Rules of time keep clear of what adjusting may move. */
const breaksSoon = (rule: HourRule, track: Airable, spot: Spot): boolean =>
  breaks(rule.rule === 'apart' ? { ...rule, minutes: rule.minutes + SHIFT / 60 } : rule, track, spot) ||
  (rule.rule === 'rested' && spot.log.nearestOf(track.id, spot.at) < rule.days * 86_400 + SHIFT);

/** Is there no time for the places behind, and can they be left out? */
function endsThere(wish: FillWish, state: State, { rest, ...bounds }: Bounds, more = 0): boolean {
  const { to, last, after } = rest;
  if (last) return true;
  const slots = after.map((step) => step.slot);
  return to - state.at < more + lengthAt(after[0]!.pool, SHORT) && canDoWithout(wish, state, slots, bounds);
}

/** What the time that is left costs: at an end how far it is from its time, else whether the places left suit it. */
const timeCost = (wish: FillWish, state: State, bounds: Bounds): number =>
  endsThere(wish, state, bounds) ? landingCost(state, bounds.begun, bounds.rest.to) : aheadCost(state, bounds.rest);

/** What it costs that the places left would need tracks that are longer or shorter than there are. */
function aheadCost({ at }: State, { to, after }: Rest): number {
  const left = to - at;
  const [least, most] = [SHORT, LONG].map((share) => after.reduce((sum, { pool }) => sum + lengthAt(pool, share), 0));
  return AHEAD_COST * Math.max(0, left - most!, least! - left);
}

const tracksOf = (items: readonly HourItem[], begun: number): Airable[] =>
  items.slice(begun).flatMap((i) => (i.kind === 'track' ? [i.track] : []));

function landingCost({ at, items }: State, begun: number, to: number): number {
  const tracks = tracksOf(items, begun).map((t) => t.air);
  const natural = tracks.reduce((sum, t) => sum + t.natural, 0);
  const wanted = Math.max(-SHIFT, Math.min(SHIFT, to - at));
  const { off } = fitted(tracks, natural + wanted);
  const adjusted = Math.abs(wanted - off);
  return OFF_COST * Math.abs(to - at - wanted + off) + adjusted * (wanted < 0 ? FADE_COST : OUT_COST);
}

/** Adjusts the ends of a stretch's tracks, so that it ends on time as nearly as it can. */
function landed(state: State, begun: number, to: number): State {
  const tracks = tracksOf(state.items, begun).map((t) => t.air);
  const natural = tracks.reduce((sum, t) => sum + t.natural, 0);
  const wanted = Math.max(-SHIFT, Math.min(SHIFT, to - state.at));
  const { lengths } = fitted(tracks, natural + wanted);
  let shift = 0,
    next = 0;
  const items = state.items.map((item, i): HourItem => {
    if (i < begun) return item;
    const at = item.at + shift;
    if (item.kind !== 'track') return { ...item, at };
    const seconds = lengths[next++]!;
    shift += seconds - item.track.air.natural;
    return { ...item, at, seconds };
  });
  let heard = 0;
  const hour = state.hour.map((aired) => aired);
  const begunTracks = hour.length - tracks.length;
  for (const item of items.slice(begun))
    if (item.kind === 'track') hour[begunTracks + heard++] = { at: item.at, track: item.track };
  return { ...state, at: state.at + shift, items, hour };
}
