/**
 * Triads over time, by templates on the pitch-class profile with the bass for the root (after Fujishima, "Realtime
 * chord recognition of musical sound", ICMC 1999). Rough, but enough to say which chords a track dwells on, which
 * begin its phrases, and where a fifth falls.
 */
import { foldChroma, type Chroma } from './chroma.ts';

/**
 * Groups of twelve: shares of major and minor triads, of those that begin phrases, and of falling fifths by where they
 * land.
 */
export const CHORD_GROUPS = 5;

/** A triad as its root, +12 for minor; null where nothing is pitched. */
export type Triad = number | null;

const BASS = 0.8;
const THIRD = 0.85;
const FIFTH = 0.7;

/** The triad that fits a profile of twelve classes and its bass best. */
export function triadOf(all: ArrayLike<number>, bass: ArrayLike<number>): Triad {
  let total = 0,
    low = 0;
  for (let i = 0; i < 12; i++) {
    total += all[i]!;
    low += bass[i]!;
  }
  if (total <= 0) return null;
  let best = -Infinity,
    found = 0;
  for (let root = 0; root < 12; root++) {
    const outer = all[root]! + FIFTH * all[(root + 7) % 12]! + (low > 0 ? (BASS * bass[root]! * total) / low : 0);
    const major = outer + THIRD * all[(root + 4) % 12]!,
      minor = outer + THIRD * all[(root + 3) % 12]!;
    if (major > best) {
      best = major;
      found = root;
    }
    if (minor > best) {
      best = minor;
      found = root + 12;
    }
  }
  return found;
}

/** The triads of windows of frames: `starts` holds where each begins, the last one where all end. */
export function triadsOf(chroma: Chroma, starts: readonly number[]): Triad[] {
  return starts.slice(0, -1).map((from, i) => {
    const count = Math.min(starts[i + 1]!, chroma.frameCount) - from;
    return count <= 0
      ? null
      : triadOf(
          foldChroma(chroma.frames, from, count, chroma.tuningCents),
          foldChroma(chroma.bass, from, count, chroma.tuningCents),
        );
  });
}

/**
 * What triads say, as CHORD_GROUPS times twelve numbers, C first: square roots of shares, so that a rare chord counts
 * too.
 * @param phrases windows at which a phrase begins
 */
export function chordsKnown(triads: readonly Triad[], phrases: readonly number[]): Float64Array {
  const out = new Float64Array(CHORD_GROUPS * 12);
  const heard = triads.filter((t) => t !== null).length;
  for (const t of triads) if (t !== null) out[t]! += 1 / heard;
  const begun = phrases.filter((i) => triads[i] !== null && triads[i] !== undefined);
  for (const i of begun) out[24 + triads[i]!]! += 1 / begun.length;
  const changes = triads.flatMap((t, i) =>
    t !== null && i > 0 && triads[i - 1] !== null && triads[i - 1] !== t ? [[triads[i - 1]!, t] as const] : [],
  );
  for (const [from, to] of changes)
    if ((((from - to) % 12) + 12) % 12 === 7) out[48 + (to % 12)]! += 1 / changes.length;
  return out.map((v) => 2 * Math.sqrt(v));
}
