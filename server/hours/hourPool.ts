/** Filling in a thread that is ended when it takes too long or too much memory. */
import { MessageChannel } from 'node:worker_threads';
import type { HoursProgress } from '@early-set/core/api/hours';
import { createThreadPool } from '../base/threadPool.ts';
import type { HourAnswer, HourTask, HourWish } from './hourThread.ts';

/** A month of hours from a large library takes less. */
const MAX_MS = 300_000;
const FEWER = 'fewer hours at a time help';

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
  const pool = createThreadPool<HourTask, HourAnswer>(threadFile, {
    maxThreads: 1,
    maxMegabytes: 2048,
    tooSlow: `Filling takes too long: ${FEWER}`,
    tooLarge: `Filling takes too much memory: ${FEWER}`,
  });
  const under = new Map<string, HoursProgress>();
  return {
    async run(wish, gone, making) {
      const { port1: told, port2: port } = new MessageChannel();
      if (making && wish.task === 'make') {
        const total = wish.hours.length;
        under.set(making, { done: 0, total });
        told.on('message', (done: number) => under.set(making, { done, total }));
      }
      try {
        return await pool.run({ wish, port }, { time: AbortSignal.timeout(MAX_MS), gone, transfer: [port] });
      } finally {
        told.close();
        if (making) under.delete(making);
      }
    },
    progressOf: (making) => under.get(making) ?? null,
    close: pool.close,
  };
}
