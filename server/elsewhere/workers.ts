/** Who works on the library now. */
import type { WorkerLine } from '@early-set/core/api/workers';
import type { Database } from '../db/database.ts';
import { LIFE_LOCK } from '../jobs/life.ts';

/** The living ones: each holds the lock of its number. */
export const workersNow = (database: Database): Promise<WorkerLine[]> =>
  database.rows(
    `SELECT w.id, w.name, w.elsewhere, w.away, w.started_at AS since FROM workers w
      WHERE w.name IS NOT NULL AND EXISTS (SELECT 1 FROM pg_locks l JOIN pg_database d ON d.oid = l.database
        WHERE d.datname = current_database() AND l.locktype = 'advisory' AND l.granted
          AND l.classid::int = $1 AND l.objid::int = w.id)
      ORDER BY w.elsewhere, w.name, w.id`,
    [LIFE_LOCK],
  );
