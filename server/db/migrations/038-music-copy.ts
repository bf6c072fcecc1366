/** Which files of which library folder were copied to another drive, as they were here when they were. */
import type { Migration } from '../migration.ts';

export const musicCopy: Migration = {
  name: '038-music-copy',
  up: [
    `CREATE TABLE copied_files (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      root_id int NOT NULL, path text NOT NULL, size bigint NOT NULL,
      modified_ms float8 NOT NULL, changed_ms float8 NOT NULL, sha256 text NOT NULL,
      state text NOT NULL DEFAULT 'there' CHECK (state IN ('there', 'gone', 'aside')),
      since timestamptz NOT NULL DEFAULT now())`,
    `CREATE UNIQUE INDEX copied_files_path ON copied_files (root_id, path) WHERE state <> 'aside'`,
    `CREATE INDEX copied_files_extra ON copied_files (since) WHERE state <> 'there'`,
  ],
};
