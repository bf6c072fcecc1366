/** What files are known to say, what is written into them, and the journal that takes it back. */
import type { Migration } from '../migration.ts';

export const fileWrites: Migration = {
  name: '005-file-writes',
  up: [
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS unwritten text[]',
    'ALTER TABLE tracks ADD COLUMN IF NOT EXISTS file_changed_ms double precision',
    "CREATE INDEX IF NOT EXISTS tracks_unwritten ON tracks (id) WHERE unwritten <> '{}'",
    `CREATE TABLE file_tags (
      track_id int PRIMARY KEY REFERENCES tracks(id) ON DELETE CASCADE, tag_hash text NOT NULL, fields jsonb NOT NULL, looked_at timestamptz NOT NULL DEFAULT now())`,
    `CREATE TABLE file_writes (
      change_set_id int NOT NULL REFERENCES change_sets(id) ON DELETE CASCADE, seq int NOT NULL, track_id int NOT NULL, path text NOT NULL,
      state text NOT NULL CHECK (state IN ('begun', 'done')), kept jsonb NOT NULL, fields_before jsonb NOT NULL, begun_at timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (change_set_id, seq))`,
    "CREATE INDEX file_writes_begun ON file_writes (change_set_id) WHERE state = 'begun'",
    'ALTER TABLE change_items DROP CONSTRAINT change_items_state_check',
    "ALTER TABLE change_items ADD CONSTRAINT change_items_state_check CHECK (state IN ('done', 'conflict', 'waiting', 'failed', 'cancelled'))",
    'ALTER TABLE change_items ADD COLUMN undone_by int',
    "CREATE INDEX change_items_waiting ON change_items (change_set_id, seq) WHERE state = 'waiting'",
    'ALTER TABLE change_sets ADD COLUMN run_id int REFERENCES runs(id) ON DELETE SET NULL',
    'ALTER TABLE runs DROP CONSTRAINT runs_kind_check',
    "ALTER TABLE runs ADD CONSTRAINT runs_kind_check CHECK (kind IN ('intake', 'analysis', 'writing'))",
  ],
};
