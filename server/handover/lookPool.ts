/** Comparing in a thread. */
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { Problem } from '../base/problem.ts';
import { createThreadPool, type ThreadPool } from '../base/threadPool.ts';
import { answerOn, type Answers, type Found, type LookAnswer, type LookWish } from './asking.ts';

const MAX_MS = 900_000;

export interface LookPool {
  /** @throws Problem where it cannot be compared, takes too long or too much memory, or nobody waits for it any more */
  look(wish: LookWish, answers: Answers, gone?: AbortSignal): Promise<Found>;
  close(): Promise<void>;
}

/** The less a thread may take, the less of what it no longer needs it keeps: most libraries are compared in this. */
const MOST_AT_FIRST = 900;
/** What did not fit is compared once more in a larger one. */
const MOST = 6000;

/** Starts it. `threadFile` is the bundled lookThread. */
export function createLookPool(threadFile: URL): LookPool {
  const pools = [MOST_AT_FIRST, MOST].map((maxMegabytes) =>
    createThreadPool<{ wish: LookWish; port: MessagePort }, LookAnswer>(threadFile, {
      ...{ maxThreads: 1, maxMegabytes },
      // Of a large library its memory is worth more than the tenth of a second in which it starts.
      idleMs: 1000,
      tooSlow: 'Comparing takes too long: fewer lists at a time help',
      tooLarge: TOO_LARGE,
    }),
  );
  return {
    async look(wish, answers, gone) {
      for (const pool of pools) {
        const found = await lookIn(pool, wish, answers, gone).catch((error: unknown) => {
          if (pool === pools.at(-1) || !(error instanceof Problem) || error.code !== 'too-large') throw error;
          return null;
        });
        if (found?.refused === null) return found;
        if (found) throw new Problem(found.refused.status, found.refused.code, found.refused.message);
      }
      throw new Problem(413, 'too-large', TOO_LARGE);
    },
    async close() {
      for (const pool of pools) await pool.close();
    },
  };
}
const TOO_LARGE = 'Comparing takes too much memory: fewer lists at a time help';

async function lookIn(
  pool: ThreadPool<{ wish: LookWish; port: MessagePort }, LookAnswer>,
  wish: LookWish,
  answers: Answers,
  gone: AbortSignal | undefined,
): Promise<LookAnswer> {
  const { port1, port2 } = new MessageChannel();
  const unanswered = new AbortController();
  let failed: unknown = null;
  answerOn(port1, answers, (error) => {
    failed = error;
    unanswered.abort();
  });
  try {
    return await pool.run(
      { wish, port: port2 },
      {
        time: AbortSignal.timeout(MAX_MS),
        gone: gone ? AbortSignal.any([gone, unanswered.signal]) : unanswered.signal,
        transfer: [port2],
      },
    );
  } catch (error) {
    throw gone?.aborted ? error : (failed ?? error);
  } finally {
    port1.close();
  }
}
