/** Slows down whoever tries passphrases: each address by itself, and all together when many try. */

/** So many may be wrong before one has to wait. */
const FREE = 3;
const LONGEST_S = 300;
const FORGOTTEN_MS = 3_600_000;
/** More wrong ones than this within an hour, from wherever: everybody waits. */
const MANY = 100;
const MANY_WAIT_S = 10;
const MOST_ADDRESSES = 10_000;

interface Tries {
  wrong: number;
  last: number;
}

export interface Attempts {
  /**
   * May somebody at this address try now? It counts as wrong until it is told to be right, so that many at once are
   * no way around.
   * @returns seconds to wait; 0: it is tried
   */
  begin(address: string, now?: number): number;
  right(address: string): void;
}

export function createAttempts(): Attempts {
  const byAddress = new Map<string, Tries>();
  let all: Tries = { wrong: 0, last: 0 };
  const fresh = (tries: Tries | undefined, now: number): Tries =>
    tries && now - tries.last < FORGOTTEN_MS ? tries : { wrong: 0, last: 0 };
  const waits = ({ wrong, last }: Tries, seconds: number, now: number): number =>
    wrong === 0 ? 0 : Math.max(0, Math.ceil((last + seconds * 1000 - now) / 1000));
  return {
    begin(address, now = Date.now()) {
      const own = fresh(byAddress.get(address), now);
      all = fresh(all, now);
      const wait = Math.max(
        waits(own, own.wrong < FREE ? 0 : Math.min(LONGEST_S, 2 ** (own.wrong - FREE)), now),
        waits(all, all.wrong < MANY ? 0 : MANY_WAIT_S, now),
      );
      if (wait > 0) return wait;
      byAddress.delete(address); // so that it is the youngest
      byAddress.set(address, { wrong: own.wrong + 1, last: now });
      all = { wrong: all.wrong + 1, last: now };
      if (byAddress.size > MOST_ADDRESSES) byAddress.delete(byAddress.keys().next().value!);
      return 0;
    },
    right(address) {
      byAddress.delete(address);
      all = { ...all, wrong: Math.max(0, all.wrong - 1) };
    },
  };
}
