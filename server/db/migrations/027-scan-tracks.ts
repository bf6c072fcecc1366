/** Which tracks a scan took in, found changed, found again or missing. They may be removed from the library later. */
import type { Migration } from '../migration.ts';

export const scanTracks: Migration = {
  name: '027-scan-tracks',
  up: [
    `CREATE TABLE scan_tracks (run_id int NOT NULL REFERENCES runs(id) ON DELETE CASCADE, part text NOT NULL,
      track_id int NOT NULL, PRIMARY KEY (run_id, part, track_id))`,
  ],
};
