/** What programs spell in their own ways: keys, stars, energy in front of a comment. */
import { ALL_KEYS, keyParts, parseKey } from '../fields/keys.ts';

/** The 24 keys by one rule. */
const spelt = (rule: (tonic: string, minor: boolean) => string): Readonly<Record<string, string>> =>
  Object.fromEntries(
    ALL_KEYS.map((key) => {
      const [tonic = '', mode] = key.split(' ');
      return [key, rule(tonic, mode === 'minor')];
    }),
  );

/** Ready tables of spellings, under the example by which they are chosen. */
export const KEY_SPELLINGS = {
  'Am, F#m': spelt((tonic, minor) => `${tonic}${minor ? 'm' : ''}`),
  'A minor': spelt((tonic, minor) => `${tonic} ${minor ? 'minor' : 'major'}`),
  Amin: spelt((tonic, minor) => `${tonic}${minor ? 'min' : 'maj'}`),
} as const;

/** Reads a key by a table, else in any common spelling. */
export function readKey(text: string, table: Readonly<Record<string, string>>): string | null {
  const known = bySpelling.get(table) ?? new Map(Object.entries(table).map(([key, spelling]) => [spelling, key]));
  bySpelling.set(table, known);
  return known.get(text) ?? parseKey(text);
}
const bySpelling = new WeakMap<Readonly<Record<string, string>>, ReadonlyMap<string, string>>();

export const spellKey = (key: string, table: Readonly<Record<string, string>>): string =>
  keyParts(key) ? (table[key] ?? key) : key;

/** Stars 0 … 5 on a scale from 0. */
export const scaled = (stars: number, scale: number): number => Math.round((stars / 5) * scale);
export const starsOf = (value: number, scale: number): number =>
  Math.min(5, Math.max(0, Math.round((value / scale) * 5)));

const ENERGY = /^\s*(\d{1,3})\/100(?:;\s*|\s*$)/;

/** "68/100; opener" → energy 68 and the comment "opener". */
export function readEnergy(comment: string | null): { energy: number | null; comment: string | null } {
  const found = ENERGY.exec(comment ?? '');
  const energy = found ? Number(found[1]) : null;
  if (!found || energy! > 100) return { energy: null, comment };
  return { energy, comment: comment!.slice(found[0].length).trim() || null };
}

export const withEnergy = (energy: number | null, comment: string | null): string =>
  [energy === null ? null : `${energy}/100`, comment].filter((part) => part !== null && part !== '').join('; ');
