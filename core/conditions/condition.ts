/**
 * One tree of conditions over fields: the sheet's filters, histograms, counts and self-filling crates
 * are all this. It is tested in memory here and compiled to SQL by the server, with the same answer.
 */
import { addDays, parseISO } from 'date-fns';
import { fold, searchWords } from '../fields/fold.ts';
import type { FileRef } from '../files/fileRef.ts';
import { folderOf } from '../files/paths.ts';
import { cut } from '../fields/cut.ts';
import { ALL_KEYS, fifthsApart } from '../fields/keys.ts';
import { FIELDS, fieldOf, type Field } from '../fields/table.ts';
import { isEmpty, type FieldValue, type TrackValues } from '../fields/values.ts';

export type Condition =
  | { all: Condition[] }
  | { any: Condition[] }
  | { not: Condition }
  /** In one of these crates and playlists, itself and not below. */
  | { inLists: string[] }
  /** In one of the playlists of these dates; who is in a crate that fills itself is not asked. */
  | { onDates: number[] }
  /** Taken in, found changed, found again or missing by this scan. */
  | { ofScan: number; as: ScanPart }
  /** In this folder of a root, itself or also below; an empty path is the root. */
  | { inFolder: FileRef; below: boolean }
  /** low ≤ value ≤ high; an open end is left out. Empty values fail. */
  | { field: string; test: 'between'; low?: number; high?: number }
  /** The value, or one of several values, is among these. */
  | { field: string; test: 'one of'; values: string[] }
  | { field: string; test: 'empty' }
  /** The text begins with these characters, just so. */
  | { field: string; test: 'begins'; text: string }
  | { field: string; test: 'is'; value: boolean }
  /** A date since local midnight so many days ago; 0 is today. */
  | { field: string; test: 'in the last'; days: number }
  /** A date from one day to another, both included, in local time ("2026-11-27"); an open end is left out. */
  | { field: string; test: 'days'; from?: string; to?: string }
  /** Its value was typed, and not measured or read from a tag. */
  | { field: string; test: 'by hand' }
  /** A key at most so many fifths from another on the circle; a key and its relative are the same there. */
  | { field: string; test: 'near key'; key: string; reach: number }
  /** low ≤ tempo ≤ high, also when it is counted in half or in double time. */
  | { field: string; test: 'tempo'; low: number; high: number }
  /** Every word, and every phrase in quotes, stands in some searched field, or in this one. */
  | { test: 'words'; text: string; field?: string };

/** What a scan can find of a track. */
export const SCAN_PARTS = ['taken', 'changed', 'returned', 'missing'] as const;
export type ScanPart = (typeof SCAN_PARTS)[number];

/** Matches everything. */
export const EVERYTHING: Condition = { all: [] };

/** Fields that 'words' looks through. */
export const SEARCHED: readonly Field[] = FIELDS.filter((f) => f.searched);
/** Changes with the fields that are looked through, and their order: what was stored in another is made anew. */
export const SEARCH_LAYOUT = 1;

/** The text that 'words' looks through: all searched fields, folded, each on a line of its own. */
export const searchText = (track: TrackValues): string => SEARCHED.map((f) => searchLine(track[f.id])).join('\n');

const searchLine = (value: FieldValue | undefined): string =>
  isEmpty(value) ? '' : cut(fold(Array.isArray(value) ? value.join(' ') : String(value)), MAX_LINE);
const MAX_LINE = 60_000;

/** Under this name a track's values hold the lists that it lies in. */
export const IN_LISTS = 'listIds';

/** Under this name a track's values hold the numbers of the dates on whose playlists it is. */
export const ON_DATES = 'dateIds';

/** Under this name a track's values hold what scans found of it: "12 taken". */
export const OF_SCANS = 'scans';

/** Under this name a track's values hold the root of its file. */
export const ROOT_ID = 'rootId';

/** Under this name a track's values hold the fields whose values were typed. */
export const BY_HAND = 'byHand';

/** Local midnight so many days ago. */
export const midnight = (now: Date, daysAgo: number): Date =>
  new Date(now.getFullYear(), now.getMonth(), now.getDate() - daysAgo);

