/** What is done to files that come into a library folder: cleaned by a preset, moved by the naming rules. */
import type { Migration } from '../migration.ts';

export const newFiles: Migration = {
  name: '029-new-files',
  up: [
    `ALTER TABLE roots ADD COLUMN preset_id int REFERENCES presets(id) ON DELETE SET NULL,
      ADD COLUMN put_by_rules boolean NOT NULL DEFAULT false`,
  ],
};
