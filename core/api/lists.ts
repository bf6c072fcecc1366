/** Several lists at once, as the page is told of them. */

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
