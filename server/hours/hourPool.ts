/** Filling in a thread that is ended when it takes too long or too much memory. */
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { HoursProgress } from '@early-set/core/api/hours';
import { Problem } from '../base/problem.ts';
import type { HourAnswer, HourTask, HourWish } from './hourThread.ts';

/** A month of hours from a large library takes less. */
const MAX_MS = 300_000;
const MAX_MEGABYTES = 2048;

export interface HourPool {
  /**
   * @param gone ends it
   * @param making under this name its progress is told
   * @throws Problem when it is ended, takes too long or too much memory
   */
  run(wish: HourWish, gone?: AbortSignal, making?: string): Promise<HourAnswer>;
  /** How far the hours are that are made under a name; null where none are. */
  progressOf(making: string): HoursProgress | null;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled hourThread. */
export function createHourPool(threadFile: URL): HourPool {
  const pool = new Piscina<HourTask, HourAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: MAX_MEGABYTES },
  });
  pool.on('error', () => undefined); // whoever asked is told
  const under = new Map<string, HoursProgress>();
  return {
    async run(wish, gone, making) {
      const { port1: told, port2: port } = new MessageChannel();
      if (making && wish.task === 'make') {
        const total = wish.hours.length;
        under.set(making, { done: 0, total });
        told.on('message', (done: number) => under.set(making, { done, total }));
      }
      const signal = AbortSignal.any([AbortSignal.timeout(MAX_MS), ...(gone ? [gone] : [])]);
      try {
        return await pool.run({ wish, port }, { signal, transferList: [port] });
      } catch (error) {
        if (gone?.aborted) throw new Problem(400, 'cancelled', 'Filling was cancelled');
        if (signal.aborted) throw new Problem(400, 'too-slow', 'Filling takes too long: fewer hours at a time help');
        if ((error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
          throw new Problem(413, 'too-large', 'Filling takes too much memory: fewer hours at a time help');
        throw error;
      } finally {
        told.close();
        if (making) under.delete(making);
      }
    },
    progressOf: (making) => under.get(making) ?? null,
    close: () => pool.destroy(),
  };
}
