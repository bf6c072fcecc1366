/** What was looked at, and what is wrong with it. */
export interface Finding {
  about: string;
  /** A sentence that says what to do; null when all is well. */
  trouble: string | null;
  /** Said in any case: a version, how much room there is. */
  note: string;
}
