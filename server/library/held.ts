/** A value with where it comes from. */
import type { Origins } from '@early-set/core/changes/snapshot';
import type { FieldValue, Held } from '@early-set/core/fields/values';

/** Value and origin together; null when the field was never filled. */
export const heldOf = (value: FieldValue | undefined, origins: Origins, field: string): Held | null => {
  const known = origins[field];
  return known ? { value: value ?? null, origin: known.origin, at: known.at, locked: known.locked ?? false } : null;
};
