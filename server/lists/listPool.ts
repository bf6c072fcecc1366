/** Lists written in a thread that is ended when an export takes too long or too much memory. */
import { Piscina } from 'piscina';
import { Problem } from '../base/problem.ts';
import type { ListAnswer, ListWish, Written } from './listThread.ts';

/** An export, be it of one list or of many, may take so long. */
const MAX_MS = 60_000;
const MAX_MEGABYTES = 1024;

/** One export: its lists share its time. Rejects with a Problem for a bad template, or when the time is over. */
export type ListWriter = <F extends ListWish['format']>(wish: ListWish & { format: F }) => Promise<Written<F>>;

export interface ListPool {
  /** Begins an export. @param milliseconds that all of it may take */
  export(milliseconds?: number): ListWriter;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled listThread. */
export function createListPool(threadFile: URL): ListPool {
  const pool = new Piscina<ListWish, ListAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 30_000,
    concurrentTasksPerWorker: 1,
    resourceLimits: { maxOldGenerationSizeMb: MAX_MEGABYTES },
  });
  pool.on('error', () => undefined); // whoever asked is told
  const ask = async (wish: ListWish, signal: AbortSignal): Promise<ListAnswer> => {
    try {
      return await pool.run(wish, { signal });
    } catch (error) {
      if (signal.aborted)
        throw new Problem(400, 'too-slow', 'The export takes too long: a simpler line template helps');
      if ((error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Problem(413, 'too-large', 'The export takes too much memory: fewer entries at a time help');
      throw error;
    }
  };
  return {
    export(milliseconds = MAX_MS) {
      const signal = AbortSignal.timeout(milliseconds);
      return async (wish) => {
        const answer = await ask(wish, signal);
        if ('badTemplate' in answer) throw new Problem(400, 'bad-template', answer.badTemplate);
        return answer.content as never;
      };
    },
    close: () => pool.destroy(),
  };
}
