/**
 * Files of the station's own: what is spoken, links and jingles are played from the file that is called like the item
 * of the clock. What has none is said live, or comes from elsewhere.
 */
import type { ClockItem, FormatClock } from './clock.ts';

/** A file of the kind "spoken" or "jingle". */
export interface StationFile {
  /** Its track's. */
  id: number;
  title: string;
  seconds: number;
}

/** Case, and blanks that nobody sees, do not count. */
const nameKey = (name: string): string => name.normalize('NFC').trim().replace(/\s+/gu, ' ').toLowerCase();

const bySaid = (files: readonly StationFile[]): ReadonlyMap<string, StationFile> =>
  // Of two files of one name the one that was there first.
  new Map([...files].sort((a, b) => b.id - a.id).map((f) => [nameKey(f.title), f]));

/** The file from which an item is played; null where there is none. */
export function fileOfItem(item: ClockItem, files: readonly StationFile[]): StationFile | null {
  return 'seconds' in item ? (bySaid(files).get(nameKey(item.name)) ?? null) : null;
}

/**
 * A clock whose items are as long as the files they are played from.
 * @returns also the file of each item, by its place in the clock
 */
export function withStationFiles<C extends FormatClock>(
  clock: C,
  files: readonly StationFile[],
): { clock: C; fileAt: (slot: number) => number | null } {
  const named = bySaid(files);
  const found = clock.items.map((item) => ('seconds' in item ? named.get(nameKey(item.name)) : undefined));
  const items = clock.items.map((item, i) => {
    const file = found[i];
    return file ? { ...item, seconds: file.seconds } : item;
  });
  return { clock: { ...clock, items }, fileAt: (slot) => found[slot]?.id ?? null };
}
