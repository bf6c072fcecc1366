/** Folders that are watched, and why one cannot be. */
import type { Migration } from '../migration.ts';

export const watchedRoots: Migration = {
  name: '026-watched-roots',
  up: ['ALTER TABLE roots ADD COLUMN watch boolean NOT NULL DEFAULT false, ADD COLUMN watch_trouble text'],
};
