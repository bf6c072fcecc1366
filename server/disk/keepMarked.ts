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
const FIELDS = { outOfPlace: 'out_of_place', duplicate: 'duplicate' } as const;

/** Marks just these tracks. */
async function mark(database: Database, field: keyof typeof FIELDS, ids: readonly number[]): Promise<boolean> {
  const column = FIELDS[field];
  return database.transaction(async (t) => {
    const others = await database.rows<{ id: number }>(
      `SELECT t.id FROM tracks t LEFT JOIN unnest($1::int[]) m(id) ON m.id = t.id
        WHERE COALESCE(t.${column}, false) <> (m.id IS NOT NULL) ORDER BY t.id`,
      [[...ids]],
      t,
    );
    if (others.length === 0) return false;
    const changing = others.map((o) => o.id);
    await lockTracks(database, changing, t);
    await database.run("SELECT set_config('early_set.fields', $1, true)", [field], t);
    await database.run(`UPDATE tracks SET ${column} = ${column} IS NOT TRUE WHERE id = ANY($1::int[])`, [changing], t);
    return true;
  });
}

export function keepMarked(database: Database, pool: PlacesPool): SoonAndDaily {
  const gone = new AbortController();
  const { soon, stop } = soonAndDaily(
    async () => {
      // Each file that comes or is measured would have all of it worked out again; the end of the run is told, too.
      const busy = await database.rows(
        "SELECT 1 FROM runs WHERE state = 'running' AND kind IN ('intake', 'analysis', 'duplicates') LIMIT 1",
      );
      if (busy.length) return;
      const changed = [
        await mark(database, 'duplicate', await openDuplicates(database)),
        await mark(
          database,
          'outOfPlace',
          await outOfPlace(database, pool, (await deskSettings()).naming, gone.signal),
        ),
      ];
      if (changed.includes(true)) await database.notify({ kind: 'tracks' });
    },
    SOON_MS,
    'what there is to look at on the drives could not be worked out',
  );
  return {
    soon,
    stop() {
      gone.abort();
      return stop();
    },
  };
}
