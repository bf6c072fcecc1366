/**
 * Which tracks lie out of place or are duplicates stands at the tracks, so that the sheet, its counts and the stages
 * know it without working it out. It is worked out anew soon after anything has changed that it depends on.
 */
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import type { Database } from '../db/database.ts';
import { deskSettings } from '../db/settings.ts';
import { lockTracks } from '../library/trackStore.ts';
import { openDuplicates } from './duplicates.ts';
import { outOfPlace } from './places.ts';
import type { PlacesPool } from './placesPool.ts';

const SOON_MS = 1000;
const BATCH = 1000;
/** So many times as long as it took, nothing is worked out: of a large library it takes a while. */
const REST = 10;
const FIELDS = { outOfPlace: 'out_of_place', duplicate: 'duplicate' } as const;

/** Marks just these tracks; a few at a time, so that nobody waits long for one of them. */
async function mark(database: Database, field: keyof typeof FIELDS, ids: readonly number[]): Promise<boolean> {
  const column = FIELDS[field];
  const others = await database.rows<{ id: number }>(
    `SELECT t.id FROM tracks t LEFT JOIN unnest($1::int[]) m(id) ON m.id = t.id
      WHERE COALESCE(t.${column}, false) <> (m.id IS NOT NULL) ORDER BY t.id`,
    [[...ids]],
  );
  const marked = new Set(ids);
  for (let from = 0; from < others.length; from += BATCH) {
    const some = others.slice(from, from + BATCH).map((o) => o.id);
    await database.transaction(async (t) => {
      await lockTracks(database, some, t);
      await database.run("SELECT set_config('early_set.fields', $1, true)", [field], t);
      await database.run(
        `UPDATE tracks SET ${column} = v.marked FROM unnest($1::int[], $2::boolean[]) v(id, marked)
          WHERE tracks.id = v.id`,
        [some, some.map((id) => marked.has(id))],
        t,
      );
    });
  }
  return others.length > 0;
}

export function keepMarked(database: Database, pool: PlacesPool): SoonAndDaily {
  const gone = new AbortController();
  let restUntil = 0,
    rest: NodeJS.Timeout | null = null;
  const { soon, stop } = soonAndDaily(
    async () => {
      // Each file that comes or is measured would have all of it worked out again; the end of the run is told, too.
      const busy = await database.rows(
        "SELECT 1 FROM runs WHERE state = 'running' AND kind IN ('intake', 'analysis', 'duplicates') LIMIT 1",
      );
      if (busy.length) return;
      const begun = Date.now();
      if (begun < restUntil) {
        rest ??= setTimeout(() => {
          rest = null;
          soon();
        }, restUntil - begun);
        return;
      }
      const changed = [
        await mark(database, 'duplicate', await openDuplicates(database)),
        await mark(
          database,
          'outOfPlace',
          await outOfPlace(database, pool, (await deskSettings()).naming, gone.signal),
        ),
      ];
      restUntil = Date.now() + REST * (Date.now() - begun);
      if (changed.includes(true)) await database.notify({ kind: 'tracks' });
    },
    SOON_MS,
    'what there is to look at on the drives could not be worked out',
  );
  return {
    soon,
    stop() {
      gone.abort();
      if (rest) clearTimeout(rest);
      return stop();
    },
  };
}
