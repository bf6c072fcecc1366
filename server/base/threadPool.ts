/** Heavy work in threads that are ended when it takes too long or too much memory. */
import type { Transferable } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { Problem } from './problem.ts';

export interface ThreadPoolOptions {
  maxThreads: number;
  maxMegabytes: number;
  /** A thread with nothing to do is ended after so long, in milliseconds. */
  idleMs?: number;
  /** What is said when the time is over, and when the memory is. */
  tooSlow: string;
  tooLarge: string;
}
export interface ThreadRun {
  /** Ends it when its time is over. */
  time: AbortSignal;
  /** Ends it since nobody waits for it any more. */
  gone?: AbortSignal | undefined;
  transfer?: Transferable[];
}
export interface ThreadPool<W, A> {
  /** @throws Problem when it is ended, takes too long or too much memory */
  run(wish: W, how: ThreadRun): Promise<A>;
  close(): Promise<void>;
}

/**
 * Starts it; threads that have nothing to do are ended.
 * @param threadFile a bundle whose default export does the work
 */
export function createThreadPool<W, A>(threadFile: URL, options: ThreadPoolOptions): ThreadPool<W, A> {
  const pool = new Piscina<W, A>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: options.maxThreads,
    idleTimeout: options.idleMs ?? 30_000,
    concurrentTasksPerWorker: 1,
    resourceLimits: { maxOldGenerationSizeMb: options.maxMegabytes },
  });
  pool.on('error', () => undefined); // whoever asked is told
  return {
    async run(wish, { time, gone, transfer }) {
      const signal = gone ? AbortSignal.any([time, gone]) : time;
      try {
        return await pool.run(wish, { signal, ...(transfer ? { transferList: transfer } : {}) });
      } catch (error) {
        if (gone?.aborted) throw new Problem(400, 'cancelled', 'It was cancelled');
        if (signal.aborted) throw new Problem(400, 'too-slow', options.tooSlow);
        if ((error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
          throw new Problem(413, 'too-large', options.tooLarge);
        throw error;
      }
    },
    close: () => pool.destroy(),
  };
}
