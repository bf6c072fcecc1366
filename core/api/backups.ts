/** Backups of the desk as they go over the wire. */
import type { BackupReason, KeptAs, KeepRule } from '../backups/keep.ts';

export interface BackupSettings {
  /** Made by itself, each day. */
  on: boolean;
  /** Time of day, "04:00". */
  at: string;
  /** Where they lie; null: in the data folder. */
  folder: string | null;
  keep: KeepRule;
}

export interface BackupLine {
  id: string;
  madeAt: string;
  reason: BackupReason;
  /** Of the database's dump and of all files that go with it. */
  bytes: number;
  tracks: number;
  lists: number;
  changes: number;
  /** Covers, states of destinations, plans of sticks. */
  files: number;
  /** When it was restored into a database made for the purpose, and compared. */
  verifiedAt: string | null;
  /** What was wrong with it then. */
  trouble: string | null;
  /** Null: goes with the next one. */
  keptAs: KeptAs[] | null;
  /** It was made by a newer version, and cannot be restored by this one. */
  newer: boolean;
}

/** How a restore ended. */
export interface RestoreOutcome {
  id: string;
  at: string;
  /** Null when it did what it should. */
  reason: string | null;
  /** The backup of what was replaced. */
  before: string | null;
}

export interface BackupsHere {
  folder: string;
  /** Null when it can be written to. */
  trouble: string | null;
  /** The desk's own data lie on the same drive: a drive that breaks takes both. */
  sameDrive: boolean;
  freeBytes: number | null;
  /** The latest first. */
  backups: BackupLine[];
  /** When the next one comes by itself. */
  nextAt: string | null;
  restored: RestoreOutcome | null;
  /** A backup can be restored from here. */
  canRestore: boolean;
}

/** What the address of a desk says while it restores. */
export interface RestoreProgress {
  id: string;
  step: string;
  /** Everything stays as it was then. */
  canCancel: boolean;
}
