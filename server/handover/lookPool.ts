/** Comparing in a thread. */
import { MessageChannel } from 'node:worker_threads';
import { Problem } from '../base/problem.ts';
import { createThreadPool } from '../base/threadPool.ts';
import { answerOn, type Answers, type Found, type LookAnswer, type LookWish } from './asking.ts';

const MAX_MS = 900_000;

export interface LookPool {
  /** @throws Problem where it cannot be compared, takes too long or too much memory, or nobody waits for it any more */
  look(wish: LookWish, answers: Answers, gone?: AbortSignal): Promise<Found>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled lookThread. */
export function createLookPool(threadFile: URL): LookPool {
  const pool = createThreadPool<{ wish: LookWish; port: MessageChannel['port2'] }, LookAnswer>(threadFile, {
    maxThreads: 1,
    maxMegabytes: 4096,
    tooSlow: 'Comparing takes too long: fewer lists at a time help',
    tooLarge: 'Comparing takes too much memory: fewer lists at a time help',
  });
  return {
    async look(wish, answers, gone) {
      const { port1, port2 } = new MessageChannel();
      const unanswered = new AbortController();
      let failed: unknown = null;
      answerOn(port1, answers, (error) => {
        failed = error;
        unanswered.abort();
      });
      try {
        const found = await pool.run(
          { wish, port: port2 },
          {
            time: AbortSignal.timeout(MAX_MS),
            gone: gone ? AbortSignal.any([gone, unanswered.signal]) : unanswered.signal,
            transfer: [port2],
          },
        );
        if (found.refused === null) return found;
        throw new Problem(found.refused.status, found.refused.code, found.refused.message);
      } catch (error) {
        throw failed ?? error;
      } finally {
        port1.close();
      }
    },
    close: pool.close,
  };
}
