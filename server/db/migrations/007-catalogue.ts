/** Look-ups in the catalogue: what was asked, what was found, what was chosen. */
import type { Migration } from '../migration.ts';

export const catalogue: Migration = {
  name: '007-catalogue',
  up: [
    'CREATE TABLE catalogue_cache (question text PRIMARY KEY, answer jsonb, nothing boolean NOT NULL, asked_at timestamptz NOT NULL DEFAULT now())',
    `CREATE TABLE lookups (
      id serial PRIMARY KEY, title text NOT NULL, how text NOT NULL, fill jsonb, run_id int REFERENCES runs(id) ON DELETE SET NULL, trouble text, made_at timestamptz NOT NULL DEFAULT now())`,
    `CREATE TABLE lookup_groups (
      id serial PRIMARY KEY, lookup_id int NOT NULL REFERENCES lookups(id) ON DELETE CASCADE, kind text NOT NULL, name text NOT NULL, folder text NOT NULL, track_ids int[] NOT NULL, query jsonb NOT NULL,
      state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'found', 'unsure', 'none', 'failed', 'skipped', 'applied')),
      reason text, candidates jsonb NOT NULL DEFAULT '[]', chosen text, score float8, change_set_id int REFERENCES change_sets(id) ON DELETE SET NULL)`,
    'CREATE INDEX lookup_groups_of ON lookup_groups (lookup_id, id)',
    'ALTER TABLE runs DROP CONSTRAINT runs_kind_check',
    "ALTER TABLE runs ADD CONSTRAINT runs_kind_check CHECK (kind IN ('intake', 'analysis', 'writing', 'lookup'))",
  ],
};
