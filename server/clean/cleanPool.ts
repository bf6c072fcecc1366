/** Cleaning by presets in a thread. */
import type { CleanResult } from '@early-set/core/clean/runSteps';
import { createThreadPool } from '../base/threadPool.ts';
import type { CleanWish } from './cleanThread.ts';

const MAX_MS = 180_000;

export interface CleanPool {
  /** @throws Problem when it is ended, takes too long or too much memory */
  clean(wish: CleanWish): Promise<CleanResult>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled cleanThread. */
export function createCleanPool(threadFile: URL): CleanPool {
  const pool = createThreadPool<CleanWish, CleanResult>(threadFile, {
    maxThreads: 1,
    maxMegabytes: 2048,
    tooSlow: 'The steps of this preset take too long for so many tracks',
    tooLarge: 'The steps of this preset take too much memory for so many tracks',
  });
  return {
    clean: (wish) => pool.run(wish, { time: AbortSignal.timeout(MAX_MS) }),
    close: pool.close,
  };
}
