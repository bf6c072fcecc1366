/** Work on files in a thread of its own, so that a large file holds nobody up. */
import { Piscina } from 'piscina';
import type { FileAnswer, FileAnswers, FileWish } from './fileWork.ts';

export interface FilePool {
  /** @throws FileTrouble with a sentence when something about the file stands in the way */
  ask<O extends FileWish['op']>(wish: FileWish & { op: O }): Promise<FileAnswers[O]>;
  close(): Promise<void>;
}

/** Why something could not be done with a file. */
export class FileTrouble extends Error {
  override name = 'FileTrouble';
}

/** Starts it. `threadFile` is the bundled fileThread. */
export function createFilePool(threadFile: URL): FilePool {
  const pool = new Piscina<FileWish, FileAnswer>({
    filename: threadFile.href,
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 30_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    async ask(wish) {
      const said = await pool.run(wish);
      if (!said.ok) throw new FileTrouble(said.reason);
      return said.answer as never;
    },
    close: () => pool.destroy(),
  };
}
