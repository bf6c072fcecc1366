/** What the nodes of the space are called, and what they hold, in words. */
import type { RootLine } from '@early-set/core/api/types';
import { NO_VALUE, OTHERS, QUALITIES, USE, type SpaceBy, type SpaceSums } from '@early-set/core/space/space';
import { several } from '../../../data/actions.ts';

export const BY_WORDS: readonly (readonly [SpaceBy, string])[] = [
  ['folder', 'Folders'],
  ['format', 'Formats'],
  ['quality', 'Quality'],
  ['added', 'Year added'],
  ['use', 'Use'],
];
const USE_WORDS: Record<string, string> = {
  [USE.listed]: 'In a list',
  [USE.unlisted]: 'In no list',
  [USE.used]: 'Used before',
  [USE.unused]: 'Never used',
};

const formatName = (key: string): string => (key === NO_VALUE ? 'Format not known' : key);
const qualityName = (key: string): string => QUALITIES.find((q) => q.key === key)?.label ?? key;

/** The name of the node at keys; of no keys, of all there is. */
export function spaceName(by: SpaceBy, keys: readonly string[], roots: readonly RootLine[] | undefined): string {
  const key = keys.at(-1);
  if (key === undefined) return 'All library folders';
  if (by !== 'folder' && keys[0] === OTHERS) return 'Not music';
  switch (by) {
    case 'folder':
      return keys.length > 1 ? key : (roots?.find((r) => String(r.id) === key)?.label ?? '…');
    case 'format':
      return keys.length === 1 ? formatName(key) : qualityName(key);
    case 'quality':
      return keys.length === 1 ? qualityName(key) : formatName(key);
    case 'added':
      return keys.length === 1
        ? key
        : new Date(Number(keys[0]), Number(key) - 1).toLocaleDateString('en-GB', { month: 'long' });
    case 'use':
      return USE_WORDS[key] ?? key;
  }
}

/** "12 tracks, 3 loops or samples, 40 other files". */
export function contentWords({ files, tracks, samples, others }: SpaceSums): string {
  const copies = files - tracks - others;
  return [
    tracks > samples ? several(tracks - samples, 'track') : '',
    samples > 0 ? several(samples, 'loop or sample', 'loops or samples') : '',
    copies > 0 ? several(copies, 'copy', 'copies') : '',
    others > 0 ? several(others, 'other file') : '',
  ]
    .filter(Boolean)
    .join(', ');
}
