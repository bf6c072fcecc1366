/** Recordings compared in threads. */
import type { Comparison, Sound } from '@early-set/core/duplicates/compare';
import { createThreadPool } from '../base/threadPool.ts';

const MAX_MS = 120_000;

export interface ComparePool {
  readonly threads: number;
  /** @throws Problem when it is ended, takes too long or too much memory */
  compare(first: Sound, second: Sound, gone?: AbortSignal): Promise<Comparison>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled compareThread. */
export function createComparePool(threadFile: URL, threads: number): ComparePool {
  const pool = createThreadPool<[Sound, Sound], Comparison>(threadFile, {
    maxThreads: threads,
    maxMegabytes: 1024,
    tooSlow: 'Comparing two of these takes too long',
    tooLarge: 'Comparing two of these takes too much memory',
  });
  return {
    threads,
    compare: (first, second, gone) => pool.run([first, second], { time: AbortSignal.timeout(MAX_MS), gone }),
    close: pool.close,
  };
}
