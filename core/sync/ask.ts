/** What a comparison asks of the library, which is not at hand where it is made. */
import type { HeldOf, ValuesOf } from './compareTracks.ts';

/** What has to be known of tracks here before it can go on. */
export type Ask =
  | { what: 'nothing' }
  /** Which have one of these sounds. */
  | { what: 'sounds'; sounds: string[] }
  /** What they say; of `names` title, artist, version and length do. */
  | { what: 'names'; ids: number[] }
  /** And of which it will be asked next, so that they can be looked up meanwhile. */
  | { what: 'values'; ids: number[]; next: number[] }
  /** Where their values come from. */
  | { what: 'held'; ids: number[] };

export interface Told {
  values: ValuesOf;
  held: HeldOf;
  /** Tracks here with a sound. */
  withSound: (sound: string) => readonly number[];
}
