/** Several lists at once, as the page is told of them. */
import type { MirrorReport } from '../arrange/mirror.ts';

/** A list, and how many of the tracks that are looked for it holds. */
export interface ListHolding {
  id: string;
  tracks: number;
}
/** What the page of all lists says of one besides; figures count each track once. */
export interface ListOverview {
  id: string;
  held: number;
  missing: number;
  /** Tracks that are ready for the floor, and for playout. */
  floor: number;
  playout: number;
  dates: { name: string; day: string }[];
  /** Where its files were given last. */
  given: { to: string; at: string } | null;
}

/** A folder mirror that was made or brought up to date. */
export interface Mirrored {
  listId: string;
  report: MirrorReport;
}

/** An entry of which the library has a better file, as another track. */
export interface BetterFile {
  entryId: string;
  trackId: number;
  /** "FLAC, lossless". */
  words: string;
}

/** An open slot that says which track is to be found for it. */
export interface ToFind {
  entryId: string;
  listId: string;
  list: string;
  /** Its place in the list, from 0. */
  position: number;
  text: string;
  seconds: number | null;
}
