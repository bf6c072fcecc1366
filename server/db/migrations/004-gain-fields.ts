/** Columns for the gains and peaks that tags hold. */
import type { Migration } from '../migration.ts';

const COLUMNS = ['track_gain_db', 'track_peak', 'album_gain_db', 'album_peak'];

export const gainFields: Migration = {
  name: '004-gain-fields',
  up: [
    ...COLUMNS.map((column) => `ALTER TABLE tracks ADD COLUMN IF NOT EXISTS ${column} double precision`),
    ...COLUMNS.map((column) => `CREATE INDEX IF NOT EXISTS tracks_by_${column} ON tracks (${column}, id)`),
  ],
};
