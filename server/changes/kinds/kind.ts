/**
 * What the server has to know of a kind of change: what it wants to see, how it is stored, and how it is made in
 * files.
 */
import type { Transaction } from 'sequelize';
import type { BaseItem } from '@early-set/core/changes/kinds/kind';
import type { Snapshot } from '@early-set/core/changes/snapshot';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { Database } from '../../db/database.ts';
import type { StoredTrack } from '../../library/trackStore.ts';
import type { FileContext, FileLine, Outcome } from '../context.ts';

/** What a draft has to be compared with; kinds add to it. */
export interface Wants {
  tracks: Set<number>;
  fields: Set<string>;
  lists: Set<string>;
  dates: Set<number>;
  /** Self-filling crates that ask about lists. */
  asking: boolean;
  /** Tracks whose files matter. */
  filesOf: Set<number>;
  /** Places that have to be free. */
  places: FileRef[];
}

export interface Storing {
  database: Database;
  /** As it is after the draft. */
  snapshot: Snapshot;
  /** Tracks as they were loaded, for what a snapshot does not hold. */
  loaded: ReadonlyMap<number, StoredTrack>;
  t: Transaction;
}

/** How a kind is made in files, one at a time, with no lock and no transaction held. */
export interface FileWork<I extends BaseItem, P extends object = object, R = unknown> {
  /** What will be done, to be journalled before anything is touched; or why it will not. */
  prepare(context: FileContext, line: FileLine & { item: I }): Promise<{ intent: P } | Outcome>;
  /** Does it. After a kill it is called again with the same intent. */
  perform(context: FileContext, line: FileLine & { item: I }, intent: P, options: PerformOptions): Promise<R>;
  /** Stores what came of it, in the transaction that settles the line. */
  settle(context: FileContext, line: FileLine & { item: I }, intent: P, result: R, t: Transaction): Promise<void>;
  /**
   * What a kill left: made whole (with its result), or to be begun again; with a sentence when something was put
   * right.
   */
  recover(
    context: FileContext,
    line: FileLine & { item: I },
    intent: P,
  ): Promise<{ made: R | null; said: string | null }>;
  /** Bytes that will be worked on, how many of them are copied, and the drives they lie on. */
  weigh(item: I, snapshot: Snapshot): { bytes: number; copied?: number; devices: string[] };
}

export interface PerformOptions {
  signal?: AbortSignal;
  progress?: (bytes: number) => void;
  /** This very work was under way when a process was killed. */
  begun: boolean;
}

export interface ServerKind<I extends BaseItem> {
  kind: I['kind'];
  wants(item: I, wants: Wants): void;
  /** Stores what the library holds now; all items of the kind that were made, together. */
  store?(storing: Storing, items: readonly I[]): Promise<void>;
  files?: FileWork<I>;
  /** The fields of tracks that storing an item changes; left out where it may be any. */
  changes?(item: I): readonly string[];
  /** What the page is told about. */
  tells: 'tracks' | 'lists' | 'dates' | 'destinations';
}

export const serverKind = <I extends BaseItem, P extends object = object, R = unknown>(
  kind: Omit<ServerKind<I>, 'files'> & { files?: FileWork<I, P, R> },
): ServerKind<I> => kind as ServerKind<I>;

export const UNKNOWN_DEVICE = 'unknown';

/** The drive of a root, as file work queues for it. */
export const deviceOf = (snapshot: Snapshot, rootId: number): string =>
  snapshot.roots.get(rootId)?.device ?? UNKNOWN_DEVICE;
