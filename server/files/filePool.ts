/** Work on files in threads of its own, so that a large file holds nobody up. */
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { FileAnswer, FileAnswers, FileWish } from './fileTasks.ts';
import type { ThreadSays, ThreadWish } from './fileThread.ts';
import type { PlaceStep } from './place.ts';

export interface AskOptions {
  signal?: AbortSignal;
  /** Bytes that have been copied. */
  progress?: (bytes: number) => void;
  /** Told at each step of placing; the thread waits until it is done. */
  step?: (step: PlaceStep) => void | Promise<void>;
}

export interface FilePool {
  /** @throws FileTrouble with a sentence when something about the file stands in the way */
  ask<O extends FileWish['op']>(wish: FileWish & { op: O }, options?: AskOptions): Promise<FileAnswers[O]>;
  close(): Promise<void>;
}

interface FileTroubleOptions {
  cancelled?: boolean;
  half?: boolean;
  code?: string | undefined;
}

/** Why something could not be done with a file. */
export class FileTrouble extends Error {
  override name = 'FileTrouble';
  readonly cancelled: boolean;
  /** Of the operating system, where there is one. */
  readonly code: string | undefined;
  /** The file was left written in part: its journal is what puts it back. */
  readonly half: boolean;
  constructor(reason: string, { cancelled = false, half = false, code }: FileTroubleOptions = {}) {
    super(reason);
    this.cancelled = cancelled;
    this.half = half;
    this.code = code;
  }
}

/** Starts it. `threadFile` is the bundled fileThread. */
export function createFilePool(threadFile: URL): FilePool {
  const pool = new Piscina<ThreadWish, FileAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: 3,
    idleTimeout: 30_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    async ask(wish, options = {}) {
      const said =
        options.signal || options.progress || options.step
          ? await talking(pool, wish, options)
          : await pool.run({ wish });
      if (!said.ok) throw new FileTrouble(said.reason, said);
      return said.answer as never;
    },
    close: () => pool.destroy(),
  };
}

async function talking(
  pool: Piscina<ThreadWish, FileAnswer>,
  wish: FileWish,
  { signal, progress, step }: AskOptions,
): Promise<FileAnswer> {
  const { port1, port2 } = new MessageChannel();
  const held = step && new SharedArrayBuffer(4);
  port1.on('message', (said: ThreadSays) => {
    if ('bytes' in said) progress?.(said.bytes);
    else
      void Promise.resolve(step?.(said.step)).then(() => {
        const gate = new Int32Array(held!);
        Atomics.add(gate, 0, 1);
        Atomics.notify(gate, 0);
      });
  });
  const cancel = (): void => port1.postMessage('cancel');
  signal?.addEventListener('abort', cancel, { once: true });
  if (signal?.aborted) cancel();
  try {
    return await pool.run({ wish, port: port2, ...(held ? { held } : {}) }, { transferList: [port2] });
  } finally {
    signal?.removeEventListener('abort', cancel);
    port1.close();
  }
}
