/** Which track of the library one of a destination is. */
import { fold } from '../fields/fold.ts';
import type { FieldValue } from '../fields/values.ts';
import { pathKey } from '../relink/likePath.ts';
import { mapPath, type PathMap } from '../relink/pathMap.ts';
import type { HereTrack } from './compareTracks.ts';
import type { OtherTrack } from '../exchange/collection.ts';

/** Lengths that differ by less may be of one recording. */
const SAME_LENGTH_SECONDS = 1;

const text = (value: FieldValue | undefined): string => fold([value ?? ''].flat().join(' '));
const namesOf = (values: Record<string, FieldValue>): string | null => {
  const [title, artist] = [text(values.title), text(values.artist)];
  return title && artist ? `${artist}\n${title}\n${text(values.version)}` : null;
};

/** A place there as it is here, by the first map that fits. */
export function placeHere(path: string, maps: readonly PathMap[]): string {
  for (const map of maps) {
    const to = mapPath(path, map);
    if (to !== null) return to;
  }
  return path;
}

/** A place here as it is there: the same maps turned round. */
export const placeThere = (path: string, maps: readonly PathMap[]): string =>
  placeHere(
    path,
    maps.map(({ from, to }) => ({ from: to, to: from })),
  );

/** A track here that is known to be one there. */
export interface Tie {
  trackId: number;
  otherId: string;
}

/**
 * Ties tracks of a destination to those of the library: as at the last sync, else by where the file lies, else by the
 * same names and length, where only one has these.
 * @param path of a track here
 * @returns track here by id there
 */
export function recognise(
  here: readonly HereTrack[],
  there: readonly OtherTrack[],
  past: readonly Tie[],
  maps: readonly PathMap[],
): Map<string, number> {
  const tied = new Map<string, number>();
  const free = new Map(here.map((track) => [track.id, track]));
  const others = new Map(there.map((track) => [track.id, track]));
  const tie = (otherId: string, trackId: number): void => {
    if (!free.delete(trackId)) return;
    tied.set(otherId, trackId);
    others.delete(otherId);
  };
  for (const { trackId, otherId } of past) if (others.has(otherId)) tie(otherId, trackId);
  const byPath = new Map<string, number>();
  for (const { id, path } of free.values()) if (path !== null) byPath.set(pathKey(path), id);
  for (const { id, path } of [...others.values()]) {
    const trackId = byPath.get(pathKey(placeHere(path, maps)));
    if (trackId !== undefined) tie(id, trackId);
  }
  const byNames = new Map<string, HereTrack[]>();
  for (const track of others.size > 0 ? free.values() : []) {
    const names = namesOf(track.values);
    if (names) byNames.set(names, [...(byNames.get(names) ?? []), track]);
  }
  for (const { id, values } of [...others.values()]) {
    const names = namesOf(values);
    const like = (names ? (byNames.get(names) ?? []) : []).filter(
      (track) => free.has(track.id) && sameLength(track.values.durationSeconds, values.durationSeconds),
    );
    if (like.length === 1) tie(id, like[0]!.id);
  }
  return tied;
}

const sameLength = (a: FieldValue | undefined, b: FieldValue | undefined): boolean =>
  typeof a === 'number' && typeof b === 'number' && Math.abs(a - b) < SAME_LENGTH_SECONDS;
