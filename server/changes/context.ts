/** What those who change things work with, and how a line of a change set ends. */
import type { ChangeItem } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import type { PlaceStep } from '../files/place.ts';
import type { DefinedRun } from '../jobs/defineRun.ts';
import type { ArtStore } from '../media/art.ts';
import type { WriteDestination } from '@early-set/core/changes/kinds/writeDestination';
import type { DriveQueue } from './driveQueue.ts';
import type { InTurn } from './editOrder.ts';

/** Moments between which a process may die. */
export type WorkStep =
  'claimed' | 'prepared' | 'journalled' | PlaceStep | DestinationStep | StickStep | 'written' | 'settled';

/** A program that the library is handed over to. */
export interface Destination {
  id: number;
  kind: string;
  name: string;
  /** The folder that was chosen for it. */
  folder: string;
}

/** Moments at which a process may die while a destination is written. */
export type DestinationStep = 'staged' | 'checked' | 'exchanged';

/**
 * Puts kept data of a destination in the place of what is there. @throws Problem where that is not what it was, or the
 * program is open
 */
export type WriteData = (
  destination: Destination,
  item: Pick<WriteDestination, 'before' | 'after'>,
  step?: (at: DestinationStep) => Promise<void> | void,
) => Promise<void>;

/** Moments at which a process may die while a stick is written. */
export type StickStep = 'removed' | 'made' | 'announced' | 'placed' | 'noted';

/**
 * Brings a kept plan to its stick, or takes off all that is ours where there is none.
 * @throws Problem where it ended before its end, with what is there; code "cancelled" where that was wished
 */
export type WriteStickFiles = (
  stickId: number,
  planId: string | null,
  hooks: {
    signal: AbortSignal | undefined;
    progress: ((bytes: number) => void) | undefined;
    step?: (at: StickStep) => Promise<void> | void;
  },
) => Promise<{ given: number[] }>;

export interface FileContext {
  writeData: WriteData;
  writeStickFiles: WriteStickFiles;
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
  /** Bytes that its files are copied with. */
  copied?: number;
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
