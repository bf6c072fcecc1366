/** What those who change files work with, and how a line of a change set ends. */
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import type { ArtStore } from '../media/art.ts';

/** Moments between which a process may die. */
export type WriteStep = 'locked' | 'prepared' | 'journalled' | 'written' | 'settled';

export interface WriteContext {
  database: Database;
  files: FilePool;
  art: ArtStore;
  /** Told at each step of each file. */
  step?: (step: WriteStep, trackId: number) => void;
}

export interface Settled {
  state: 'done' | 'conflict' | 'failed';
  reason: string | null;
}
