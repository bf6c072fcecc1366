/** Folders that were removed from the library; they are shown again when undo brings tracks of theirs back. */
import type { Migration } from '../migration.ts';

export const removedRoots: Migration = {
  name: '014-removed-roots',
  up: ['ALTER TABLE roots ADD COLUMN removed boolean NOT NULL DEFAULT false'],
};
