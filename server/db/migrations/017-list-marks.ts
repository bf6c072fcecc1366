/** A colour mark and a note for each list. */
import type { Migration } from '../migration.ts';

export const listMarks: Migration = {
  name: '017-list-marks',
  up: ['ALTER TABLE lists ADD COLUMN colour text, ADD COLUMN note text'],
};
