/** Sticks and folders that files are written to, each with its player and how it is laid out. */
import type { Migration } from '../migration.ts';

export const sticks: Migration = {
  name: '033-sticks',
  up: [
    `CREATE TABLE sticks (id serial PRIMARY KEY, player text NOT NULL, name text NOT NULL, folder text NOT NULL UNIQUE,
      settings jsonb NOT NULL DEFAULT '{}', written uuid, aimed uuid, written_at timestamptz, report jsonb,
      waiting integer, drive jsonb)`,
  ],
};
