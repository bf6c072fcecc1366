/** Ties tracks of a destination to those of the library, by all that can be known of both. */
import type { OtherTrack } from '../exchange/collection.ts';
import type { PathMap } from '../relink/pathMap.ts';
import type { Ask, Told } from './ask.ts';
import type { HereTrack } from './compareTracks.ts';
import { tieByNames, tieByPlace, tieBySound, type Tie } from './match.ts';

/** @returns track here by id there */
export function* tieAll(
  here: readonly HereTrack[],
  there: readonly OtherTrack[],
  known: readonly Tie[],
  maps: readonly PathMap[],
): Generator<Ask, Map<string, number>, Told> {
  const tying = tieByPlace(here, there, known, maps);
  const open = (): boolean => tying.others.size > 0 && tying.free.size > 0;
  const sounds = open() ? [...tying.others.values()].flatMap(({ sound }) => sound ?? []) : [];
  if (sounds.length > 0) tieBySound(tying, (yield { what: 'sounds', sounds }).withSound);
  if (open()) tieByNames(tying, (yield { what: 'names', ids: [...tying.free.keys()] }).values);
  return tying.tied;
}
