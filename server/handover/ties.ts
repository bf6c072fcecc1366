/** Which track of the library came from which of another collection. */
import type { SourceKey } from '@early-set/core/api/take';
import type { Tie } from '@early-set/core/sync/match';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';

export interface TakenTie extends Tie {
  /** Its file holds the same packets of sound; else only the same recording, whose places may be others. */
  sameFile: boolean;
}

export const tiesOf = (database: Database, source: SourceKey): Promise<TakenTie[]> =>
  database.rows<TakenTie>(
    'SELECT other_id AS "otherId", track_id AS "trackId", same_file AS "sameFile" FROM taken_tracks WHERE source = $1',
    [source],
  );

/** Remembers it; a track that is no longer there is not tied. */
export const tie = (database: Database, source: SourceKey, ties: readonly TakenTie[], t?: Transaction): Promise<void> =>
  database.run(
    `INSERT INTO taken_tracks (source, other_id, track_id, same_file)
      SELECT $1, v."otherId", v."trackId", v."sameFile"
        FROM jsonb_to_recordset($2::jsonb) AS v("otherId" text, "trackId" int, "sameFile" boolean)
        JOIN tracks t ON t.id = v."trackId"
      ON CONFLICT (source, other_id) DO UPDATE SET track_id = excluded.track_id, same_file = excluded.same_file`,
    [source, JSON.stringify(ties)],
    t,
  );

/** Of a source that is no longer known. */
export const untie = (database: Database, source: SourceKey): Promise<void> =>
  database.run('DELETE FROM taken_tracks WHERE source = $1', [source]);
