/**
 * Playlists know how long they are wished to be, and which crate is their reserve; crates mirror folders. The settings
 * of a mirror stand at its topmost crate; the folder of each crate is in its rule.
 */
import type { Migration } from '../migration.ts';

export const arranging: Migration = {
  name: '018-arranging',
  up: [
    'ALTER TABLE lists ADD COLUMN wished_seconds int, ADD COLUMN reserve_id uuid, ADD COLUMN mirror text, ADD COLUMN mirror_of uuid',
  ],
};
