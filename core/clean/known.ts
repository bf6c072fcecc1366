/** Names as the library knows them: which spelling is used most, found without regard to case, accents and marks. */
import { fold } from '../fields/fold.ts';

export interface KnownNames {
  /** The usual spelling of a name; undefined when nobody is called that. */
  spelling(name: string): string | undefined;
  has(name: string): boolean;
}

/** "Marrow & Pine", "marrow and pine" and "MARROW_&_PINE" are one name. */
export function nameKey(name: string): string {
  const known = keys.get(name);
  if (known !== undefined) return known;
  const key = fold(name)
    .replace(/&|\+/g, ' and ')
    .replace(/^the\s+/, '')
    .replace(/[^\p{L}\p{N}]+/gu, '');
  if (keys.size >= MAX_KEYS) keys.clear();
  keys.set(name, key);
  return key;
}
/** The same names come again and again. */
const keys = new Map<string, string>(),
  MAX_KEYS = 50_000;

/**
 * @param counts name to how many tracks say it so; all-capitals and all-small spellings lose against mixed ones
 */
export function knownNames(counts: Iterable<readonly [string, number]>): KnownNames {
  const best = new Map<string, { name: string; weight: number }>();
  for (const [name, n] of counts) {
    const key = nameKey(name);
    if (!key) continue;
    const weight = n * (isShouted(name) || name === name.toLowerCase() || /_/.test(name) ? 0.01 : 1);
    const now = best.get(key);
    if (!now || weight > now.weight) best.set(key, { name, weight });
  }
  return { spelling: (name) => best.get(nameKey(name))?.name, has: (name) => best.has(nameKey(name)) };
}

const isShouted = (name: string): boolean =>
  name.length > 3 && name === name.toUpperCase() && name !== name.toLowerCase();

export const NOBODY: KnownNames = { spelling: () => undefined, has: () => false };
