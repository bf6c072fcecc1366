/** Fingerprints made up from measured ones, and worn as recordings of a piece were measured to be. */
import { compareFingerprints, ITEM_SECONDS } from '@early-set/core/analysis/fingerprint';
import { pick, type Random } from '../demo/synth/random.ts';

/** A fingerprint covers two minutes; it is put together from so many measured stretches, each turned in its own way. */
export const WORDS = 960,
  STRETCHES = 6;

export function madeUpPrint(random: Random, prints: readonly Uint32Array[]): Uint32Array {
  const words = new Uint32Array(WORDS),
    each = WORDS / STRETCHES;
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    const from = pick(random, prints),
      start = Math.floor(random() * (from.length - each)),
      turn = Math.floor(random() * 2 ** 32);
    for (let i = 0; i < each; i++) words[stretch * each + i] = from[start + i]! ^ turn;
  }
  return words;
}

const errorsOf = new Map<Uint32Array, { errors: Uint32Array; later: number }>();

/** A print with the differences that were measured between two others, word by word, begun later by as many words. */
export function wornAs(words: Uint32Array, [before, after]: readonly [Uint32Array, Uint32Array]): Uint32Array {
  const known = errorsOf.get(after) ?? errorsBetween(before, after);
  errorsOf.set(after, known);
  const { errors, later } = known;
  return Uint32Array.from({ length: words.length - later }, (_, i) => words[i + later]! ^ errors[i % errors.length]!);
}

function errorsBetween(before: Uint32Array, after: Uint32Array): { errors: Uint32Array; later: number } {
  const offset = Math.round((compareFingerprints(before, after)?.offsetSeconds ?? 0) / ITEM_SECONDS);
  const from = Math.max(0, -offset);
  const count = Math.max(1, Math.min(after.length, before.length - offset) - from);
  const errors = Uint32Array.from(
    { length: count },
    (_, i) => (before[i + from + offset] ?? 0) ^ (after[i + from] ?? 0),
  );
  return { errors, later: Math.max(0, offset) };
}
