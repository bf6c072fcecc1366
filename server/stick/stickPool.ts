/** Planning sticks and making their files in threads. */
import { MessageChannel } from 'node:worker_threads';
import { Problem } from '../base/problem.ts';
import { createThreadPool } from '../base/threadPool.ts';
import type { MadeFile } from './makeFile.ts';
import type { ItemTask, Made, MakeTask, Plannable, Planned, PlanTask, StickTask } from './stickThread.ts';

const PLAN_MS = 300_000;
/** A file may take so long: hours of sound are levelled in minutes. */
const MAKE_MS = 3_600_000;

export interface StickPool {
  /** @throws Problem when it takes too long or too much memory, or nobody waits for it any more */
  plan(task: Omit<PlanTask, 'what'>, gone?: AbortSignal): Promise<Planned>;
  /** @throws RangeError with a sentence, with the system's code where there is one */
  make(task: Unsent<MakeTask | ItemTask>, signal?: AbortSignal): Promise<MadeFile>;
  close(): Promise<void>;
}

type Unsent<T> = T extends unknown ? Omit<T, 'port'> : never;

/** Starts it. `threadFile` is the bundled stickThread. */
export function createStickPool(threadFile: URL): StickPool {
  const limits = {
    maxMegabytes: 2048,
    tooSlow: 'This takes too long: fewer lists at a time help',
    tooLarge: 'This takes too much memory: fewer lists at a time help',
  };
  const planning = createThreadPool<StickTask, Plannable>(threadFile, { maxThreads: 1, ...limits });
  const making = createThreadPool<StickTask, Made>(threadFile, { maxThreads: 2, ...limits });
  return {
    async plan(task, gone) {
      const said = await planning.run({ what: 'plan', ...task }, { time: AbortSignal.timeout(PLAN_MS), gone });
      if ('refused' in said) throw new Problem(400, 'bad-template', said.refused);
      return said.planned;
    },
    async make(task, signal) {
      const { port1, port2 } = new MessageChannel();
      const call = (): void => port1.postMessage('enough');
      signal?.addEventListener('abort', call, { once: true });
      if (signal?.aborted) call();
      try {
        const how = { time: AbortSignal.timeout(MAKE_MS), transfer: [port2] };
        const said = await making.run({ ...task, port: port2 }, how);
        if ('made' in said) return said.made;
        throw Object.assign(new RangeError(said.reason), said.code === null ? {} : { code: said.code });
      } catch (error) {
        throw error instanceof Problem ? new RangeError(error.message) : error;
      } finally {
        signal?.removeEventListener('abort', call);
        port1.close();
      }
    },
    async close() {
      await planning.close();
      await making.close();
    },
  };
}
