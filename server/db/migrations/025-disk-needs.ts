/** Whether a track's file is where its naming rule wants it, and whether it is in a group of duplicates. */
import type { Migration } from '../migration.ts';

export const diskNeeds: Migration = {
  name: '025-disk-needs',
  up: ['ALTER TABLE tracks ADD COLUMN out_of_place boolean, ADD COLUMN duplicate boolean'],
};
