/** Who works on the library. */

/** A process that takes jobs. */
export interface WorkerLine {
  id: number;
  /** Of its computer. */
  name: string;
  /** On another computer than the library. */
  elsewhere: boolean;
  /** Library folders that it does not have. */
  away: string[];
  /** ISO 8601. */
  since: string;
}
