/** Naming by rules in a thread. */
import type { PlaceWish } from '@early-set/core/naming/places';
import { createThreadPool } from '../base/threadPool.ts';
import type { PlacesAnswer } from './placesThread.ts';

const MAX_MS = 180_000;

export interface PlacesPool {
  /** @throws Problem when it is ended, takes too long or too much memory */
  plan(wish: PlaceWish, gone?: AbortSignal): Promise<PlacesAnswer>;
  close(): Promise<void>;
}

/** Starts it. `threadFile` is the bundled placesThread. */
export function createPlacesPool(threadFile: URL): PlacesPool {
  const pool = createThreadPool<PlaceWish, PlacesAnswer>(threadFile, {
    maxThreads: 1,
    maxMegabytes: 2048,
    tooSlow: 'These rules take too long for so many files',
    tooLarge: 'These rules take too much memory for so many files',
  });
  return {
    plan: (wish, gone) => pool.run(wish, { time: AbortSignal.timeout(MAX_MS), gone }),
    close: pool.close,
  };
}
