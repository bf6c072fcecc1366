/** The sheet's filters: kept in the address, shown as chips, sent as conditions. */
import type { FacetList } from '@early-set/core/api/types';
import { allOf, SEARCHED, type Condition } from '@early-set/core/conditions/condition';
import { needsOf, DEFAULT_RULES, type GapRules } from '@early-set/core/conditions/needs';
import { ALL_KEYS, signatureOf } from '@early-set/core/fields/keys';
import { fieldOf } from '@early-set/core/fields/table';
import type { FileRef } from '@early-set/core/files/fileRef';
import { clockLength } from '@early-set/core/clock/clock';
import { cut } from '@early-set/core/fields/cut';

export type RangeName = 'tempo' | 'energy' | 'year' | 'length';
export interface Range {
  low: number;
  high: number;
}
/** A key signature (−5 … +6) and how many neighbours on each side. */
export interface KeyFilter {
  signature: number;
  reach: number;
}

export interface Filters {
  find: string;
  /** Field in which is looked; null for all. */
  findIn: string | null;
  ranges: Partial<Record<RangeName, Range>>;
  key: KeyFilter | null;
  /** Chosen values; "" stands for none. */
  lists: Partial<Record<FacetList, string[]>>;
  /** A folder, itself and all below it. */
  folder: FileRef | null;
  needs: string[];
  /** A condition from elsewhere, with what it says. */
  also: { label: string; where: Condition } | null;
}

/** Changes the filters, from what they are when it is carried out: several quick changes all count. */
export type Narrow = (change: (now: Filters) => Filters) => void;

/** Needs by id; what they say does not depend on the rules. */
export const NEED_LABELS = new Map(needsOf(DEFAULT_RULES).map((n) => [n.id, n.label]));
const RANGE_FIELDS: Record<RangeName, string> = {
  tempo: 'bpm',
  energy: 'energy',
  year: 'year',
  length: 'durationSeconds',
};
const RANGES = Object.keys(RANGE_FIELDS) as RangeName[];
/** Lists of values, with what one says that is empty. */
const NONE: Record<FacetList, string> = {
  genre: 'No genre',
  artist: 'No artist',
  format: 'No format',
  rating: 'No stars',
  moods: 'No moods',
  freeTags: 'No free tags',
  hearLater: 'Not marked to hear later',
  comment: 'No comment',
};
const LISTS = Object.keys(NONE) as FacetList[];

/** What a value of a list is called. */
export function valueWords(name: FacetList, value: string): string {
  if (value === '') return NONE[name];
  if (name === 'rating') return value === '1' ? '1 star' : `${value} stars`;
  if (name === 'hearLater') return 'Hear later';
  return name === 'comment' ? 'With a comment' : value;
}
/** Address parameters that are filters. */
export const FILTER_PARAMETERS = ['find', 'in', 'key', 'needs', 'also', 'folder', ...RANGES, ...LISTS];

/** Reads filters from an address; what makes no sense is passed over. */
export function readFilters(params: URLSearchParams): Filters {
  const ranges: Filters['ranges'] = {};
  for (const name of RANGES) {
    const match = /^(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)$/.exec(params.get(name) ?? '');
    if (match && Number(match[1]) <= Number(match[2])) ranges[name] = { low: Number(match[1]), high: Number(match[2]) };
  }
  const key = /^(-?\d)~([0-6])$/.exec(params.get('key') ?? '');
  const lists: Filters['lists'] = {};
  for (const name of LISTS) if (params.has(name)) lists[name] = [...new Set(params.getAll(name))];
  return {
    find: params.get('find') ?? '',
    findIn: SEARCHED.some((f) => f.id === params.get('in')) ? params.get('in') : null,
    ranges,
    key:
      key && Number(key[1]) >= -5 && Number(key[1]) <= 6 ? { signature: Number(key[1]), reach: Number(key[2]) } : null,
    lists,
    folder: readFolder(params.get('folder')),
    needs: params.getAll('needs').filter((id) => NEED_LABELS.has(id)),
    also: readAlso(params.get('also')),
  };
}

/** "3:House/Late": a root's number and a folder below it. */
function readFolder(text: string | null): FileRef | null {
  const match = /^(\d{1,9}):(.*)$/s.exec(text ?? '');
  return match ? { rootId: Number(match[1]), path: match[2]! } : null;
}

/** The address of the sheet with just the tracks that meet a condition. */
export const sheetAddress = (label: string, where: Condition): string =>
  `/tracks?${new URLSearchParams({ also: JSON.stringify({ label, where }) }).toString()}`;

function readAlso(text: string | null): Filters['also'] {
  try {
    const read = JSON.parse(text ?? 'null') as Filters['also'];
    return read && typeof read.label === 'string' && typeof read.where === 'object' && read.where !== null
      ? { label: read.label, where: read.where }
      : null;
  } catch {
    return null;
  }
}

/** Writes filters into an address, leaving its other parameters. */
export function writeFilters(filters: Filters, params: URLSearchParams): URLSearchParams {
  const out = new URLSearchParams(params);
  for (const name of FILTER_PARAMETERS) out.delete(name);
  if (filters.find) out.set('find', filters.find);
  if (filters.findIn) out.set('in', filters.findIn);
  for (const name of RANGES) {
    const r = filters.ranges[name];
    if (r) out.set(name, `${r.low}-${r.high}`);
  }
  if (filters.key) out.set('key', `${filters.key.signature}~${filters.key.reach}`);
  for (const name of LISTS) for (const value of filters.lists[name] ?? []) out.append(name, value);
  for (const need of filters.needs) out.append('needs', need);
  if (filters.folder) out.set('folder', `${filters.folder.rootId}:${filters.folder.path}`);
  if (filters.also) out.set('also', JSON.stringify(filters.also));
  return out;
}

