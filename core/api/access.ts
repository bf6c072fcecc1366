/** Who may use this server from elsewhere. */

/** A browser that has signed in. */
export interface SessionLine {
  id: string;
  /** ISO 8601. */
  at: string;
  seen: string;
  address: string;
  /** What the browser says it is. */
  browser: string;
  /** It is the one that asks. */
  current: boolean;
}

export interface AccessAnswer {
  /** False: only this computer reaches it, and nobody signs in. */
  listening: boolean;
  sessions: SessionLine[];
}
