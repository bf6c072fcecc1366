/** Which of several files of one recording stays: the first line of an order that tells two apart decides. */

/** What is compared of a file. */
export interface CopyFacts {
  trackId: number;
  lossless: boolean;
  /** Hz up to which something is heard; null where it was not measured. */
  bandwidthHz: number | null;
  soundsReencoded: boolean;
  durationSeconds: number | null;
  /** kbit/s */
  bitrate: number | null;
  /** In how many lists it is, and how many cues it has. */
  lists: number;
  cues: number;
  /** How many of the fields that people fill are filled. */
  filled: number;
  /** The folder that it lies in, with its root before it. */
  folder: string;
  /** A moment, as ISO text. */
  addedAt: string;
}

export const CRITERIA = [
  'lossless',
  'not re-encoded',
  'bandwidth',
  'longest',
  'bit rate',
  'lists and cues',
  'tags',
  'folder',
  'added first',
] as const;
export type Criterion = (typeof CRITERIA)[number];

export interface KeepOrder {
  /** Those that count, the most important first. */
  criteria: readonly Criterion[];
  /** Folders that are preferred, the most preferred first; what lies below them too. */
  folders: readonly string[];
}
export const DEFAULT_ORDER: KeepOrder = { criteria: CRITERIA, folders: [] };

/** Differences up to these tell nothing: Hz, seconds, a share of the bit rate. */
const SAME_BANDWIDTH = 700,
  SAME_LENGTH = 0.5,
  SAME_RATE = 1.05;

type Compare = (a: CopyFacts, b: CopyFacts, order: KeepOrder) => number;

/** Above 0 where the first is the better one. */
const COMPARE: Record<Criterion, Compare> = {
  lossless: (a, b) => Number(a.lossless) - Number(b.lossless),
  bandwidth: (a, b) => apart(a.bandwidthHz, b.bandwidthHz, SAME_BANDWIDTH),
  'not re-encoded': (a, b) => Number(b.soundsReencoded) - Number(a.soundsReencoded),
  longest: (a, b) => apart(a.durationSeconds, b.durationSeconds, SAME_LENGTH),
  // Of lossless files it tells how well they are packed, and nothing else.
  'bit rate': (a, b) =>
    a.lossless || b.lossless || a.bitrate === null || b.bitrate === null
      ? 0
      : apart(Math.log(a.bitrate), Math.log(b.bitrate), Math.log(SAME_RATE)),
  'lists and cues': (a, b) => a.lists + a.cues - b.lists - b.cues,
  tags: (a, b) => a.filled - b.filled,
  folder: (a, b, { folders }) => rank(b.folder, folders) - rank(a.folder, folders),
  'added first': (a, b) => (a.addedAt < b.addedAt ? 1 : a.addedAt > b.addedAt ? -1 : 0),
};

const apart = (a: number | null, b: number | null, least: number): number =>
  a === null || b === null || Math.abs(a - b) <= least ? 0 : a - b;

const rank = (folder: string, folders: readonly string[]): number => {
  const at = folders.findIndex((f) => folder === f || folder.startsWith(`${f}/`));
  return at < 0 ? folders.length : at;
};

/** Which of two stays, and what decided; null where nothing tells them apart. */
function decide(a: CopyFacts, b: CopyFacts, order: KeepOrder): { better: CopyFacts; by: Criterion } | null {
  for (const by of order.criteria) {
    const difference = COMPARE[by](a, b, order);
    if (difference !== 0) return { better: difference > 0 ? a : b, by };
  }
  return null;
}

/**
 * Which of some files stays. Where nothing tells two apart, the one with the smaller number does.
 * @returns its track, and what decided between it and the next best; null where nothing did
 */
export function keepOf(files: readonly CopyFacts[], order: KeepOrder): { trackId: number; by: Criterion | null } {
  const sorted = [...files].sort((a, b) => a.trackId - b.trackId);
  let best = sorted[0]!;
  for (const file of sorted.slice(1)) if (decide(best, file, order)?.better === file) best = file;
  // The line that decided is the last one needed to tell it from any of the others.
  const by = sorted
    .filter((file) => file !== best)
    .map((file) => decide(best, file, order)?.by ?? null)
    .sort((a, b) => place(b, order) - place(a, order));
  return { trackId: best.trackId, by: by[0] ?? null };
}

const place = (by: Criterion | null, { criteria }: KeepOrder): number =>
  by === null ? criteria.length : criteria.indexOf(by);
