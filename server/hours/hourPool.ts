/** Filling in a thread that is ended when it takes too long or too much memory. */
import { Piscina } from 'piscina';
import { Problem } from '../base/problem.ts';
import type { HourAnswer, HourWish } from './hourThread.ts';

/** A month of hours from a large library takes less. */
const MAX_MS = 300_000;
const MAX_MEGABYTES = 2048;

export interface HourPool {
  /** @param gone ends it. @throws Problem when it is ended, takes too long or too much memory */
  run(wish: HourWish, gone?: AbortSignal): Promise<HourAnswer>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled hourThread. */
export function createHourPool(threadFile: URL): HourPool {
  const pool = new Piscina<HourWish, HourAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: MAX_MEGABYTES },
  });
  pool.on('error', () => undefined); // whoever asked is told
  return {
    async run(wish, gone) {
      const signal = AbortSignal.any([AbortSignal.timeout(MAX_MS), ...(gone ? [gone] : [])]);
      try {
        return await pool.run(wish, { signal });
      } catch (error) {
        if (gone?.aborted) throw new Problem(400, 'cancelled', 'Filling was cancelled');
        if (signal.aborted) throw new Problem(400, 'too-slow', 'Filling takes too long: fewer hours at a time help');
        if ((error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
          throw new Problem(413, 'too-large', 'Filling takes too much memory: fewer hours at a time help');
        throw error;
      }
    },
    close: () => pool.destroy(),
  };
}
