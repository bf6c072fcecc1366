/** When tracks were used last, and how often; a date that has passed says so once. */
import type { Migration } from '../migration.ts';

export const uses: Migration = {
  name: '019-uses',
  up: [
    'ALTER TABLE tracks ADD COLUMN last_used timestamptz, ADD COLUMN times_used bigint',
    'ALTER TABLE dates ADD COLUMN counted boolean NOT NULL DEFAULT false',
  ],
};
