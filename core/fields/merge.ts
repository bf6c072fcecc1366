/**
 * One rule for all sources (files scanned again, measuring, catalogues, cleaning steps): what happens when a new value
 * meets the one that is there.
 */
import { isEmpty, sameValue, type FieldValue, type Held, type Origin } from './values.ts';

/** What becomes of a value that is there: kept, kept unless empty, replaced, or the more trusted of both taken. */
export const MERGE_POLICIES = ['keep', 'fill gaps', 'replace', 'by trust'] as const;
export type MergePolicy = (typeof MERGE_POLICIES)[number];
/** Policies that need no origin: a person chooses among them. */
export type ChosenPolicy = Exclude<MergePolicy, 'by trust'>;

/** Would a value go in, as far as the policy knows without origins? Locks are for the caller to see. */
export const goesIn = (there: FieldValue | undefined, policy: ChosenPolicy): boolean =>
  policy === 'replace' || (policy === 'fill gaps' && isEmpty(there));

/** Sources in order of trust when measuring meets tags: a person's word counts most. */
const TRUST: Record<Origin, number> = {
  'file tag': 1,
  destination: 1,
  catalogue: 2,
  analysis: 3,
  file: 4,
  use: 4,
  typed: 5,
};

/**
 * Decides the value to hold. Returns the same object when nothing changes.
 * Locked values never change; 'by trust' lets a source replace what is trusted no more than itself.
 * @example merge({ value: 120, origin: 'file tag', at, locked: false }, { value: 121.5, origin: 'analysis', at }, 'by
 * trust').value // 121.5
 */
export function merge(
  held: Held | undefined,
  incoming: { value: FieldValue; origin: Origin; at: string },
  policy: MergePolicy,
): Held | undefined {
  if (held?.locked) return held;
  const next: Held = { ...incoming, locked: false };
  if (sameValue(held?.value ?? null, incoming.value)) return held;
  if (policy !== 'by trust') return goesIn(held?.value, policy) ? next : held;
  if (!held || isEmpty(held.value)) return next;
  return !isEmpty(incoming.value) && TRUST[incoming.origin] >= TRUST[held.origin] ? next : held;
}
