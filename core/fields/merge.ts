/** One rule for all sources: what happens when a new value meets the one that is there. */
import { isEmpty, sameValue, type FieldValue, type Held, type Origin } from './values.ts';

export type MergePolicy = 'fill gaps' | 'newest' | 'ours' | 'theirs';

/** Sources in order of trust when measuring meets tags: a person's word counts most. */
const TRUST: Record<Origin, number> = { 'file tag': 1, destination: 1, catalogue: 2, analysis: 3, file: 4, typed: 5 };

/**
 * Decides the value to hold. Returns the same object when nothing changes.
 * Locked values never change; 'newest' lets a source replace what is trusted no more than itself.
 * @example merge({ value: 120, origin: 'file tag', at, locked: false }, { value: 121.5, origin: 'analysis', at }, 'newest').value // 121.5
 */
export function merge(
  held: Held | undefined,
  incoming: { value: FieldValue; origin: Origin; at: string },
  policy: MergePolicy,
): Held | undefined {
  if (held?.locked) return held;
  const next: Held = { ...incoming, locked: false };
  if (!held || isEmpty(held.value)) return isEmpty(incoming.value) ? held : next;
  if (sameValue(held.value, incoming.value)) return held;
  switch (policy) {
    case 'fill gaps':
    case 'ours':
      return held;
    case 'theirs':
      return next;
    case 'newest':
      return !isEmpty(incoming.value) && TRUST[incoming.origin] >= TRUST[held.origin] ? next : held;
  }
}
