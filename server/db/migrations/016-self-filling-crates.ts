/**
 * Self-filling crates: their rules, who is in them, and which tracks have changed since that was worked out. Whatever
 * changes a track leaves its number in `touched_tracks`, with the fields where they are known (null: any).
 */
import type { Migration } from '../migration.ts';

const onTracks = (event: 'INSERT' | 'UPDATE' | 'DELETE'): string =>
  `CREATE TRIGGER touched_by_${event.toLowerCase()} AFTER ${event} ON tracks
    REFERENCING ${event === 'DELETE' ? 'OLD' : 'NEW'} TABLE AS changed
    FOR EACH STATEMENT EXECUTE FUNCTION note_touched()`;

const onEntries = (event: 'INSERT' | 'DELETE'): string =>
  `CREATE TRIGGER touched_by_${event.toLowerCase()} AFTER ${event} ON list_entries
    REFERENCING ${event === 'DELETE' ? 'OLD' : 'NEW'} TABLE AS changed
    FOR EACH STATEMENT EXECUTE FUNCTION note_listed()`;

export const selfFillingCrates: Migration = {
  name: '016-self-filling-crates',
  up: [
    'ALTER TABLE lists ADD COLUMN rule text',
    // No references: they would lock tracks and lists in whatever order members come, against edits that hold them.
    'CREATE TABLE rule_members (list_id uuid NOT NULL, track_id int NOT NULL, PRIMARY KEY (list_id, track_id))',
    'CREATE INDEX rule_members_track ON rule_members (track_id)',
    `CREATE TABLE rule_fillings (
      list_id uuid PRIMARY KEY,
      rule text NOT NULL, day text NOT NULL, tracks int NOT NULL, seconds float8 NOT NULL)`,
    // Lost in a crash; a server that starts works everything out once.
    'CREATE UNLOGGED TABLE touched_tracks (track_id int NOT NULL, fields text[])',
    `CREATE VIEW list_tracks AS
      SELECT list_id, track_id FROM list_entries WHERE track_id IS NOT NULL
      UNION ALL SELECT list_id, track_id FROM rule_members`,
    `CREATE FUNCTION note_touched() RETURNS trigger LANGUAGE plpgsql AS ' BEGIN
      INSERT INTO touched_tracks SELECT id,
        string_to_array(NULLIF(current_setting(''early_set.fields'', true), ''''), '','') FROM changed;
      RETURN NULL; END '`,
    `CREATE FUNCTION note_listed() RETURNS trigger LANGUAGE plpgsql AS ' BEGIN
      INSERT INTO touched_tracks SELECT DISTINCT track_id, ARRAY[''lists''] FROM changed WHERE track_id IS NOT NULL;
      RETURN NULL; END '`,
    `CREATE FUNCTION note_relisted() RETURNS trigger LANGUAGE plpgsql AS ' BEGIN
      INSERT INTO touched_tracks SELECT DISTINCT v.id, ARRAY[''lists'']
        FROM came JOIN gone USING (id), LATERAL (VALUES (came.track_id), (gone.track_id)) AS v(id)
        WHERE came.track_id <> gone.track_id;
      RETURN NULL; END '`,
    onTracks('INSERT'),
    onTracks('UPDATE'),
    onTracks('DELETE'),
    onEntries('INSERT'),
    onEntries('DELETE'),
    `CREATE TRIGGER touched_by_update AFTER UPDATE ON list_entries REFERENCING OLD TABLE AS gone NEW TABLE AS came
      FOR EACH STATEMENT EXECUTE FUNCTION note_relisted()`,
  ],
};
