/**
 * Fingerprints that are alike, found without comparing each with each: files that share words at like places. The
 * upper bits of a word often survive re-encoding (Haitsma & Kalker 2002: at a share of wrong bits of 5 %, a third of
 * all 20-bit beginnings do), so that of hundreds of words some meet.
 */

/** Upper bits of a word by which it is looked up. */
const KEY_BITS = 20;
const KEYS = 1 << KEY_BITS;
/** A beginning that so many words have tells nothing (silence, a drone). */
const MAX_IN_BUCKET = 400;
/** So many meetings at one offset are the least that is looked at. */
const LEAST_MEETINGS = 3;
/** Offsets are counted together in steps of so many words. */
const OFFSET_STEP = 4;

export interface SoundIndex {
  /** The files that share most words at one offset, the most first. @returns their places in what was given */
  near(words: Uint32Array, most: number): number[];
}

/**
 * @param files fingerprints; null where there is none
 * @param step only each so-manieth word of a file is kept
 */
export function soundIndex(files: readonly (Uint32Array | null)[], step = 1): SoundIndex {
  const starts = new Uint32Array(KEYS + 1);
  for (const words of files)
    if (words) for (let i = 0; i < words.length; i += step) starts[(words[i]! >>> (32 - KEY_BITS)) + 1]!++;
  for (let key = 0; key < KEYS; key++) starts[key + 1]! += starts[key]!;
  const total = starts[KEYS]!;
  const fileAt = new Uint32Array(total),
    placeAt = new Uint16Array(total),
    next = starts.slice(0, KEYS);
  files.forEach((words, file) => {
    if (!words) return;
    for (let i = 0; i < words.length; i += step) {
      const to = next[words[i]! >>> (32 - KEY_BITS)]!++;
      fileAt[to] = file;
      placeAt[to] = i;
    }
  });
  return {
    near(words, most) {
      // By file and offset, so that words that meet by chance, anywhere, do not add up.
      const meetings = new Map<number, number>();
      const offsets = 2 * Math.ceil((words.length + 0x10000) / OFFSET_STEP);
      for (let i = 0; i < words.length; i++) {
        const key = words[i]! >>> (32 - KEY_BITS);
        const from = starts[key]!,
          to = starts[key + 1]!;
        if (to - from > MAX_IN_BUCKET) continue;
        for (let k = from; k < to; k++) {
          const offset = Math.floor((placeAt[k]! - i + words.length) / OFFSET_STEP);
          const at = fileAt[k]! * offsets + offset;
          meetings.set(at, (meetings.get(at) ?? 0) + 1);
        }
      }
      const best = new Map<number, number>();
      for (const [at, count] of meetings) {
        if (count < LEAST_MEETINGS) continue;
        const file = Math.floor(at / offsets);
        if (count > (best.get(file) ?? 0)) best.set(file, count);
      }
      return [...best]
        .sort((a, b) => b[1] - a[1] || a[0] - b[0])
        .slice(0, most)
        .map(([file]) => file);
    },
  };
}
