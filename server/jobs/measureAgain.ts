/**
 * Tracks that play another file by now (found again, cut at the start or encoded anew; or back to the former one by
 * undo) are measured again, so that waveform and grid are those of what is heard. One whose file is not there waits.
 */
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import type { Database } from '../db/database.ts';
import { queueAnalysis } from './analysis.ts';
import type { Queue } from './queue.ts';

const SOON_MS = 300;

export const keepMeasured = (database: Database, queue: Queue): SoonAndDaily =>
  soonAndDaily(
    async () => {
      const rows = await database.rows<{ id: number }>(
        `SELECT t.id FROM measure_again m JOIN tracks t ON t.id = m.track_id JOIN roots r ON r.id = t.root_id
          WHERE t.file_state = 'here' AND r.measure ORDER BY t.id`,
      );
      if (rows.length === 0) return;
      const ids = rows.map((row) => row.id);
      await queueAnalysis(database, queue, ids, { title: 'Measure what plays another file now', chosen: false });
      // Killed in between, they are measured once more than needed.
      await database.run('DELETE FROM measure_again WHERE track_id = ANY($1::int[])', [ids]);
    },
    SOON_MS,
    'tracks with another file could not be measured again',
  );
