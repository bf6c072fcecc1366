/** Lists written in a thread that is ended when an export takes too long or too much memory. */
import { Problem } from '../base/problem.ts';
import { createThreadPool } from '../base/threadPool.ts';
import type { ListAnswer, ListWish, Written } from './listThread.ts';

/** An export, be it of one list or of many, may take so long. */
const MAX_MS = 60_000;

/** One export: its lists share its time. Rejects with a Problem for a bad template, or when the time is over. */
export type ListWriter = <F extends ListWish['format']>(wish: ListWish & { format: F }) => Promise<Written<F>>;

export interface ListPool {
  /** Begins an export. @param milliseconds that all of it may take */
  export(milliseconds?: number): ListWriter;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled listThread. */
export function createListPool(threadFile: URL): ListPool {
  const pool = createThreadPool<ListWish, ListAnswer>(threadFile, {
    maxThreads: 2,
    maxMegabytes: 1024,
    tooSlow: 'The export takes too long: a simpler line template helps',
    tooLarge: 'The export takes too much memory: fewer entries at a time help',
  });
  return {
    export(milliseconds = MAX_MS) {
      const time = AbortSignal.timeout(milliseconds);
      return async (wish) => {
        const answer = await pool.run(wish, { time });
        if ('badTemplate' in answer) throw new Problem(400, 'bad-template', answer.badTemplate);
        return answer.content as never;
      };
    },
    close: pool.close,
  };
}
