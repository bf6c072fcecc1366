/** The first schema: roots, tracks with one column per field, analyses, lists, changes, runs. */
import type { Migration } from '../migration.ts';
import { FIELDS, type Field } from '@early-set/core/fields/table';

const TYPES: Record<Field['type'], string> = {
  text: 'text',
  texts: 'text[]',
  number: 'double precision',
  integer: 'bigint',
  key: 'text',
  seconds: 'double precision',
  date: 'timestamptz',
  flag: 'boolean',
  choice: 'text',
  marks: 'text',
};

/** Columns that a track has besides those of the field table. */
const OWN_COLUMNS = ['path', 'file_name', 'file_state', 'analysis_state', 'file_size', 'added_at'];

/** The name of a file without folder and ending, as `core/files/paths` has it. */
export const FILE_NAME_COLUMN =
  "file_name text GENERATED ALWAYS AS (regexp_replace(regexp_replace(path, '^.*/', ''), '(?<=.)\\.[^./ ]{1,8}$', '')) STORED";

const fieldColumns = FIELDS.filter((f) => !OWN_COLUMNS.includes(f.column)).map((f) => `${f.column} ${TYPES[f.type]}`);
const sortColumns = FIELDS.filter((f) => f.sortColumn !== f.column).map((f) => `${f.sortColumn} text COLLATE "C"`);
const sortable = FIELDS.filter(
  (f) =>
    (!['texts', 'flag', 'marks'].includes(f.type) && !['notes', 'comment'].includes(f.id)) || f.sortColumn !== f.column,
);

export const first: Migration = {
  name: '001-first',
  up: [
    'CREATE EXTENSION IF NOT EXISTS pg_trgm',
    `CREATE TABLE roots (
      id serial PRIMARY KEY, path text NOT NULL UNIQUE, label text NOT NULL, created_at timestamptz NOT NULL DEFAULT now(),
      scanned_at timestamptz, measure boolean NOT NULL DEFAULT true)`,
    `CREATE TABLE tracks (
      id serial PRIMARY KEY,
      root_id int NOT NULL REFERENCES roots(id),
      path text NOT NULL,
      ${FILE_NAME_COLUMN},
      file_size bigint NOT NULL,
      file_modified_ms double precision NOT NULL,
      file_state text NOT NULL DEFAULT 'here' CHECK (file_state IN ('here', 'missing')),
      analysis_state text NOT NULL DEFAULT 'none' CHECK (analysis_state IN ('none', 'waiting', 'running', 'done', 'failed')),
      analysis_reason text,
      analysis_engine int,
      art_hash text,
      key_signature smallint,
      added_at timestamptz NOT NULL DEFAULT now(),
      ${[...fieldColumns, ...sortColumns].join(',\n      ')},
      search_text text NOT NULL DEFAULT '',
      UNIQUE (root_id, path))`,
    ...sortable.map((f) => `CREATE INDEX tracks_by_${f.sortColumn} ON tracks (${f.sortColumn}, id)`),
    'CREATE INDEX tracks_by_search ON tracks USING gin (search_text gin_trgm_ops)',
    'CREATE INDEX tracks_by_genre ON tracks USING gin (genre)',
    'CREATE INDEX tracks_by_artist ON tracks USING gin (artist)',
    'CREATE TABLE track_origins (track_id int PRIMARY KEY REFERENCES tracks(id) ON DELETE CASCADE, origins jsonb NOT NULL)',
    `CREATE TABLE analyses (
      track_id int PRIMARY KEY REFERENCES tracks(id) ON DELETE CASCADE,
      engine int NOT NULL, analysed_at timestamptz NOT NULL DEFAULT now(), result jsonb NOT NULL, waveform bytea NOT NULL)`,
    `CREATE TABLE not_taken (
      root_id int NOT NULL REFERENCES roots(id) ON DELETE CASCADE, path text NOT NULL, code text NOT NULL, reason text NOT NULL,
      file_size bigint NOT NULL, file_modified_ms double precision NOT NULL, seen_at timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (root_id, path))`,
    'CREATE TABLE arts (hash text PRIMARY KEY, mime text NOT NULL, bytes int NOT NULL, width int, height int)',
    `CREATE TABLE lists (
      id uuid PRIMARY KEY, kind text NOT NULL CHECK (kind IN ('crate', 'playlist')), name text NOT NULL,
      parent_id uuid REFERENCES lists(id) ON DELETE SET NULL, position double precision NOT NULL, removed boolean NOT NULL DEFAULT false,
      starts_at text, created_at timestamptz NOT NULL DEFAULT now(), updated_at timestamptz NOT NULL DEFAULT now())`,
    `CREATE TABLE list_entries (
      id uuid PRIMARY KEY, list_id uuid NOT NULL REFERENCES lists(id) ON DELETE CASCADE,
      track_id int NOT NULL REFERENCES tracks(id), position int NOT NULL)`,
    'CREATE INDEX list_entries_by_list ON list_entries (list_id, position)',
    'CREATE INDEX list_entries_by_track ON list_entries (track_id)',
    `CREATE TABLE change_sets (
      id serial PRIMARY KEY, title text NOT NULL, made_at timestamptz NOT NULL DEFAULT now(),
      done int NOT NULL DEFAULT 0, conflicts int NOT NULL DEFAULT 0,
      undo_of int REFERENCES change_sets(id), undone_by int REFERENCES change_sets(id))`,
    `CREATE TABLE change_items (
      change_set_id int NOT NULL REFERENCES change_sets(id) ON DELETE CASCADE, seq int NOT NULL, item jsonb NOT NULL,
      state text NOT NULL CHECK (state IN ('done', 'conflict')), reason text, PRIMARY KEY (change_set_id, seq))`,
    'CREATE INDEX change_items_by_content ON change_items USING gin (item jsonb_path_ops)',
    `CREATE TABLE runs (
      id serial PRIMARY KEY, kind text NOT NULL CHECK (kind IN ('intake', 'analysis')), title text NOT NULL,
      state text NOT NULL DEFAULT 'running' CHECK (state IN ('running', 'done', 'cancelled', 'failed')), reason text,
      root_id int REFERENCES roots(id) ON DELETE CASCADE, total int NOT NULL DEFAULT 0, done int NOT NULL DEFAULT 0, failed int NOT NULL DEFAULT 0,
      current text, report jsonb, started_at timestamptz NOT NULL DEFAULT now(), finished_at timestamptz)`,
    `CREATE TABLE run_tracks (
      run_id int NOT NULL REFERENCES runs(id) ON DELETE CASCADE, track_id int NOT NULL REFERENCES tracks(id) ON DELETE CASCADE,
      state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')), reason text,
      PRIMARY KEY (run_id, track_id))`,
    "CREATE INDEX run_tracks_open ON run_tracks (track_id) WHERE state IN ('waiting', 'running')",
    "CREATE TABLE workers (id serial PRIMARY KEY, started_at timestamptz NOT NULL DEFAULT now(), worker_ids text[] NOT NULL DEFAULT '{}')",
    'CREATE TABLE settings (name text PRIMARY KEY, value jsonb NOT NULL)',
  ],
};
