/** Names of files as a field, numbers of tracks and discs, and moods that files can hold. */
import type { Migration } from '../migration.ts';

export const namesAndTotals: Migration = {
  name: '008-names-and-totals',
  up: [
    `ALTER TABLE tracks ADD COLUMN IF NOT EXISTS file_name text GENERATED ALWAYS AS (regexp_replace(regexp_replace(path, '^.*/', ''), '(?<=.)\\.[^./ ]{1,8}$', '')) STORED`,
    ...['track_total', 'disc_total'].map((column) => `ALTER TABLE tracks ADD COLUMN IF NOT EXISTS ${column} bigint`),
    ...['file_name', 'track_total', 'disc_total'].map(
      (column) => `CREATE INDEX IF NOT EXISTS tracks_by_${column} ON tracks (${column}, id)`,
    ),
    // Until now moods stayed in the library.
    "UPDATE tracks SET unwritten = array_append(COALESCE(unwritten, '{}'), 'moods') WHERE cardinality(moods) > 0 AND NOT 'moods' = ANY(COALESCE(unwritten, '{}'))",
  ],
};
