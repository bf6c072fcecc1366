/** A seeded generator of numbers in [0, 1) (the "mulberry32" mixing function, public domain). */
export type Random = () => number;

/** Starts a generator; equal seeds give equal series. */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A seed from text (FNV-1a). */
export function seedOf(text: string): number {
  let hash = 0x811c9dc5;
  for (const c of text) hash = Math.imul(hash ^ c.codePointAt(0)!, 0x01000193);
  return hash >>> 0;
}

/** One of the items. */
export const pick = <T>(random: Random, items: readonly T[]): T => items[Math.floor(random() * items.length)]!;
