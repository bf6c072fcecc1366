/**
 * Every column that the sheet can be sorted by has an index, of what has a value only: what has none stands behind it
 * either way, and costs nothing when a track changes. The one of tempo holds what the fit of tracks is made of.
 */
import type { Migration } from '../migration.ts';

/** Columns that had no index so far. */
const NEW = [
  'original_year',
  'lyricist_sort',
  'conductor_sort',
  'grouping_sort',
  'language_sort',
  'copyright_sort',
  'lyrics_sort',
  'tempo_steady',
  'sounds_reencoded',
  'hear_later',
  'last_used',
  'times_used',
  'play_from',
  'play_to',
  'explicit',
  'play_count',
  'out_of_place',
  'duplicate',
];

const valued = (column: string): string =>
  `CREATE INDEX tracks_by_${column} ON tracks (${column}, id) WHERE ${column} IS NOT NULL`;

export const sortedBy: Migration = {
  name: '035-sorted-by',
  up: [
    // Those that are there, of one column that may be empty, and the id behind it.
    `DO ' DECLARE name text; BEGIN
      FOR name IN SELECT a.attname FROM pg_index x JOIN pg_class c ON c.oid = x.indexrelid
        JOIN pg_attribute a ON a.attrelid = x.indrelid AND a.attnum = x.indkey[0]
        WHERE x.indrelid = ''tracks''::regclass AND c.relname = ''tracks_by_'' || a.attname
          AND x.indnatts = 2 AND NOT a.attnotnull
      LOOP
        EXECUTE ''DROP INDEX tracks_by_'' || name;
        EXECUTE ''${valued("'' || name || ''")}'';
      END LOOP; END '`,
    ...NEW.map(valued),
    'DROP INDEX tracks_by_bpm',
    'CREATE INDEX tracks_by_bpm ON tracks (bpm, id) INCLUDE (key, key_signature, energy) WHERE bpm IS NOT NULL',
  ],
};
