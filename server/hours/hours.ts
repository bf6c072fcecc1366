/** Hours read, timed and judged. */
import type { EndsBy, HourContents, HourLine } from '@early-set/core/api/hours';
import { basename } from 'node:path';
import type { TrackValues } from '@early-set/core/fields/values';
import type { Entry } from '@early-set/core/changes/snapshot';
import { airLog, type Airable } from '@early-set/core/hours/airing';
import { lastBefore } from '@early-set/core/hours/day';
import { timed, type TimedHour } from '@early-set/core/hours/edit';
import { forbiddenIn, judge, type HourItem, type Judgement } from '@early-set/core/hours/judge';
import type { Database } from '../db/database.ts';
import { airedBetween, hourState, reachOf, type HourState } from './load.ts';

export const textOf = (value: unknown): string =>
  Array.isArray(value) ? value.join('; ') : typeof value === 'string' ? value : '';
/** What a track is called: by its title, or by its file. */
export const titleOf = (values: TrackValues | undefined): string =>
  textOf(values?.title) || basename(textOf(values?.path));
export const numberOf = (value: unknown): number | null => (typeof value === 'number' ? value : null);
export const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

interface Judged {
  hour: HourState;
  times: TimedHour;
  judgements: Judgement[];
}

/** An hour as it would be with these items, judged after what is on air around it. */
export async function judged(database: Database, hour: HourState, items: readonly HourItem[]): Promise<Judged> {
  const { clock, hourAt, id } = hour;
  const reach = reachOf(clock.rules);
  const aired = await airedBetween(database, hourAt - reach, hourAt + clock.seconds + reach, new Set([id]));
  const times = timed(items, hourAt, clock.seconds);
  const judgements = judge(clock, times.items, hourAt, airLog(aired), lastBefore(aired, hourAt));
  return { hour, times, judgements };
}

export const itemsOfState = ({ items }: HourState): HourItem[] => items.map((i) => i.item);

/** An hour for the page. @throws Problem when there is none */
export async function hourContents(database: Database, id: string): Promise<HourContents> {
  const hour = await hourState(database, id);
  const { times, judgements } = await judged(database, hour, itemsOfState(hour));
  const whyNot = new Map(forbiddenIn(times.items, hour.clock.explicitFrom).map((f) => [f.place, f.why]));
  const placeOf = new Map(hour.items.map(({ entry }, i) => [entry.id, i]));
  let landing = 0,
    at = hour.hourAt;
  const lines = hour.entries.map((entry): HourLine => {
    const place = placeOf.get(entry.id);
    const item = place === undefined ? null : times.items[place]!;
    const off = item?.fixed && place! > 0 ? times.landings[landing++]!.off : item?.fixed ? 0 : null;
    const line = lineAt(hour, entry, item, at);
    if (item) at = item.at + item.seconds;
    const broken = judgements.filter((j) => place !== undefined && j.where.includes(place)).map((j) => j.text);
    const why = place === undefined ? undefined : whyNot.get(place);
    return { ...line, off, toNext: times.landings[landing]!.off, broken, reason: line.reason ?? why ?? null };
  });
  return {
    id,
    info: hour.info,
    seconds: hour.clock.seconds,
    lines,
    off: times.landings.at(-1)!.off,
    rules: judgements.map(({ rule, text, state, where }) => ({ text, hard: rule.hard, state, times: where.length })),
  };
}

/** What a line says by itself. @param at when the next item begins, for what is no item */
function lineAt({ rows }: HourState, entry: Entry, item: HourItem | null, at: number): HourLine {
  const { data, trackId } = entry;
  const row = trackId === null ? undefined : rows.get(trackId);
  return {
    entryId: entry.id,
    kind: item?.kind ?? 'note',
    name: item?.kind === 'track' ? titleOf(row?.values) || item.name : (item?.name ?? data.text ?? ''),
    artist: item?.kind === 'track' ? textOf(row?.values.artist) : '',
    trackId,
    file: row && item?.kind !== 'track' ? titleOf(row.values) : null,
    at: rounded(item?.at ?? at),
    seconds: rounded(item?.seconds ?? 0),
    fixed: item?.fixed ?? null,
    off: null,
    toNext: 0,
    intro:
      item?.kind === 'track' && numberOf(row?.values.introEndSeconds) !== null ? rounded(item.track.air.intro) : null,
    ends: item?.kind === 'track' ? endsOf(item.track, item.seconds) : null,
    overIntro: data.overIntro ?? null,
    bed: data.bed ?? null,
    out: data.out ?? null,
    reason: item?.kind === 'open' ? item.reason : null,
    broken: [],
    pinned: data.pinned === true,
    remark: data.remark ?? null,
    missing: row !== undefined && row.values.fileState !== 'here',
  };
}

/** Ends nearer to the segue point than this are taken for it, in seconds. */
const AT_SEGUE = 0.05;

function endsOf({ air }: Airable, seconds: number): { at: number; by: EndsBy } {
  const more = seconds - air.natural;
  return {
    at: rounded(air.start + seconds),
    by: Math.abs(more) < AT_SEGUE ? 'segue' : more < 0 ? 'fade' : 'heard out',
  };
}
