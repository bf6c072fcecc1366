/**
 * Fields that tags have standard places for: lyrics, grouping, language and the like; what is searched, line by line.
 */
import type { Migration } from '../migration.ts';

export const moreTagFields: Migration = {
  name: '013-more-tag-fields',
  up: [
    `ALTER TABLE tracks
      ADD COLUMN original_year bigint,
      ADD COLUMN lyricist text[], ADD COLUMN lyricist_sort text,
      ADD COLUMN conductor text[], ADD COLUMN conductor_sort text,
      ADD COLUMN grouping text, ADD COLUMN grouping_sort text,
      ADD COLUMN language text, ADD COLUMN language_sort text,
      ADD COLUMN copyright text, ADD COLUMN copyright_sort text,
      ADD COLUMN lyrics text, ADD COLUMN lyrics_sort text,
      ADD COLUMN play_count bigint,
      ADD COLUMN search_layout smallint NOT NULL DEFAULT 0`,
  ],
};
