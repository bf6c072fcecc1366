/** Which track of the library one of a destination is. */
import { fold } from '../fields/fold.ts';
import type { FieldValue, TrackValues } from '../fields/values.ts';
import { pathKey } from '../relink/likePath.ts';
import { mapPath, type PathMap } from '../relink/pathMap.ts';
import type { HereTrack } from './compareTracks.ts';
import type { OtherTrack } from '../exchange/collection.ts';

/** Lengths that differ by less may be of one recording. */
const SAME_LENGTH_SECONDS = 1;

const text = (value: FieldValue | undefined): string => fold([value ?? ''].flat().join(' '));
const namesOf = (values: Readonly<Record<string, FieldValue>>): string | null => {
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

/** What is tied so far, and what is free still on either side. */
export interface Tying {
  /** Track here by id there. */
  tied: Map<string, number>;
  free: Map<number, HereTrack>;
  others: Map<string, OtherTrack>;
}

/** Ties tracks of a destination to those of the library: as is known, else by where the file lies. */
export function tieByPlace(
  here: readonly HereTrack[],
  there: readonly OtherTrack[],
  past: readonly Tie[],
  maps: readonly PathMap[],
): Tying {
  const tying: Tying = {
    tied: new Map(),
    free: new Map(here.map((track) => [track.id, track])),
    others: new Map(there.map((track) => [track.id, track])),
  };
  const { free, others } = tying;
  for (const { trackId, otherId } of past) if (others.has(otherId)) tieOne(tying, otherId, trackId);
  const byPath = new Map<string, number>();
  for (const { id, path } of others.size > 0 ? free.values() : []) if (path !== null) byPath.set(pathKey(path), id);
  for (const { id, path } of [...others.values()]) {
    const trackId = byPath.get(pathKey(placeHere(path, maps)));
    if (trackId !== undefined) tieOne(tying, id, trackId);
  }
  return tying;
}

/** Ties what is left by the same sound, where only one has it. @param withSound tracks here that have it */
export function tieBySound(tying: Tying, withSound: (sound: string) => readonly number[]): void {
  const { free, others } = tying;
  for (const { id, sound } of [...others.values()]) {
    const like = sound === undefined ? [] : withSound(sound).filter((trackId) => free.has(trackId));
    if (like.length === 1) tieOne(tying, id, like[0]!);
  }
}

/** Ties what is left by the same names and length, where only one has these. @param valuesOf a track here */
export function tieByNames(tying: Tying, valuesOf: (trackId: number) => TrackValues): void {
  const { free, others } = tying;
  if (others.size === 0) return;
  const byNames = new Map<string, number[]>();
  for (const id of free.keys()) {
    const names = namesOf(valuesOf(id));
    if (!names) continue;
    const like = byNames.get(names);
    if (like) like.push(id);
    else byNames.set(names, [id]);
  }
  for (const { id, values } of [...others.values()]) {
    const names = namesOf(values);
    const like = (names ? (byNames.get(names) ?? []) : []).filter(
      (trackId) => free.has(trackId) && sameLength(valuesOf(trackId).durationSeconds, values.durationSeconds),
    );
    if (like.length === 1) tieOne(tying, id, like[0]!);
  }
}

function tieOne({ tied, free, others }: Tying, otherId: string, trackId: number): void {
  if (!free.delete(trackId)) return;
  tied.set(otherId, trackId);
  others.delete(otherId);
}

const sameLength = (a: FieldValue | undefined, b: FieldValue | undefined): boolean =>
  typeof a === 'number' && typeof b === 'number' && Math.abs(a - b) < SAME_LENGTH_SECONDS;
