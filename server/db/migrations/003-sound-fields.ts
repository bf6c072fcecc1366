/** Columns for edges, sections, cues and the quality of the sound. What was measured before has none of them yet. */
import type { Migration } from '../migration.ts';

const PLACES = [
  'audible_start_seconds',
  'intro_end_seconds',
  'outro_start_seconds',
  'segue_seconds',
  'audible_end_seconds',
];

export const soundFields: Migration = {
  name: '003-sound-fields',
  up: [
    ...PLACES.map((column) => `ALTER TABLE tracks ADD COLUMN IF NOT EXISTS ${column} double precision`),
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS ending text',
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS bandwidth_hz bigint',
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS sounds_reencoded boolean',
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS clipped_runs bigint',
    ...['cues', 'grid_anchors', 'sections_by_hand'].map(
      (column) => `ALTER TABLE tracks ADD COLUMN IF NOT EXISTS ${column} text`,
    ),
    ...[...PLACES, 'ending', 'bandwidth_hz', 'clipped_runs'].map(
      (column) => `CREATE INDEX IF NOT EXISTS tracks_by_${column} ON tracks (${column}, id)`,
    ),
    'ALTER TABLE analyses ADD COLUMN IF NOT EXISTS fingerprint bytea',
  ],
};
