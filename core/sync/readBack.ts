/** What was written there, read again: is it what both sides were to say? */
import type { Collection, Description } from '../exchange/collection.ts';
import type { Comparison, Same } from './compare.ts';
import { sameHereAndThere } from './decide.ts';
import { placedFields } from './store.ts';

/**
 * @param read the data there once all was written
 * @returns what is the same on both sides from now on, by id there; what reads otherwise than it was meant is not among
 *   it, and is compared in full the next time
 */
export function readBack(
  { same, settled, past }: Pick<Comparison, 'same' | 'settled' | 'past'>,
  read: Collection,
  about: Description,
): Map<string, Same> {
  const found = new Map(same);
  const meant = new Map(past.tracks.map((t) => [t.otherId, t]));
  const fields = placedFields(about);
  for (const other of read.tracks) {
    const is = settled.get(other.id),
      was = is && meant.get(other.id);
    if (!is || !was || other.print === undefined) continue;
    const [values, theirs] = [was.values, other.values];
    if (fields.every((f) => sameHereAndThere(f, values[f], theirs[f])))
      found.set(other.id, { ...is, there: other.print });
  }
  return found;
}
