/** Tracks whose files cannot be found, with where that matters. */
import type { NotFound, NotFoundLine } from '@early-set/core/api/disk';
import type { Database } from '../db/database.ts';

/** More are not listed at a time. */
const MAX_LINES = 20_000;

/** Those that a date plays come first, then those that lists hold. */
export async function notFound(database: Database): Promise<NotFound> {
  const lines = await database.rows<NotFoundLine>(
    `SELECT t.id AS "trackId", COALESCE(t.title, '') AS title, COALESCE(array_to_string(t.artist, '; '), '') AS artist,
        COALESCE(t.version, '') AS version, f.root_id AS "rootId", r.label AS root, f.path, f.size,
        to_char(f.state_since AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS since,
        COALESCE(h.lists, '{}') AS lists,
        CASE WHEN d.day IS NULL THEN NULL ELSE jsonb_build_object('name', d.name, 'day', d.day) END AS date
      FROM tracks t JOIN track_files f ON f.track_id = t.id AND f.role = 'main' JOIN roots r ON r.id = f.root_id
      LEFT JOIN LATERAL (SELECT array_agg(DISTINCT l.name) AS lists, array_agg(DISTINCT l.id) AS ids FROM list_entries e
        JOIN lists l ON l.id = e.list_id WHERE e.track_id = t.id AND NOT l.removed) h ON true
      LEFT JOIN LATERAL (SELECT name, day::text FROM dates WHERE list_ids && h.ids AND day >= CURRENT_DATE
        ORDER BY day, id LIMIT 1) d ON true
      WHERE t.file_state = 'missing' AND NOT r.removed
      ORDER BY d.day NULLS LAST, (h.lists IS NULL), r.label, f.path LIMIT ${MAX_LINES}`,
  );
  const away = await database.rows<NotFound['away'][number]>(
    `SELECT id AS "rootId", label AS root, path,
        to_char(away_since AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS since
      FROM roots WHERE away_since IS NOT NULL AND NOT removed ORDER BY label`,
  );
  return { lines, away };
}
