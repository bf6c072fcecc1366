/** Programs that the library is handed over to, and what both sides said when they were last compared. */
import type { Migration } from '../migration.ts';

export const destinations: Migration = {
  name: '031-destinations',
  up: [
    `CREATE TABLE destinations (id serial PRIMARY KEY, kind text NOT NULL, name text NOT NULL,
      folder text NOT NULL UNIQUE, settings jsonb NOT NULL DEFAULT '{}', synced uuid, synced_at timestamptz,
      looked jsonb)`,
  ],
};
