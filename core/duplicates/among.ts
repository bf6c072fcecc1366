/** All pairs among some recordings that are held in memory. */
import { compareSounds, type Sound } from './compare.ts';
import { proposals } from './propose.ts';
import { MAX_NEAR, pairOf, whomToCompare, type ComparedPair } from './whom.ts';

export interface Recording {
  sound: Sound;
  /** SHA-256 of the packets of sound; null where it is not known. */
  audioHash: string | null;
  /** Artist and title, folded; '' where they are not known. */
  names: string;
}

/** What recordings are to each other; they are numbered from 0. */
export function pairsAmong(recordings: readonly Recording[]): ComparedPair[] {
  const sounds = proposals();
  return recordings.flatMap((one, second) => {
    const before = recordings.slice(0, second);
    const those = (alike: (other: Recording) => boolean): number[] =>
      before.flatMap((other, first) => (alike(other) ? [first] : []));
    const near = whomToCompare(second, {
      bytes: those((other) => one.audioHash !== null && other.audioHash === one.audioHash),
      name: those((other) => one.names !== '' && other.names === one.names),
      sound: one.sound.fingerprint ? sounds.near(one.sound.fingerprint, MAX_NEAR) : [],
    });
    sounds.add(one.sound.fingerprint ?? new Uint32Array());
    return [...near]
      .sort(([a], [b]) => a - b)
      .flatMap(
        ([first, why]) =>
          pairOf([first, second], why, why === 'bytes' ? null : compareSounds(recordings[first]!.sound, one.sound)) ??
          [],
      );
  });
}
