/**
 * Whose fingerprints share words at one offset: proposals of whom to compare, among a hundred thousand at once. Of each
 * fingerprint only some words are looked at, chosen by their value, so that two of the same recording choose the same
 * ones wherever they begin (winnowing: Schleimer, Wilkerson & Aiken 2003).
 */

/** Upper bits of a word by which words meet. */
const KEY_BITS = 22;
/** One word in eight is looked at: those whose hash begins with so many zeros. */
const ZEROS = 3;
/** A word that so many have tells nothing (silence, a drone). */
const MAX_SHARED = 200;
/** So many words have to meet at about one offset. */
const LEAST_MEETINGS = 4;
/** Offsets are counted together in steps of so many words; meetings on either side of a step are added up. */
const OFFSET_STEP = 4;
/** Fingerprints are at most so long. */
const MAX_WORDS = 1 << 12;

export interface Proposals {
  /** Adds a fingerprint; its number is how many there were before. */
  add(words: Uint32Array): number;
  /** Numbers of those that may be the same recording as a fingerprint, the likeliest first. */
  near(words: Uint32Array, most: number): number[];
}

/** Words that are looked at, with where they stand; of each only the first. */
function chosen(words: Uint32Array): [key: number, place: number][] {
  const seen = new Set<number>();
  const out: [number, number][] = [];
  for (let i = 0; i < Math.min(words.length, MAX_WORDS); i++) {
    const key = words[i]! >>> (32 - KEY_BITS);
    // Multiplicative hashing (Knuth, TAOCP 3, 6.4): whether a word is chosen has nothing to do with its neighbours.
    if (Math.imul(key, 0x9e3779b1) >>> (32 - ZEROS) !== 0 || seen.has(key)) continue;
    seen.add(key);
    out.push([key, i]);
  }
  return out;
}

/** Starts an index; fingerprints are added as they come, and looked for at any time. */
export function proposals(): Proposals {
  // Chains by key: where the last one of a key stands, and behind each the one before it.
  const last = new Int32Array(1 << KEY_BITS).fill(-1),
    counts = new Uint16Array(1 << KEY_BITS);
  let files = new Int32Array(1 << 16),
    places = new Int16Array(1 << 16),
    before = new Int32Array(1 << 16);
  /** Words that each file shares with the one that is looked for. */
  let shared = new Uint16Array(1 << 10);
  let size = 0,
    added = 0;
  const grow = (): void => {
    const wide = <T extends Int32Array | Int16Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    files = wide(files, new Int32Array(2 * files.length));
    places = wide(places, new Int16Array(2 * places.length));
    before = wide(before, new Int32Array(2 * before.length));
  };
  return {
    add(words) {
      for (const [key, place] of chosen(words)) {
        if (counts[key]! >= MAX_SHARED) continue;
        if (size === files.length) grow();
        files[size] = added;
        places[size] = place;
        before[size] = last[key]!;
        last[key] = size++;
        counts[key]!++;
      }
      return added++;
    },
    near(words, most) {
      const keys = chosen(words).filter(([key]) => counts[key]! < MAX_SHARED);
      // Most files share a word or two by chance: only for the others it is counted where.
      if (shared.length < added) shared = new Uint16Array(2 * added);
      const touched: number[] = [];
      for (const [key] of keys)
        for (let at = last[key]!; at >= 0; at = before[at]!) if (shared[files[at]!]!++ === 0) touched.push(files[at]!);
      const meetings = new Map<number, number>();
      const steps = (2 * MAX_WORDS) / OFFSET_STEP;
      for (const [key, place] of keys)
        for (let at = last[key]!; at >= 0; at = before[at]!) {
          if (shared[files[at]!]! < LEAST_MEETINGS) continue;
          const step = Math.floor((places[at]! - place + MAX_WORDS) / OFFSET_STEP);
          for (const each of [step, step + 1]) {
            const meeting = files[at]! * (steps + 1) + each;
            meetings.set(meeting, (meetings.get(meeting) ?? 0) + 1);
          }
        }
      for (const file of touched) shared[file] = 0;
      const best = new Map<number, number>();
      for (const [meeting, count] of meetings) {
        const file = Math.floor(meeting / (steps + 1));
        if (count >= LEAST_MEETINGS && count > (best.get(file) ?? 0)) best.set(file, count);
      }
      return [...best]
        .sort((a, b) => b[1] - a[1] || a[0] - b[0])
        .slice(0, most)
        .map(([file]) => file);
    },
  };
}
