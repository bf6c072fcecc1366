/** Tracks that play another file than the one they were measured by. */
import type { Migration } from '../migration.ts';

export const measureAgain: Migration = {
  name: '030-measure-again',
  up: ['CREATE TABLE measure_again (track_id int PRIMARY KEY REFERENCES tracks(id) ON DELETE CASCADE)'],
};
