/**
 * What tracks are to each other by their sound. Nothing here refers to tracks by key: a pair whose tracks were made one
 * is not shown, and is there again when that is undone.
 */
import type { Migration } from '../migration.ts';

export const duplicates: Migration = {
  name: '023-duplicates',
  up: [
    `CREATE TABLE duplicate_pairs (
      first int NOT NULL, second int NOT NULL CHECK (first < second), relation text NOT NULL,
      offset_seconds double precision NOT NULL, parts_at double precision, PRIMARY KEY (first, second))`,
    'CREATE INDEX duplicate_pairs_by_second ON duplicate_pairs (second)',
    // A track counts as compared as long as it is not measured anew.
    'CREATE TABLE compared_tracks (track_id int PRIMARY KEY, analysed_at timestamptz NOT NULL)',
    'CREATE TABLE no_duplicates (first int NOT NULL, second int NOT NULL CHECK (first < second), PRIMARY KEY (first, second))',
  ],
};
