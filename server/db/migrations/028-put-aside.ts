/** Folders in which nothing lies, and files that are no music while they lie in quarantine. */
import type { Migration } from '../migration.ts';

export const putAside: Migration = {
  name: '028-put-aside',
  up: [
    `CREATE TABLE empty_folders (root_id int NOT NULL REFERENCES roots(id) ON DELETE CASCADE, path text NOT NULL,
      PRIMARY KEY (root_id, path))`,
    `CREATE TABLE put_aside (id uuid PRIMARY KEY, root_id int NOT NULL REFERENCES roots(id) ON DELETE CASCADE,
      path text NOT NULL, was text NOT NULL, size bigint NOT NULL, modified_ms double precision NOT NULL,
      reason text NOT NULL, since timestamptz NOT NULL DEFAULT now(), UNIQUE (root_id, path))`,
  ],
};
