/** Tracks that have changed, as triggers note them (migration 016). */
import type { Transaction } from 'sequelize';
import type { Database } from '../../db/database.ts';

export interface Touched {
  /** None when there are more than `MAX_TOUCHED`. */
  ids: number[];
  count: number;
  /** Null when any field may have changed. */
  fields: ReadonlySet<string> | null;
  /** What had been noted is gone: the database has crashed. */
  lost: boolean;
}

/** With more changed tracks than this, all are looked at instead. */
export const MAX_TOUCHED = 30_000;

/**
 * Takes away what has been noted as changed. The notes are not kept through a crash; a mark among them, that is no
 * track, tells whether they were.
 * @param onTo the notes go into this table, for who comes next
 */
export async function takeTouched(
  database: Database,
  t: Transaction,
  from: 'touched_tracks' | 'touched_for_rules',
  onTo?: 'touched_for_rules',
): Promise<Touched> {
  const marked = await database.rows(`SELECT 1 FROM ${from} WHERE track_id = 0 LIMIT 1`, [], t);
  const lost = marked.length === 0;
  if (lost) await database.run(`INSERT INTO ${from} (track_id) VALUES (0)`, [], t);
  const [row] = await database.rows<{ ids: number[] | null; count: number; any: boolean; fields: string[] | null }>(
    `WITH gone AS (DELETE FROM ${from} WHERE track_id <> 0 RETURNING track_id, fields),
      ${onTo ? `passed AS (INSERT INTO ${onTo} SELECT track_id, fields FROM gone),` : ''}
      ids AS (SELECT DISTINCT track_id AS id FROM gone)
     SELECT (SELECT count(*) FROM ids) AS count,
       (SELECT array_agg(id) FROM ids WHERE (SELECT count(*) FROM ids) <= ${MAX_TOUCHED}) AS ids,
       (SELECT COALESCE(bool_or(fields IS NULL), false) FROM gone) AS any,
       (SELECT array_agg(DISTINCT f) FROM gone, unnest(fields) f) AS fields`,
    [],
    t,
  );
  const { ids, count, any, fields } = row!;
  return { ids: ids ?? [], count, fields: any || lost ? null : new Set(fields ?? []), lost };
}
