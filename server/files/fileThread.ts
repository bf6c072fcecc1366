/** Thread for work on files. */
import { receiveMessageOnPort, type MessagePort } from 'node:worker_threads';
import { workOnFile, type FileAnswer, type FileWish } from './fileTasks.ts';
import type { PlaceStep } from './place.ts';

/** What goes between the pool and a thread while a file is placed. */
export type ThreadSays = { bytes: number } | { step: PlaceStep };
export interface ThreadWish {
  wish: FileWish;
  port?: MessagePort;
  /** Held up at each step until the other side sets it to the step's number. */
  held?: SharedArrayBuffer;
}

const TELL_MS = 200;

/** Does one thing; tells of progress, and looks whether it was called off, by the port. */
export default async function work({ wish, port, held }: ThreadWish): Promise<FileAnswer> {
  if (!port) return workOnFile(wish);
  let told = 0,
    cancelled = false,
    steps = 0;
  const gate = held && new Int32Array(held);
  try {
    return await workOnFile(wish, {
      progress(bytes) {
        if (Date.now() - told < TELL_MS) return;
        told = Date.now();
        port.postMessage({ bytes } satisfies ThreadSays);
      },
      cancelled: () => (cancelled ||= receiveMessageOnPort(port) !== undefined),
      step(step) {
        if (!gate) return;
        steps++;
        port.postMessage({ step } satisfies ThreadSays);
        while (Atomics.load(gate, 0) < steps) Atomics.wait(gate, 0, Atomics.load(gate, 0), 1000);
      },
    });
  } finally {
    port.close();
  }
}
