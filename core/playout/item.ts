/** A track as an item of a playout system: what it lacks for that, and what the system is told of it. */
import { writeCsv, type Row } from '../exchange/csvTable.ts';
import { joined } from '../exchange/listedTrack.ts';
import { isEmpty, type TrackValues } from '../fields/values.ts';
import type { Bext, BextLoudness } from './bext.ts';
import { ALWAYS, type Cart, type CartTimer, type TimerUse } from './cart.ts';
import type { PlayoutSystem } from './system.ts';

/** Where what is missing is mended. */
export type Mending = 'Clean' | 'Sound' | 'Measure' | 'Disk';
export interface ItemNeed {
  /** The field that is missing or wrong. */
  field: string;
  /** A sentence. */
  reason: string;
  mend: Mending;
}

/** Marks in the order in which they have to stand, each with its field. */
const MARKS = [
  ['AUDs', 'audibleStartSeconds', 'audible start'],
  ['INTe', 'introEndSeconds', 'intro end'],
  ['SEGs', 'segueSeconds', 'segue point'],
  ['AUDe', 'audibleEndSeconds', 'audible end'],
] as const satisfies readonly (readonly [TimerUse, string, string])[];

/** Fields that an item is made of and judged by. */
export const ITEM_FIELDS = [
  ...['title', 'version', 'artist', 'album', 'genre', 'language', 'explicit', 'dayparts', 'playFrom', 'playTo'],
  ...['playoutId', 'kind', 'ending', 'lufs', 'durationSeconds', ...MARKS.map(([, field]) => field)],
] as const;

const numberIn = (values: TrackValues, field: string): number | null => {
  const value = values[field];
  return typeof value === 'number' && Number.isFinite(value) ? value : null;
};
/** Where a mark is. Jingles and what is spoken have nobody who begins to sing: their intro is over at once. */
const markIn = (values: TrackValues, field: string): number | null =>
  numberIn(values, field) ??
  (field === 'introEndSeconds' && !isEmpty(values.kind) && values.kind !== 'track'
    ? numberIn(values, 'audibleStartSeconds')
    : null);
const textIn = (values: TrackValues, field: string): string => joined(values[field]);
const dayIn = (values: TrackValues, field: string): string => textIn(values, field).slice(0, 10);

/** The ID of a track in a system; null for one that has none yet, or more than there is room for. */
export function itemId(playoutId: unknown, { idDigits }: PlayoutSystem): string | null {
  if (typeof playoutId !== 'number' || !Number.isInteger(playoutId) || playoutId < 0) return null;
  const id = String(playoutId).padStart(idDigits, '0');
  return id.length > idDigits ? null : id;
}

/** What the system would refuse of a track, each with where it is mended; none: it can go there. */
export function needsOfItem(values: TrackValues, system: PlayoutSystem): ItemNeed[] {
  const needs: ItemNeed[] = [];
  const need = (field: string, reason: string, mend: Mending): number => needs.push({ field, reason, mend });
  if (isEmpty(values.title)) need('title', 'It has no title', 'Clean');
  if (isEmpty(values.artist)) need('artist', 'It has no artist', 'Clean');
  if (itemId(values.playoutId, system) === null)
    need('playoutId', `It has no ID of ${system.idDigits} digits`, 'Clean');
  if (numberIn(values, 'lufs') === null) need('lufs', 'Its loudness was never measured', 'Measure');
  let before = 0;
  const length = numberIn(values, 'durationSeconds') ?? Infinity;
  for (const [, field, words] of MARKS) {
    const at = markIn(values, field);
    if (at === null) need(field, `It has no ${words}`, 'Sound');
    else if (at < before) need(field, `Its ${words} is before the point in front of it`, 'Sound');
    else if (at > length + NEAR) need(field, `Its ${words} is behind the end of the sound`, 'Sound');
    before = at ?? before;
  }
  const [from, to] = [dayIn(values, 'playFrom'), dayIn(values, 'playTo')];
  if (from && to && from > to) need('playTo', 'It may be played until a day before it may be played from', 'Clean');
  return needs;
}
/** Lengths are read in several ways that differ by so much, in seconds. */
const NEAR = 0.1;

/**
 * Its marks in samples, within the sound.
 * @param samples of the sound, at the rate of the system
 */
export const timersOf = (values: TrackValues, { hertz }: PlayoutSystem, samples: number): CartTimer[] =>
  MARKS.flatMap(([use, field]) => {
    const at = markIn(values, field);
    return at === null ? [] : [{ use, samples: Math.min(samples, Math.max(0, Math.round(at * hertz))) }];
  });

/** The `cart` chunk of a track. @throws RangeError for one without an ID */
export function cartOf(values: TrackValues, system: PlayoutSystem, samples: number): Cart {
  const cutId = itemId(values.playoutId, system);
  if (cutId === null) throw new RangeError('It has no ID');
  return {
    title: titleOf(values),
    artist: textIn(values, 'artist'),
    cutId,
    clientId: '',
    category: textIn(values, 'genre'),
    classification: textIn(values, 'dayparts'),
    outCue: textIn(values, 'ending') === 'fade' ? 'fade' : '',
    ...ALWAYS,
    ...(dayIn(values, 'playFrom') ? { startDate: dayIn(values, 'playFrom') } : {}),
    ...(dayIn(values, 'playTo') ? { endDate: dayIn(values, 'playTo') } : {}),
    ...{ producerApp: 'Early Set', producerAppVersion: '', userDefined: '', levelReference: 0 },
    timers: timersOf(values, system, samples),
    ...{ url: '', tagText: '' },
  };
}

/** The `bext` chunk of a track. @param at when it is made; ISO 8601 */
export const bextOf = (values: TrackValues, id: string, loudness: BextLoudness, at: string): Bext => ({
  description: [textIn(values, 'artist'), titleOf(values)].filter(Boolean).join(' - '),
  ...{ originator: 'Early Set', originatorReference: id, date: at.slice(0, 10), time: at.slice(11, 19) },
  ...{ timeReference: 0, loudness, codingHistory: '' },
});

const titleOf = (values: TrackValues): string => {
  const version = textIn(values, 'version');
  return `${textIn(values, 'title')}${version ? ` (${version})` : ''}`;
};

const COLUMNS = [
  ...['path', 'id', 'title', 'artist', 'album', 'category', 'daypart', 'valid from', 'valid to', 'language'],
  'explicit',
] as const;

/** The catalogue of items, keyed by path: a line each. */
export const catalogueOf = (items: readonly { path: string; values: TrackValues }[], system: PlayoutSystem): string =>
  writeCsv(
    COLUMNS,
    items.map(({ path, values }): Row => ({
      path,
      id: itemId(values.playoutId, system) ?? '',
      title: titleOf(values),
      artist: textIn(values, 'artist'),
      album: textIn(values, 'album'),
      category: textIn(values, 'genre'),
      daypart: textIn(values, 'dayparts'),
      'valid from': dayIn(values, 'playFrom'),
      'valid to': dayIn(values, 'playTo'),
      language: textIn(values, 'language'),
      explicit: values.explicit === true ? 'yes' : values.explicit === false ? 'no' : '',
    })),
  );

/** An hour as its log: when each item begins, in local time, and its ID. */
export const hourLog = (items: readonly { time: string; id: string }[]): string =>
  writeCsv(
    ['time', 'id'],
    items.map(({ time, id }) => ({ time, id })),
  );
