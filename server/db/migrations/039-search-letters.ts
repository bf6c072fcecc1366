/**
 * Which letters and digits occur in what is searched, a bit for each: when one letter is typed, hundreds of thousands
 * of tracks are counted from a small index instead of from their rows.
 */
import type { Migration } from '../migration.ts';

const letters = [...'abcdefghijklmnopqrstuvwxyz0123456789'].map(
  (letter, bit) => `((position('${letter}' IN search_text) > 0)::int::bigint << ${bit})`,
);

export const searchLetters: Migration = {
  name: '039-search-letters',
  up: [
    `ALTER TABLE tracks ADD COLUMN search_letters bigint GENERATED ALWAYS AS (${letters.join(' | ')}) STORED`,
    'CREATE INDEX tracks_by_letters ON tracks (search_letters)',
  ],
};