/** The moments between which days lie, the second one not included; null for an open end. */
export function momentsOf({ from, to }: { from?: string; to?: string }): [from: Date | null, to: Date | null] {
  return [from === undefined ? null : parseISO(from), to === undefined ? null : addDays(parseISO(to), 1)];
}

/** The keys at most so many fifths from one. */
export const keysNear = (key: string, reach: number): string[] =>
  ALL_KEYS.filter((k) => (fifthsApart(k, key) ?? Infinity) <= reach);

/** A tempo range as it is, in double and in half time. */
export const tempoRanges = (low: number, high: number): [low: number, high: number][] => [
  [low, high],
  [low * 2, high * 2],
  [low / 2, high / 2],
];

/** Does a track meet a condition? @throws RangeError for an unknown field. */
export function matches(condition: Condition, track: TrackValues, now: Date = new Date()): boolean {
  if ('all' in condition) return condition.all.every((c) => matches(c, track, now));
  if ('any' in condition) return condition.any.some((c) => matches(c, track, now));
  if ('not' in condition) return !matches(condition.not, track, now);
  if ('inLists' in condition) {
    const lists = track[IN_LISTS];
    return Array.isArray(lists) && lists.some((id) => condition.inLists.includes(id));
  }
  if ('onDates' in condition) {
    const dates = track[ON_DATES];
    return Array.isArray(dates) && condition.onDates.some((id) => dates.includes(String(id)));
  }
  if ('ofScan' in condition) {
    const scans = track[OF_SCANS];
    return Array.isArray(scans) && scans.includes(`${condition.ofScan} ${condition.as}`);
  }
  if ('inFolder' in condition) {
    const { rootId, path } = condition.inFolder;
    if (track[ROOT_ID] !== rootId || typeof track.path !== 'string') return false;
    const folder = folderOf(track.path).slice(0, -1);
    return condition.below ? path === '' || folder === path || folder.startsWith(`${path}/`) : folder === path;
  }
  if (condition.test === 'words') {
    const text =
      condition.field === undefined ? searchText(track) : searchLine(track[searchedField(condition.field).id]);
    return searchWords(condition.text).every((word) => text.includes(word));
  }
  const { id } = fieldOf(condition.field),
    value = track[id] ?? null;
  switch (condition.test) {
    case 'by hand': {
      const typed = track[BY_HAND];
      return Array.isArray(typed) && typed.includes(id);
    }
    case 'between':
      return (
        typeof value === 'number' &&
        (condition.low === undefined || value >= condition.low) &&
        (condition.high === undefined || value <= condition.high)
      );
    case 'one of': {
      const held = Array.isArray(value) ? value : isEmpty(value) ? [] : [String(value)];
      return held.some((v) => condition.values.includes(v));
    }
    case 'empty':
      return isEmpty(value);
    case 'begins':
      return typeof value === 'string' && value !== '' && value.startsWith(condition.text);
    case 'is':
      return (value === true) === condition.value;
    case 'in the last':
      return (
        fieldOf(condition.field).type === 'date' &&
        typeof value === 'string' &&
        new Date(value) >= midnight(now, condition.days)
      );
    case 'days': {
      if (fieldOf(condition.field).type !== 'date' || typeof value !== 'string') return false;
      const [from, to] = momentsOf(condition);
      return (from === null || new Date(value) >= from) && (to === null || new Date(value) < to);
    }
    case 'near key':
      return typeof value === 'string' && keysNear(condition.key, condition.reach).includes(value);
    case 'tempo':
      return (
        typeof value === 'number' &&
        tempoRanges(condition.low, condition.high).some(([low, high]) => value >= low && value <= high)
      );
  }
}

/** A field that 'words' looks through. @throws RangeError for others */
export function searchedField(id: string): Field {
  const field = fieldOf(id);
  if (!field.searched) throw new RangeError(`${field.label} is not searched`);
  return field;
}

/** Joins conditions so that all must hold, leaving out what always does. */
export function allOf(...conditions: (Condition | null | undefined)[]): Condition {
  const kept = conditions.filter((c): c is Condition => !!c && !('all' in c && c.all.length === 0));
  return kept.length === 1 ? kept[0]! : { all: kept };
}
