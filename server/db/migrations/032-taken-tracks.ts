/** Which track of the library came from which of another collection, so that nothing is taken twice. */
import type { Migration } from '../migration.ts';

export const takenTracks: Migration = {
  name: '032-taken-tracks',
  up: [
    `CREATE TABLE taken_tracks (source text NOT NULL, other_id text NOT NULL,
      track_id integer NOT NULL REFERENCES tracks(id) ON DELETE CASCADE, same_file boolean NOT NULL,
      PRIMARY KEY (source, other_id))`,
    'CREATE INDEX taken_tracks_track ON taken_tracks (track_id)',
  ],
};