/** Signatures taken by a key filter, around the circle. */
export function signaturesOf({ signature, reach }: KeyFilter): number[] {
  const wrap = (s: number): number => ((s + 5 + 24) % 12) - 5;
  return Array.from({ length: 2 * reach + 1 }, (_, i) => wrap(signature - reach + i));
}

/** One condition per facet. */
export function conditionsOf(filters: Filters, rules: GapRules = DEFAULT_RULES): Record<string, Condition> {
  const out: Record<string, Condition> = {};
  if (filters.find.trim())
    out.find = { test: 'words', text: filters.find, ...(filters.findIn ? { field: filters.findIn } : {}) };
  for (const name of RANGES) {
    const r = filters.ranges[name];
    if (r) out[name] = { field: RANGE_FIELDS[name], test: 'between', low: r.low, high: r.high };
  }
  if (filters.key) {
    const wanted = new Set(signaturesOf(filters.key));
    out.key = { field: 'key', test: 'one of', values: ALL_KEYS.filter((k) => wanted.has(signatureOf(k)!)) };
  }
  for (const name of LISTS) {
    const values = filters.lists[name];
    if (!values?.length) continue;
    out[name] = listCondition(name, values);
  }
  if (filters.folder) out.folder = { inFolder: filters.folder, below: true };
  if (filters.also) out.also = filters.also.where;
  if (filters.needs.length)
    out.needs = allOf(...filters.needs.map((id) => needsOf(rules).find((n) => n.id === id)!.condition));
  return out;
}

function listCondition(name: FacetList, values: readonly string[]): Condition {
  const named = values.filter(Boolean),
    empty = { field: name, test: 'empty' } as const;
  const parts: Condition[] = [];
  if (named.length && name === 'comment') parts.push({ not: empty });
  else if (named.length && name === 'hearLater') parts.push({ field: name, test: 'is', value: true });
  else if (named.length) parts.push({ field: name, test: 'one of', values: named });
  if (values.includes('')) parts.push(name === 'hearLater' ? { field: name, test: 'is', value: false } : empty);
  return parts.length === 1 ? parts[0]! : { any: parts };
}

export interface Chip {
  id: string;
  label: string;
  without: (now: Filters) => Filters;
}

const MAJOR_BY_SIGNATURE = ['D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯'];
/** "C" for 0, "A♭" for −4: the major key of a signature. */
export const majorOf = (signature: number): string => MAJOR_BY_SIGNATURE[signature + 5]!;

/** The filters as chips, each with how it is taken off. */
export function chipsOf(filters: Filters): Chip[] {
  const chips: Chip[] = [];
  if (filters.find.trim())
    chips.push({
      id: 'find',
      label: `“${cut(filters.find.trim(), 30)}”${filters.findIn ? ` in ${fieldOf(filters.findIn).label.toLowerCase()}` : ''}`,
      without: (now) => ({ ...now, find: '' }),
    });
  const units: Record<RangeName, (r: Range) => string> = {
    tempo: (r) => `${r.low}–${r.high} BPM`,
    energy: (r) => `Energy ${r.low}–${r.high}`,
    year: (r) => (r.low === r.high ? `${r.low}` : `${r.low}–${r.high}`),
    length: (r) => `${clockLength(r.low)}–${clockLength(r.high)}`,
  };
  for (const name of RANGES) {
    const r = filters.ranges[name];
    if (r)
      chips.push({
        id: name,
        label: units[name](r),
        without: (now) => ({ ...now, ranges: { ...now.ranges, [name]: undefined } }),
      });
  }
  if (filters.key)
    chips.push({
      id: 'key',
      label: filters.key.reach
        ? `Around ${majorOf(filters.key.signature)} major`
        : `${majorOf(filters.key.signature)} major and its relative`,
      without: (now) => ({ ...now, key: null }),
    });
  for (const name of LISTS) {
    const values = filters.lists[name];
    if (values?.length)
      chips.push({
        id: name,
        label: listWords(name, values),
        without: (now) => ({ ...now, lists: { ...now.lists, [name]: undefined } }),
      });
  }
  if (filters.folder)
    chips.push({
      id: 'folder',
      label: `In ${filters.folder.path || 'one library folder'}`,
      without: (now) => ({ ...now, folder: null }),
    });
  if (filters.also) chips.push({ id: 'also', label: filters.also.label, without: (now) => ({ ...now, also: null }) });
  for (const id of filters.needs)
    chips.push({
      id: `needs-${id}`,
      label: NEED_LABELS.get(id)!,
      without: (now) => ({ ...now, needs: now.needs.filter((n) => n !== id) }),
    });
  return chips;
}

function listWords(name: FacetList, values: string[]): string {
  const named = values.map((v) => valueWords(name, v));
  return named.length <= 2 ? named.join(' or ') : `${named[0]} or ${named.length - 1} more`;
}

/** No filter at all. */
export const NO_FILTERS: Filters = {
  find: '',
  findIn: null,
  ranges: {},
  key: null,
  lists: {},
  folder: null,
  needs: [],
  also: null,
};
