import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { Features } from '@early-set/core/analysis/features';

/** Takes features of files in worker threads. */
export function createFeaturePool(thread: URL): { features(path: string): Promise<Features>; close(): Promise<void> } {
  const pool = new Piscina<string, Features>({ filename: thread.href, maxThreads: availableParallelism() });
  return { features: (path) => pool.run(path), close: () => pool.destroy() };
}
