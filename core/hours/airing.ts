/** Tracks as rules look at them, and what has been and will be on air around an hour. */
import { matches, type Condition } from '../conditions/condition.ts';
import { fold } from '../fields/fold.ts';
import type { FieldValue, TrackValues } from '../fields/values.ts';
import { airTime, type AirTime } from './airtime.ts';
import type { FormatClock } from './clock.ts';
import { firstFrom } from './sorted.ts';
import type { IN_A_ROW } from './rules.ts';
import { APART, type HourRule } from './rules.ts';

/** Tempo classes of "at most n of a tempo in a row": below these, in BPM. */
export const TEMPO_CLASSES = [
  [95, 'slow'],
  [118, 'medium'],
  [Infinity, 'fast'],
] as const;
/** Energy up to which a start is a soft one, where there is an intro of some seconds before anybody sings. */
const SOFT_ENERGY = 35;
const SOFT_INTRO_SECONDS = 4;

/** A track made ready to be compared. */
export interface Airable {
  id: number;
  values: TrackValues;
  air: AirTime;
  /** Names by which it is kept apart, folded; an artist's aliases are one. */
  names: Record<(typeof APART)[number], readonly string[]>;
  /** What it is, where only so many in a row are of it. */
  classes: Record<(typeof IN_A_ROW)[number], readonly string[]>;
  energy: number | null;
  bpm: number | null;
  lufs: number | null;
  instrumental: boolean;
  cold: boolean;
  soft: boolean;
  addedAt: number | null;
  /** Conditions of shares that it meets, as JSON, where its values by themselves do not tell; null: they do. */
  shares: readonly string[] | null;
}

const texts = (value: FieldValue | undefined): string[] =>
  (Array.isArray(value) ? value.map(String) : typeof value === 'string' && value ? [value] : []).map(fold);
const number = (value: FieldValue | undefined): number | null => (typeof value === 'number' ? value : null);

/** Each name of an artist as the first one of its aliases. */
export function aliasNames(aliases: FormatClock['aliases'] = []): (name: string) => string {
  const known = new Map(aliases.flatMap((group) => group.map((name) => [fold(name), fold(group[0] ?? name)] as const)));
  return (name) => known.get(name) ?? name;
}

/** Null for what has no length, and cannot be put on air. */
export function airable(
  id: number,
  values: TrackValues,
  alias: (name: string) => string,
  shares: readonly string[] | null = null,
): Airable | null {
  const air = airTime(values);
  if (!air) return null;
  const year = number(values.year),
    bpm = number(values.bpm),
    energy = number(values.energy);
  const added = typeof values.addedAt === 'string' ? Date.parse(values.addedAt) / 1000 : NaN;
  return {
    id,
    values,
    air,
    names: {
      artist: texts(values.artist).map(alias),
      title: texts(values.title),
      label: texts(values.label),
      remixer: texts(values.remixer).map(alias),
    },
    classes: {
      genre: texts(values.genre),
      decade: year === null ? [] : [String(Math.floor(year / 10))],
      tempo: bpm === null ? [] : [TEMPO_CLASSES.find(([below]) => bpm < below)![1]],
      mood: texts(values.moods),
    },
    energy,
    bpm,
    lufs: number(values.lufs),
    instrumental: values.vocals === 'no',
    cold: values.ending === 'hard',
    soft: energy !== null && energy <= SOFT_ENERGY && air.intro >= SOFT_INTRO_SECONDS,
    addedAt: Number.isNaN(added) ? null : added,
    shares,
  };
}

/** What is on air when; moments are seconds since 1970. */
export interface Aired {
  at: number;
  track: Airable;
}

/** Times at which names are on air, to be asked quickly. */
export interface AirLog {
  /** Seconds to the nearest airing of a name, before or after; Infinity where there is none. */
  nearest(what: (typeof APART)[number], name: string, at: number): number;
  /** The same of a track itself. */
  nearestOf(id: number, at: number): number;
  add(aired: Aired): void;
}

export function airLog(all: readonly Aired[] = []): AirLog {
  const times = new Map<string, number[]>();
  const put = (key: string, at: number): void => {
    const own = times.get(key);
    if (own) own.splice(firstFrom(own, at), 0, at);
    else times.set(key, [at]);
  };
  const near = (key: string, at: number): number => {
    const own = times.get(key);
    if (!own) return Infinity;
    const place = firstFrom(own, at);
    return Math.min(at - (own[place - 1] ?? -Infinity), (own[place] ?? Infinity) - at);
  };
  const log: AirLog = {
    nearest: (what, name, at) => near(`${what} ${name}`, at),
    nearestOf: (id, at) => near(`id ${id}`, at),
    add({ at, track }) {
      put(`id ${track.id}`, at);
      for (const what of APART) for (const name of track.names[what]) put(`${what} ${name}`, at);
    },
  };
  for (const aired of all) log.add(aired);
  return log;
}

const keys = new WeakMap<Condition, string>();
/** A condition as JSON, by which it is known again. */
export function conditionKey(condition: Condition): string {
  const there = keys.get(condition);
  if (there !== undefined) return there;
  const key = JSON.stringify(condition);
  keys.set(condition, key);
  return key;
}

/** Does a track count for a rule that counts tracks of an hour? Null for rules of other sorts. */
export function counted(rule: HourRule, { values, addedAt, shares }: Airable, hourAt: number): boolean | null {
  if (rule.rule === 'new') return addedAt !== null && addedAt <= hourAt && addedAt >= hourAt - rule.days * 86_400;
  if (rule.rule === 'share')
    return shares ? shares.includes(conditionKey(rule.from)) : matches(rule.from, values, new Date(hourAt * 1000));
  return null;
}

/** May a track be on air at a moment at all? Null, or why not. */
export function forbidden(values: TrackValues, moment: Date, explicitFrom: string | undefined): string | null {
  const pad = (n: number): string => String(n).padStart(2, '0');
  const day = `${moment.getFullYear()}-${pad(moment.getMonth() + 1)}-${pad(moment.getDate())}`;
  const time = `${pad(moment.getHours())}:${pad(moment.getMinutes())}`;
  if (typeof values.playFrom === 'string' && day < values.playFrom.slice(0, 10)) return 'not to be played yet';
  if (typeof values.playTo === 'string' && day > values.playTo.slice(0, 10)) return 'not to be played any more';
  const parts = texts(values.dayparts).flatMap((part) => {
    const [, from, to] = /^(\d\d:\d\d)-(\d\d:\d\d)$/.exec(part) ?? [];
    return from && to ? [[from, to] as const] : [];
  });
  const inside = ([from, to]: readonly [string, string]): boolean =>
    from <= to ? time >= from && time < to : time >= from || time < to;
  if (parts.length > 0 && !parts.some(inside)) return 'not at this time of day';
  if (values.explicit === true && explicitFrom !== undefined && !inside([explicitFrom, EXPLICIT_UNTIL]))
    return `explicit words not before ${explicitFrom}`;
  return null;
}
const EXPLICIT_UNTIL = '06:00';
