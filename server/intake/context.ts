/** What a scan works with, and what it ends with. */
import type { DeskSettings } from '@early-set/core/api/settings';
import type { FileState } from '@early-set/core/changes/snapshot';
import type { BySetting } from '@early-set/core/tags/values';
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import type { ArtStore } from '../media/art.ts';

export interface ScanReport {
  found: number;
  taken: number;
  changed: number;
  returned: number;
  missing: number;
  notTaken: number;
  /** Of those that were read this time, the ones that could not be read though they may be music. */
  unread: number;
  /** Changed files that say otherwise than what was typed; of some, the playout IDs of their tracks. */
  differs: number;
  differing: number[];
  /** The change set of what was taken over from changed files; null when nothing was. */
  changeSetId: number | null;
  /** How many tracks that were. */
  followed: number;
  /** Files that a killed process had left unfinished; they are removed. */
  remains: number;
  /** Of what was not taken, what the scan before had not said so: how many, and the first of them. */
  newlyRefused: number;
  refused: { path: string; reason: string }[];
}

export interface ScanContext {
  database: Database;
  /** The run that it is. */
  runId: number;
  art: ArtStore;
  files: FilePool;
  /** What happens when a changed file says something else than what is there. */
  policy: DeskSettings['changedFiles'];
  /** Which fields that are by setting are taken. */
  settings: BySetting;
  root: { id: number; path: string; label: string; watch: boolean };
  /** Files that are not there are really gone, however many: somebody said so. */
  lossAccepted?: boolean;
  /** Told after each batch: done and total files, the file in hand, the tracks that came in. */
  progress: (done: number, total: number, current: string | null, newTracks: number[]) => Promise<void>;
  signal?: AbortSignal;
}

/** A file of the root as the library knows it. */
export interface KnownFile {
  id: string;
  trackId: number;
  role: 'main' | 'copy' | 'companion';
  path: string;
  size: number;
  modifiedMs: number;
  changedMs: number | null;
  tagHash: string | null;
  state: FileState;
}

export interface Refusal {
  path: string;
  code: string;
  reason: string;
  size: number;
  modifiedMs: number;
}

/** Maps with at most `width` at the same time, in order. */
export async function inParallel<A, B>(items: A[], width: number, work: (item: A) => Promise<B>): Promise<B[]> {
  const out = new Array<B>(items.length);
  let next = 0;
  await Promise.all(
    Array.from({ length: Math.min(width, items.length) }, async () => {
      while (next < items.length) {
        const i = next++;
        out[i] = await work(items[i]!);
      }
    }),
  );
  return out;
}
