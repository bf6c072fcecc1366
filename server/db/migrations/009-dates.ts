/** Dates to prepare for. */
import type { Migration } from '../migration.ts';

export const dates: Migration = {
  name: '009-dates',
  up: [
    `CREATE TABLE dates (
      id serial PRIMARY KEY, name text NOT NULL, kind text NOT NULL CHECK (kind IN ('gig', 'show')), day date NOT NULL, starts_at text,
      asks text NOT NULL CHECK (asks IN ('floor', 'playout')), list_ids uuid[] NOT NULL DEFAULT '{}')`,
    'CREATE INDEX dates_by_day ON dates (day)',
  ],
};
