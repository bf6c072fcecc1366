/**
 * How far behind each destination is stands at it, so that the stage, Today and lists need not compare. It is looked at
 * soon after either side has changed.
 */
import { join } from 'node:path';
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import { log } from '../base/log.ts';
import { compareWith, type Handover } from './compare.ts';
import { stampOf } from './data.ts';
import { allDestinations } from './destinations.ts';
import { programFor } from './programs.ts';

const SOON_MS = 3000;
/** So often it is looked whether data of a destination have changed. */
const WATCH_MS = 20_000;
/** So many times as long as it took, nothing is compared: of a large library it takes a while. */
const REST = 10;

export function keepLooked(handover: Handover): SoonAndDaily {
  const stamps = new Map<number, string>();
  let restUntil = 0;
  const stampsNow = async (): Promise<[number, string][]> => {
    const all = (await allDestinations(handover.database)).filter((d) => d.trouble === null);
    return Promise.all(
      all.map(async ({ id, kind, folder }): Promise<[number, string]> => [
        id,
        await stampOf(join(folder, programFor(kind).home.data), programFor(kind).home),
      ]),
    );
  };
  const looking = soonAndDaily(
    async () => {
      if (Date.now() < restUntil) {
        setTimeout(looking.soon, restUntil - Date.now()).unref();
        return;
      }
      const begun = Date.now();
      for (const [id, stamp] of await stampsNow()) {
        stamps.set(id, stamp);
        await compareWith(handover, id, {}).catch((error: unknown) =>
          log.warn(error, 'a destination cannot be compared'),
        );
      }
      restUntil = Date.now() + REST * (Date.now() - begun);
    },
    SOON_MS,
    'destinations could not be looked at',
  );
  const watch = setInterval(() => {
    stampsNow()
      .then((now) => {
        if (now.some(([id, stamp]) => stamps.get(id) !== stamp)) looking.soon();
      })
      .catch(() => undefined);
  }, WATCH_MS).unref();
  return {
    soon: looking.soon,
    async stop() {
      clearInterval(watch);
      await looking.stop();
    },
  };
}
