/** Whom a recording is compared with, and what comes of it. */
import type { Comparison } from './compare.ts';
import type { DuplicatePair } from './groups.ts';

/** Why two are looked at: the very same packets of sound, the same names, or fingerprints that share words. */
export type Why = 'bytes' | 'name' | 'sound';

export interface ComparedPair extends DuplicatePair {
  /** Seconds on the first where the two part; null where they do not. */
  partsAt: number | null;
}

/** So many that sound most alike are looked at closely. */
export const MAX_NEAR = 12;

/** @param itself the one that others are looked for; each other once, for the reason that says most */
export function whomToCompare(itself: number, others: Record<Why, Iterable<number>>): Map<number, Why> {
  const near = new Map<number, Why>();
  for (const why of ['sound', 'name', 'bytes'] as const) for (const other of others[why]) near.set(other, why);
  near.delete(itself);
  return near;
}

/**
 * What two are to each other; null where they are nothing.
 * @param compared null where their bytes say enough
 */
export function pairOf(
  [first, second]: readonly [number, number],
  why: Why,
  compared: Comparison | null,
): ComparedPair | null {
  if (why === 'bytes' || compared === null)
    return { first, second, relation: 'same bytes', offsetSeconds: 0, partsAt: null };
  const { relation, offsetSeconds, partsAt } = compared;
  if (relation !== 'different') return { first, second, relation, offsetSeconds, partsAt };
  return why === 'name' ? { first, second, relation: 'same song', offsetSeconds: 0, partsAt: null } : null;
}
