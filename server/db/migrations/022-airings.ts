/** What was really on air, as playout logs say; each line counts once. */
import type { Migration } from '../migration.ts';

export const airings: Migration = {
  name: '022-airings',
  up: [
    `CREATE TABLE airings (
      id serial PRIMARY KEY, at timestamptz NOT NULL, title text NOT NULL, artist text NOT NULL,
      track_id int REFERENCES tracks(id) ON DELETE SET NULL, seconds double precision,
      change_set_id int REFERENCES change_sets(id) ON DELETE SET NULL, UNIQUE (at, title))`,
    'CREATE INDEX airings_by_track ON airings (track_id)',
  ],
};
