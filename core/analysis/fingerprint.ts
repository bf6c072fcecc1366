/**
 * Comparing fingerprints of recordings: 32-bit words, one for each ITEM_SECONDS, as the chromaprint muxer gives them
 * (Jang et al. 2009; Haitsma & Kalker 2002 for comparing by bit errors). The same recording at another bit rate,
 * gain or start differs in few bits; another mix of the same song in many.
 */

/** 11,025 Hz, frames of 4096 samples overlapping by two thirds. */
export const ITEM_SECONDS = 1365 / 11025;

export interface FingerprintMatch {
  /** Seconds by which the second begins later in the recording than the first (negative: earlier). */
  offsetSeconds: number;
  /** Share of equal bits over the overlap, 0.5 for unrelated sound. */
  equalBits: number;
  /** Share of the windows of the overlap that are the same sound. */
  sameShare: number;
  overlapSeconds: number;
}

const MAX_OFFSET_SECONDS = 12;
const WINDOW_ITEMS = 48;
/** Share of wrong bits up to which a window counts as the same sound. */
const WINDOW_ERRORS = 0.27;
const SAME_SHARE = 0.7;
const SHORTEST_OVERLAP_SECONDS = 12;
/** At each offset every so-manieth word is looked at first; so many offsets are compared as a whole. */
const LOOKED_AT = 7,
  MAX_OFFSETS = 6;

function ones(x: number): number {
  let v = x - ((x >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return (((v + (v >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

/** Compares at one offset (in items) of the second against the first. */
function compareAt(a: Uint32Array, b: Uint32Array, offset: number): Omit<FingerprintMatch, 'offsetSeconds'> | null {
  const from = Math.max(0, offset),
    to = Math.min(a.length, b.length + offset),
    count = to - from;
  if (count * ITEM_SECONDS < SHORTEST_OVERLAP_SECONDS) return null;
  let wrong = 0,
    windows = 0,
    same = 0;
  for (let start = from; start < to; start += WINDOW_ITEMS) {
    const end = Math.min(to, start + WINDOW_ITEMS);
    let errors = 0;
    for (let i = start; i < end; i++) errors += ones(a[i]! ^ b[i - offset]!);
    wrong += errors;
    if (end - start < WINDOW_ITEMS / 2) continue;
    windows++;
    if (errors / ((end - start) * 32) < WINDOW_ERRORS) same++;
  }
  return {
    equalBits: 1 - wrong / (count * 32),
    sameShare: windows ? same / windows : 0,
    overlapSeconds: count * ITEM_SECONDS,
  };
}

/**
 * Looks for the offset within ±12 s at which two fingerprints agree best.
 * @returns null when they overlap by less than 12 s
 */
export function compareFingerprints(a: Uint32Array, b: Uint32Array): FingerprintMatch | null {
  let best: FingerprintMatch | null = null;
  for (const offset of likelyOffsets(a, b)) {
    const found = compareAt(a, b, offset);
    if (found && found.equalBits > (best?.equalBits ?? 0)) best = { ...found, offsetSeconds: offset * ITEM_SECONDS };
  }
  return best;
}

/** The offsets at which some of the words agree best; only these are compared as a whole. */
function likelyOffsets(a: Uint32Array, b: Uint32Array): number[] {
  const reach = Math.round(MAX_OFFSET_SECONDS / ITEM_SECONDS);
  const shares: { offset: number; wrong: number }[] = [];
  for (let offset = -reach; offset <= reach; offset++) {
    const from = Math.max(0, offset),
      to = Math.min(a.length, b.length + offset);
    if ((to - from) * ITEM_SECONDS < SHORTEST_OVERLAP_SECONDS) continue;
    let wrong = 0,
      count = 0;
    for (let i = from; i < to; i += LOOKED_AT) {
      wrong += ones(a[i]! ^ b[i - offset]!);
      count++;
    }
    shares.push({ offset, wrong: wrong / count });
  }
  return shares
    .sort((x, y) => x.wrong - y.wrong)
    .slice(0, MAX_OFFSETS)
    .map((s) => s.offset);
}

/**
 * Compares two fingerprints where one is said to lie on the other, or a word beside.
 * @param offsetSeconds by which the second has to be moved to lie on the first
 * @returns the share of equal bits; null when they overlap by less than 12 s
 */
export function equalBitsAt(a: Uint32Array, b: Uint32Array, offsetSeconds: number): number | null {
  const offset = Math.round(offsetSeconds / ITEM_SECONDS);
  const found = [offset - 1, offset, offset + 1].flatMap((o) => compareAt(a, b, o)?.equalBits ?? []);
  return found.length ? Math.max(...found) : null;
}

/** Are they the same recording? */
export function sameRecording(a: Uint32Array, b: Uint32Array): boolean {
  const match = compareFingerprints(a, b);
  return match !== null && match.sameShare >= SAME_SHARE;
}

/** Words from little-endian bytes. */
export function fingerprintWords(bytes: Uint8Array): Uint32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Uint32Array.from({ length: bytes.length >> 2 }, (_, i) => view.getUint32(i * 4, true));
}
