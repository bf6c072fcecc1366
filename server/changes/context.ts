/** What those who change things work with, and how a line of a change set ends. */
import type { ChangeItem } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import type { PlaceStep } from '../files/place.ts';
import type { DefinedRun } from '../jobs/defineRun.ts';
import type { ArtStore } from '../media/art.ts';
import type { DriveQueue } from './driveQueue.ts';
import type { InTurn } from './editOrder.ts';

/** Moments between which a process may die. */
export type WorkStep = 'claimed' | 'prepared' | 'journalled' | PlaceStep | 'written' | 'settled';

export interface FileContext {
  database: Database;
  files: FilePool;
  art: ArtStore;
  drives: DriveQueue;
  /** Says in the database who is at a file. */
  workerId: number;
  /** Told at each step of each file; it goes on when this is done. */
  step?: (step: WorkStep, trackId: number) => void | Promise<void>;
}

/** What a run of file work works on. */
export interface OfChangeSet {
  changeSetId: number;
}

export interface ChangeContext extends FileContext {
  /** Carries out what is too much to wait for. */
  filesRun: DefinedRun<OfChangeSet>;
  inTurn: InTurn;
  /** So many bytes are worked on while the person waits; more become a run. */
  maxBytesAtOnce: number;
}

export interface Outcome {
  state: 'done' | 'conflict' | 'failed' | 'cancelled';
  reason: string | null;
}

/** The line of a change set that an item takes back. */
export interface Restored {
  changeSetId: number;
  seq: number;
}

/** A line of a change set that is made in a file. */
export interface FileLine {
  changeSetId: number;
  seq: number;
  item: ChangeItem;
  trackId: number;
  restores: Restored | null;
}

export const conflict = (reason: string): Outcome => ({ state: 'conflict', reason });
export const DONE: Outcome = { state: 'done', reason: null };
