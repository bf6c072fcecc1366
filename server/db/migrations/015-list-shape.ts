/** The wished shape of a playlist: a name or points (core/arrange/shape). */
import type { Migration } from '../migration.ts';

export const listShape: Migration = {
  name: '015-list-shape',
  up: ['ALTER TABLE lists ADD COLUMN shape text'],
};
