/** Looking for files in a thread. */
import type { FoundAgain } from '@early-set/core/relink/facts';
import { createThreadPool } from '../base/threadPool.ts';
import type { RelinkWish } from './relinkThread.ts';

const MAX_MS = 300_000;

export interface RelinkPool {
  /** @throws Problem when it is ended, takes too long or too much memory */
  find(wish: RelinkWish, gone?: AbortSignal): Promise<FoundAgain[]>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled relinkThread. */
export function createRelinkPool(threadFile: URL): RelinkPool {
  const pool = createThreadPool<RelinkWish, FoundAgain[]>(threadFile, {
    maxThreads: 1,
    maxMegabytes: 3072,
    tooSlow: 'Finding takes too long: fewer tracks at a time help',
    tooLarge: 'Finding takes too much memory: fewer tracks at a time help',
  });
  return {
    find: (wish, gone) => pool.run(wish, { time: AbortSignal.timeout(MAX_MS), gone }),
    close: pool.close,
  };
}
