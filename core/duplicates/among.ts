/** All pairs among some recordings that are held in memory. */
import { compareSounds, type Sound } from './compare.ts';
import type { DuplicatePair } from './groups.ts';
import { proposals } from './propose.ts';

export interface Recording {
  sound: Sound;
  /** SHA-256 of the packets of sound; null where it is not known. */
  audioHash: string | null;
  /** Artist and title, folded; '' where they are not known. */
  names: string;
}

export interface ComparedPair extends DuplicatePair {
  /** Seconds on the first where the two part; null where they do not. */
  partsAt: number | null;
}

/** So many that sound most alike are looked at closely. */
const MAX_NEAR = 12;

/** What recordings are to each other; they are numbered from 0. */
export function pairsAmong(recordings: readonly Recording[]): ComparedPair[] {
  const sounds = proposals();
  const pairs: ComparedPair[] = [];
  recordings.forEach((one, second) => {
    const near = new Set(one.sound.fingerprint ? sounds.near(one.sound.fingerprint, MAX_NEAR) : []);
    recordings.slice(0, second).forEach((other, first) => {
      if ((one.names !== '' && one.names === other.names) || isSameSound(one, other)) near.add(first);
    });
    for (const first of [...near].sort((a, b) => a - b)) {
      const other = recordings[first]!;
      const pair = { first, second, offsetSeconds: 0, partsAt: null };
      if (isSameSound(one, other)) {
        pairs.push({ ...pair, relation: 'same bytes' });
        continue;
      }
      const { relation, offsetSeconds, partsAt } = compareSounds(other.sound, one.sound);
      if (relation !== 'different') pairs.push({ ...pair, relation, offsetSeconds, partsAt });
      else if (one.names !== '' && one.names === other.names) pairs.push({ ...pair, relation: 'same song' });
    }
    sounds.add(one.sound.fingerprint ?? new Uint32Array());
  });
  return pairs;
}

const isSameSound = (a: Recording, b: Recording): boolean => a.audioHash !== null && a.audioHash === b.audioHash;
