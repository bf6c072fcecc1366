/**
 * Asking a service on this machine, politely: one question at a time, no quicker than it likes, waiting when it is
 * down.
 */

/** It did not answer although it was asked several times. */
export class ServiceDown extends Error {}

export interface Patience {
  signal?: AbortSignal;
  /** Told what is the matter, null when all is well again. */
  trouble?: (words: string | null) => void;
  /** Shortest time between two questions. */
  gapMs?: number;
  tries?: number;
  /** For tests: waits. */
  wait?: (ms: number) => Promise<void>;
}

const GAP_MS = 100,
  MAX_GAP_MS = 2000,
  TIMEOUT_MS = 15_000,
  SLOW_MS = 800,
  TRIES = 7;

/** Asks for a path; answers that say that it is down or asked too often are none. @throws ServiceDown */
export type Ask = (path: string, init?: RequestInit) => Promise<Response>;

/**
 * @param name as a sentence begins with it: "The catalogue"
 * @throws RangeError for an address that is not on this machine
 */
export function patiently(
  name: string,
  address: string,
  { signal, trouble = () => undefined, gapMs = GAP_MS, tries = TRIES, wait = (ms) => pause(ms, signal) }: Patience = {},
): Ask {
  if (!['127.0.0.1', 'localhost', '[::1]'].includes(new URL(address).hostname))
    throw new RangeError(`${name} has to be on this machine`);
  let gap = gapMs,
    last = 0,
    well = true;
  const say = (words: string | null): void => {
    if (words !== null || !well) trouble(words);
    well = words === null;
  };
  return async (path, init) => {
    for (let attempt = 1; ; attempt++) {
      signal?.throwIfAborted();
      await wait(Math.max(0, last + gap - Date.now()));
      last = Date.now();
      let delay = Math.min(8000, 400 * 2 ** (attempt - 1)),
        words = `${name} does not answer`;
      try {
        const response = await fetch(new URL(path, address), {
          ...init,
          signal: AbortSignal.any([AbortSignal.timeout(TIMEOUT_MS), ...(signal ? [signal] : [])]),
        });
        if (response.status === 429) {
          gap = Math.min(MAX_GAP_MS, gap * 2);
          words = `${name} is asked too often; waiting`;
        } else if (response.status >= 500) words = `${name} is down; waiting`;
        else {
          gap = Math.max(gapMs, gap * 0.9);
          say(Date.now() - last > SLOW_MS ? `${name} is slow just now` : null);
          return response;
        }
        await response.body?.cancel();
        delay = Math.max(delay, (Number(response.headers.get('retry-after')) || 0) * 1000);
      } catch (error) {
        if (signal?.aborted) throw error;
      }
      if (attempt >= tries) throw new ServiceDown(words.replace('; waiting', ''));
      say(`${words} ${Math.max(1, Math.round(delay / 1000))} s`);
      await wait(delay);
    }
  };
}

function pause(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    if (ms <= 0) {
      resolve();
      return;
    }
    const end = (): void => {
      clearTimeout(timer);
      reject(signal!.reason as Error);
    };
    const timer = setTimeout(() => {
      signal?.removeEventListener('abort', end);
      resolve();
    }, ms);
    signal?.addEventListener('abort', end, { once: true });
  });
}
