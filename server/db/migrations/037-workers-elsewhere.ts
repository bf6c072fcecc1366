/** Who works on the database: its name, its engine, here or on another computer, which folders it does not have. */
import type { Migration } from '../migration.ts';

export const workersElsewhere: Migration = {
  name: '037-workers-elsewhere',
  up: [
    `ALTER TABLE workers ADD COLUMN name text, ADD COLUMN engine int,
      ADD COLUMN elsewhere boolean NOT NULL DEFAULT false, ADD COLUMN away text[] NOT NULL DEFAULT '{}'`,
  ],
};
