/** Format clocks and hours are lists; a spoken item is an entry; tracks know when they may be on air. */
import type { Migration } from '../migration.ts';

export const hours: Migration = {
  name: '021-hours',
  up: [
    'ALTER TABLE lists DROP CONSTRAINT lists_kind_check',
    "ALTER TABLE lists ADD CONSTRAINT lists_kind_check CHECK (kind IN ('crate', 'playlist', 'hour', 'clock'))",
    'ALTER TABLE lists ADD COLUMN clock text, ADD COLUMN on_air_at double precision',
    'CREATE INDEX lists_on_air ON lists (on_air_at) WHERE on_air_at IS NOT NULL',
    // A jingle of an hour is known by its name and length; it need not be a file here.
    'ALTER TABLE list_entries DROP CONSTRAINT list_entries_track',
    "ALTER TABLE list_entries ADD CONSTRAINT list_entries_track CHECK (kind <> 'track' OR track_id IS NOT NULL)",
    'ALTER TABLE tracks ADD COLUMN play_from timestamptz, ADD COLUMN play_to timestamptz, ADD COLUMN dayparts text[], ADD COLUMN explicit boolean',
  ],
};
