/** What chosen tracks come to together: how many, how long, from where to where in tempo, loudness and energy. */
import type { Selection, TracksSummary } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import { selectedIds } from './sheet.ts';

export async function summaryOf(database: Database, selection: Selection): Promise<TracksSummary> {
  const ids = await selectedIds(database, selection);
  const [row] = await database.rows<Omit<TracksSummary, 'bpm' | 'lufs' | 'energy'> & Record<string, number | null>>(
    `SELECT count(*) AS tracks, coalesce(sum(duration_seconds), 0)::float8 AS "totalSeconds",
       min(bpm) AS "bpmFrom", max(bpm) AS "bpmTo", min(lufs) AS "lufsFrom", max(lufs) AS "lufsTo",
       min(energy) AS "energyFrom", max(energy) AS "energyTo",
       (SELECT coalesce(json_agg(k.key ORDER BY k.n DESC, k.key), '[]') FROM (
          SELECT key, count(*) AS n FROM tracks WHERE id = ANY($1::int[]) AND key IS NOT NULL GROUP BY key
            ORDER BY 2 DESC, 1 LIMIT 3) k) AS keys,
       count(DISTINCT key) AS "keyCount"
     FROM tracks WHERE id = ANY($1::int[])`,
    [ids],
  );
  const range = (name: string): TracksSummary['bpm'] => {
    const from = row![`${name}From`],
      to = row![`${name}To`];
    return typeof from === 'number' && typeof to === 'number' ? { from, to } : null;
  };
  const { tracks, totalSeconds, keys, keyCount } = row!;
  return {
    tracks,
    totalSeconds,
    keys,
    keyCount,
    bpm: range('bpm'),
    lufs: range('lufs'),
    energy: range('energy'),
  } as TracksSummary;
}
