/** Worker threads for analysis; one file each at a time. */
import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { log } from '../base/log.ts';
import type { ThreadAnswer, ThreadWish } from './analysisThread.ts';

const YOUNG_MB = 6;

export interface AnalysisPool {
  readonly threads: number;
  /** Analyses a file; aborting ends the thread and its ffmpeg. */
  analyse(path: string, signal?: AbortSignal, fingerprint?: boolean): Promise<ThreadAnswer>;
  close(): Promise<void>;
}

/** Starts a pool. `threadFile` is the bundled analysisThread. */
export function createAnalysisPool(threadFile: URL, threads = availableParallelism()): AnalysisPool {
  const pool = new Piscina<ThreadWish, ThreadAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: threads,
    idleTimeout: 30_000,
    concurrentTasksPerWorker: 1,
    // What is thrown away goes often and quickly: with room for more of it a thread only grows.
    resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MB },
  });
  // A thread that dies takes its file with it, and only that; the file's promise says so.
  pool.on('error', (error: unknown) => log.warn(error, 'an analysis thread ended'));
  return {
    threads,
    analyse: (path, signal, fingerprint = false) => pool.run({ path, fingerprint }, signal ? { signal } : {}),
    close: () => pool.destroy(),
  };
}
