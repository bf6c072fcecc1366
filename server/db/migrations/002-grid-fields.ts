/** Columns for the fields of the grid, and their values from what has been measured already. */
import type { Migration } from '../migration.ts';

export const gridFields: Migration = {
  name: '002-grid-fields',
  up: [
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS grid_start_seconds double precision',
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS beats_per_bar bigint',
    'CREATE INDEX IF NOT EXISTS tracks_by_grid_start_seconds ON tracks (grid_start_seconds, id)',
    'CREATE INDEX IF NOT EXISTS tracks_by_beats_per_bar ON tracks (beats_per_bar, id)',
    `UPDATE tracks t SET grid_start_seconds = round((a.result #>> '{tempo,firstDownbeatSeconds}')::numeric, 3), beats_per_bar = (a.result #>> '{tempo,beatsPerBar}')::bigint
     FROM analyses a WHERE a.track_id = t.id AND t.grid_start_seconds IS NULL AND a.result #>> '{tempo,bpm}' IS NOT NULL`,
  ],
};
