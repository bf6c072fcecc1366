/**
 * Counts that are kept up to date: what each track counts under (`counted_tracks`), how many count under each
 * (`kept_counts`), and changed tracks that rules have not been asked about yet. None of it outlives a crash: a server
 * that starts counts everything anew.
 */
import type { Migration } from '../migration.ts';

export const counts: Migration = {
  name: '020-counts',
  up: [
    'CREATE UNLOGGED TABLE counted_tracks (track_id int PRIMARY KEY, counts text[] NOT NULL, ms bigint NOT NULL)',
    'CREATE UNLOGGED TABLE kept_counts (counted text NOT NULL, n bigint NOT NULL)',
    // Values of fields may be longer than an index holds.
    'CREATE UNIQUE INDEX kept_counts_counted ON kept_counts (md5(counted))',
    'CREATE UNLOGGED TABLE counted_by (definition text NOT NULL)',
    'CREATE UNLOGGED TABLE touched_for_rules (track_id int NOT NULL, fields text[])',
    // Rules may ask about the playlists of a date.
    `CREATE FUNCTION note_dated() RETURNS trigger LANGUAGE plpgsql AS ' BEGIN
      INSERT INTO touched_tracks SELECT DISTINCT e.track_id, ARRAY[''dates''] FROM list_entries e
        WHERE e.track_id IS NOT NULL
          AND (e.list_id = ANY(OLD.list_ids) IS TRUE OR e.list_id = ANY(NEW.list_ids) IS TRUE);
      RETURN NULL; END '`,
    `CREATE TRIGGER touched_by_date AFTER INSERT OR DELETE OR UPDATE OF list_ids ON dates
      FOR EACH ROW EXECUTE FUNCTION note_dated()`,
  ],
};
