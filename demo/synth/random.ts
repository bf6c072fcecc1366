/** Chance that is the same each time. */
import type { Random } from '@early-set/core/signal/random';

export { seeded, type Random } from '@early-set/core/signal/random';

/** A seed from text (FNV-1a). */
export function seedOf(text: string): number {
  let hash = 0x811c9dc5;
  for (const c of text) hash = Math.imul(hash ^ c.codePointAt(0)!, 0x01000193);
  return hash >>> 0;
}

/** One of the items. */
export const pick = <T>(random: Random, items: readonly T[]): T => items[Math.floor(random() * items.length)]!;
