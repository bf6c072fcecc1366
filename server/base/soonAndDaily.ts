/** Work that is to be done soon after something has happened, and when a day begins. */
import { midnight } from '@early-set/core/conditions/condition';
import { log } from './log.ts';

export interface SoonAndDaily {
  soon: () => void;
  /** Ends it, when what is under way is done. */
  stop: () => Promise<void>;
}

/**
 * Does the work once after the start, soon after each call of `soon` (several calls are one), and at local midnight.
 * @param failed what the log says when it fails
 */
export function soonAndDaily(work: () => Promise<unknown>, soonMs: number, failed: string): SoonAndDaily {
  let timer: NodeJS.Timeout | null = null,
    under: Promise<unknown> = Promise.resolve(),
    stopped = false;
  const begin = (): void => {
    timer = null;
    // One after the other: what takes longer than it is asked for must not pile up.
    under = under
      .then(() => (stopped ? undefined : work()))
      .catch((error: unknown) => {
        if (!stopped) log.error(error, failed);
      });
  };
  const soon = (): void => {
    if (!stopped) timer ??= setTimeout(begin, soonMs);
  };
  let night: NodeJS.Timeout;
  const sleep = (): void => {
    night = setTimeout(
      () => {
        soon();
        sleep();
      },
      midnight(new Date(), -1).getTime() - Date.now() + 1000,
    ).unref();
  };
  sleep();
  soon();
  return {
    soon,
    async stop() {
      stopped = true;
      clearTimeout(night);
      if (timer) clearTimeout(timer);
      await under;
    },
  };
}
