/** Stars go into files by a setting: what it means for those that were given before. */
import type { DeskSettings } from '@early-set/core/api/settings';
import type { FieldValue } from '@early-set/core/fields/values';
import { unwrittenAfter } from '@early-set/core/tags/values';
import { knownFileFields } from '../changes/fileTags.ts';
import type { Database } from '../db/database.ts';
import { lockTracks } from '../library/trackStore.ts';

/** So many tracks a transaction. */
const BATCH = 2000;

/**
 * Says of tracks with stars that these are not in the file yet, so that they are written with whatever else is not;
 * where the setting was taken back, that nothing of the kind is missing.
 */
export async function followStars(database: Database, settings: DeskSettings): Promise<void> {
  if (!settings.starsInFiles)
    await database.run(
      "UPDATE tracks SET unwritten = array_remove(unwritten, 'rating') WHERE 'rating' = ANY(unwritten)",
    );
  else {
    const ids = (
      await database.rows<{ id: number }>(
        "SELECT id FROM tracks WHERE rating IS NOT NULL AND NOT 'rating' = ANY(COALESCE(unwritten, '{}')) ORDER BY id",
      )
    ).map((r) => r.id);
    for (let from = 0; from < ids.length; from += BATCH)
      await markUnwritten(database, ids.slice(from, from + BATCH), settings);
  }
  await database.notify({ kind: 'tracks' });
}

async function markUnwritten(database: Database, ids: number[], settings: DeskSettings): Promise<void> {
  await database.transaction(async (t) => {
    await lockTracks(database, ids, t);
    const inFiles = await knownFileFields(database, ids, t);
    const rows = await database.rows<{ id: number; rating: FieldValue }>(
      'SELECT id, rating FROM tracks WHERE id = ANY($1::int[])',
      [ids],
      t,
    );
    const missing = rows.filter(
      ({ id, rating }) =>
        unwrittenAfter(
          [],
          ['rating'],
          () => rating,
          inFiles.get(id) ?? null,
          () => false,
          settings,
        ).length > 0,
    );
    await database.run(
      `UPDATE tracks SET unwritten = (SELECT array_agg(f ORDER BY f) FROM (SELECT DISTINCT unnest(
        COALESCE(unwritten, '{}') || '{rating}'::text[])) AS u(f)) WHERE id = ANY($1::int[])`,
      [missing.map((m) => m.id)],
      t,
    );
  });
}
