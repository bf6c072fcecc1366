/** Results that are worth a second ear: measured, least certain first, neither set by hand nor locked. */
import type { CheckList, CheckWhat } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import { ROW_SELECT, toSheetRow } from './sheet.ts';

const COLUMNS: Record<CheckWhat, { value: string; sure: string; field: string }> = {
  tempo: { value: 'bpm', sure: 'tempo_confidence', field: 'bpm' },
  key: { value: 'key', sure: 'key_confidence', field: 'key' },
};

/** At most `limit` of them, and how many there are. */
export async function checkList(database: Database, what: CheckWhat, below: number, limit: number): Promise<CheckList> {
  const { value, sure, field } = COLUMNS[what];
  const open = `t.${value} IS NOT NULL AND t.${sure} < $1::float8 AND t.file_state = 'here' AND o.origins -> '${field}' ->> 'origin' = 'analysis' AND NOT coalesce((o.origins -> '${field}' ->> 'locked')::boolean, false)`;
  const [rows, [count]] = await Promise.all([
    database.rows<Parameters<typeof toSheetRow>[0]>(
      `SELECT NULL::int AS fit, ${ROW_SELECT} FROM tracks t JOIN track_origins o ON o.track_id = t.id WHERE ${open}
        ORDER BY t.${sure}, t.id LIMIT $2`,
      [below, limit],
    ),
    database.rows<{ n: number }>(
      `SELECT count(*) AS n FROM tracks t JOIN track_origins o ON o.track_id = t.id WHERE ${open}`,
      [below],
    ),
  ]);
  return { what, below, total: count!.n, rows: rows.map(toSheetRow) };
}

/** Of some tracks, those measured by an earlier engine, or less certain than a confidence in tempo or key. */
export async function worthMeasuring(
  database: Database,
  ids: readonly number[],
  only: { olderThan?: number; below?: number },
): Promise<number[]> {
  if (only.olderThan === undefined && only.below === undefined) return [...ids];
  const rows = await database.rows<{ id: number }>(
    `SELECT id FROM tracks WHERE id = ANY($1::int[]) AND ((analysis_engine IS NULL OR analysis_engine < $2::int)
      OR least(tempo_confidence, key_confidence) < $3::float8)`,
    [ids, only.olderThan ?? 0, only.below ?? -1],
  );
  const kept = new Set(rows.map((r) => r.id));
  return ids.filter((id) => kept.has(id));
}
