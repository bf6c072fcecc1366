/** Where the space on the drives goes: files summed up in a tree, by folder or by what they are. */
import { allOf, type Condition } from '../conditions/condition.ts';

export const SPACE_BY = ['folder', 'format', 'quality', 'added', 'use'] as const;
export type SpaceBy = (typeof SPACE_BY)[number];

/** What is summed up. */
export interface SpaceSums {
  /** All files; copies of tracks are neither tracks nor others. */
  files: number;
  tracks: number;
  /** Of the tracks, such as look like loops and samples. */
  samples: number;
  /** Files that are no music of the library's. */
  others: number;
  /** Of all of them. */
  bytes: number;
  /** Tracks that a list holds. */
  listed: number;
  /** When the latest of the tracks was added, as an ISO moment. */
  last: string | null;
}
/** Files with the same place in the tree, named by the keys from the top down. */
export interface SpaceRow extends SpaceSums {
  keys: string[];
}
export interface SpaceNode extends SpaceSums {
  key: string;
  /** The largest first. */
  children: SpaceNode[];
}

/** Key of files that belong to no track, where it is not asked for folders. */
export const OTHERS = 'others';
/** Key of what has no such value. */
export const NO_VALUE = '';

const EMPTY: SpaceSums = { files: 0, tracks: 0, samples: 0, others: 0, bytes: 0, listed: 0, last: null };

function add(to: SpaceSums, row: SpaceSums): void {
  to.files += row.files;
  to.tracks += row.tracks;
  to.samples += row.samples;
  to.others += row.others;
  to.bytes += row.bytes;
  to.listed += row.listed;
  if (row.last !== null && (to.last === null || row.last > to.last)) to.last = row.last;
}

/** Sums rows up; every node holds what lies in it and below. */
export function spaceTree(rows: readonly SpaceRow[]): SpaceNode {
  const top: SpaceNode = { key: '', ...EMPTY, children: [] };
  const below = new Map<SpaceNode, Map<string, SpaceNode>>();
  for (const row of rows) {
    add(top, row);
    let node = top;
    for (const key of row.keys) {
      let children = below.get(node);
      if (!children) below.set(node, (children = new Map()));
      let child = children.get(key);
      if (!child) {
        children.set(key, (child = { key, ...EMPTY, children: [] }));
        node.children.push(child);
      }
      add(child, row);
      node = child;
    }
  }
  for (const node of below.keys()) node.children.sort((a, b) => b.bytes - a.bytes || (a.key < b.key ? -1 : 1));
  return top;
}

/** The nodes along keys, from the top; it ends where there is none of that key. */
export function alongKeys(top: SpaceNode, keys: readonly string[]): SpaceNode[] {
  const nodes = [top];
  for (const key of keys) {
    const next = nodes.at(-1)!.children.find((child) => child.key === key);
    if (!next) break;
    nodes.push(next);
  }
  return nodes;
}

const LOSSLESS: Condition = {
  any: [
    { field: 'format', test: 'one of', values: ['FLAC', 'WAV', 'AIFF', 'ALAC'] },
    { field: 'codec', test: 'one of', values: ['ALAC', 'alac', 'FLAC', 'flac'] },
  ],
};
const atLeast = (low: number): Condition => ({ field: 'bitrate', test: 'between', low });
const lossy = (...conditions: Condition[]): Condition => ({ all: [{ not: LOSSLESS }, ...conditions] });
const UNKNOWN: Condition = { field: 'bitrate', test: 'empty' };

/** How finely files are encoded, the best first; bit rates are in kbit/s. Every track meets just one of these. */
export const QUALITIES: readonly { key: string; label: string; condition: Condition }[] = [
  { key: 'lossless', label: 'Lossless', condition: LOSSLESS },
  { key: '256', label: '256 kbit/s and more', condition: lossy(atLeast(256)) },
  { key: '160', label: '160 to 255 kbit/s', condition: lossy({ not: atLeast(256) }, atLeast(160)) },
  { key: '1', label: 'Below 160 kbit/s', condition: lossy({ not: atLeast(160) }, { not: UNKNOWN }) },
  { key: NO_VALUE, label: 'Bit rate not known', condition: lossy(UNKNOWN) },
];

const SAMPLE_SECONDS = 15,
  LOOP_SECONDS = 60;
const LOOP_WORDS = ['loop', 'one shot', 'one-shot', 'oneshot', 'sample', 'drum hit', 'sfx'];

/**
 * What looks like a loop or a sample, though it is a track in the library: shorter than any piece, or short and named
 * as one. A proposal: jingles, beds and what was given another kind by hand are none.
 */
export const SAMPLES: Condition = {
  all: [
    { field: 'kind', test: 'one of', values: ['track', 'loop'] },
    {
      any: [
        { field: 'kind', test: 'one of', values: ['loop'] },
        { field: 'durationSeconds', test: 'between', high: SAMPLE_SECONDS },
        {
          all: [
            { field: 'durationSeconds', test: 'between', high: LOOP_SECONDS },
            { any: LOOP_WORDS.map((text) => ({ test: 'words', text: `"${text}"`, field: 'path' }) as const) },
          ],
        },
      ],
    },
  ],
};

/** Keys of "by use": in a list or in none; used before or never. */
export const USE = { listed: 'listed', unlisted: 'unlisted', used: 'used', unused: 'unused' } as const;
export const USED: Condition = { field: 'timesUsed', test: 'between', low: 1 };

const MONTHS = 12;
const pad = (n: number): string => String(n).padStart(2, '0');

/** The first and the last day of a year, or of a month in it. */
function daysOf(year: string, month?: string): { from: string; to: string } {
  const from = month === undefined ? 1 : Number(month),
    to = month === undefined ? MONTHS : Number(month);
  const last = new Date(Number(year), to, 0).getDate();
  return { from: `${year}-${pad(from)}-01`, to: `${year}-${pad(to)}-${pad(last)}` };
}

const format = (key: string): Condition =>
  key === NO_VALUE ? { field: 'format', test: 'empty' } : { field: 'format', test: 'one of', values: [key] };
const quality = (key: string): Condition => QUALITIES.find((q) => q.key === key)!.condition;

/**
 * The tracks of a node, as a condition; null where there are none.
 * @param listIds the lists that count, where it is asked for use
 */
export function tracksAt(by: SpaceBy, keys: readonly string[], listIds: readonly string[]): Condition | null {
  const [first, second] = keys;
  if (first === undefined) return { all: [] };
  if (by !== 'folder' && first === OTHERS) return null;
  switch (by) {
    case 'folder':
      return { inFolder: { rootId: Number(first), path: keys.slice(1).join('/') }, below: true };
    case 'format':
      return second === undefined ? format(first) : allOf(format(first), quality(second));
    case 'quality':
      return second === undefined ? quality(first) : allOf(quality(first), format(second));
    case 'added':
      return { field: 'addedAt', test: 'days', ...daysOf(first, second) };
    case 'use': {
      const lists: Condition = { inLists: [...listIds] };
      const held = first === USE.listed ? lists : { not: lists };
      return second === undefined ? held : allOf(held, second === USE.used ? USED : { not: USED });
    }
  }
}
