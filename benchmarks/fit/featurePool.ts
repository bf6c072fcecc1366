import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { FeatureWish, Heard } from './featureThread.ts';

export type { Heard } from './featureThread.ts';

/** Takes features of files in worker threads. */
export function createFeaturePool(thread: URL): {
  features(wish: FeatureWish): Promise<Heard>;
  close(): Promise<void>;
} {
  const pool = new Piscina<FeatureWish, Heard>({ filename: thread.href, maxThreads: availableParallelism() });
  return { features: (wish) => pool.run(wish), close: () => pool.destroy() };
}
