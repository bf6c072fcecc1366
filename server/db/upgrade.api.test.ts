/** A database as it was before tracks own files is brought up to date: nothing is lost, and it equals a fresh one. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import pg from 'pg';
import type { Applied, DateLine, ListContents, ListLine, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { startHarness, type Harness } from '../testing/harness.ts';
import { backupsIn } from '../backups/folder.ts';
import { backUpBeforeUpgrade } from '../backups/upgrade.ts';
import { connect } from './database.ts';
import { MIGRATIONS, migrate } from './migrate.ts';

/** The dump; with words that it has not, but that were said at the time. */
const OLD = `${gunzipSync(readFileSync(join(import.meta.dirname, 'fixtures/before-track-files.sql.gz'))).toString()}
UPDATE public.settings SET value = value || '{"changedFiles": "theirs"}' WHERE name = 'desk';
INSERT INTO public.recipes (id, name, updated_at, steps) VALUES (2,
  'Older', '2026-11-01', '[{"kind": "names", "options": {"over": "all"}},
  {"kind": "marks", "options": {"web": true}}, {"kind": "fields", "options": {"over": "gaps", "to": "artist"}}]');
`;
type Row = Record<string, unknown>;

function restore(databaseUrl: string): void {
  const done = spawnSync('psql', ['-q', '-v', 'ON_ERROR_STOP=1', '-d', databaseUrl], { input: OLD, encoding: 'utf8' });
  if (done.status !== 0) throw new Error(done.stderr);
}

const CLUSTER = process.env.EARLY_SET_TEST_DATABASE_URL!;
const made: string[] = [];
async function onCluster(text: string): Promise<void> {
  const client = new pg.Client({ connectionString: CLUSTER });
  await client.connect();
  await client.query(text);
  await client.end();
}
async function database(name: string): Promise<string> {
  const full = `test_upgrade_${name}_${process.pid}`;
  await onCluster(`CREATE DATABASE ${full}`);
  made.push(full);
  return CLUSTER.replace(/\/[^/]*$/, `/${full}`);
}
async function ask(url: string, text: string, values: unknown[] = []): Promise<Row[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<Row>(text, values);
  await client.end();
  return rows;
}
const folder = mkdtempSync(join(tmpdir(), 'early-set-upgrade-'));

let old: string;
let h: Harness;
beforeAll(async () => {
  old = await database('old');
  restore(old);
  h = await startHarness({ beforeStart: restore });
});
afterAll(async () => {
  await h?.stop();
  for (const name of made) await onCluster(`DROP DATABASE ${name} WITH (FORCE)`);
  rmSync(folder, { recursive: true, force: true });
});

/** Tables whose rows stay as they are, with the columns that a start or this step changes on purpose. */
const TABLES: Record<string, string[]> = {
  tracks: ['file_state'],
  track_origins: ['origins'],
  analyses: [],
  arts: [],
  catalogue_cache: [],
  change_sets: ['undone_by'],
  dates: [],
  file_tags: [],
  list_entries: [],
  lists: [],
  lookup_groups: [],
  lookups: [],
  not_taken: [],
  presets: ['steps'],
  roots: [],
  run_tracks: [],
  runs: [],
};

/** Tables that had another name. */
const FORMER: Record<string, string> = { presets: 'recipes' };

describe('every row', () => {
  test.each(Object.entries(TABLES))('of %s', async (table, changed) => {
    const rows = async (url: string, from = table): Promise<Row[]> =>
      (await ask(url, `SELECT to_jsonb(x) AS row FROM ${from} x ORDER BY to_jsonb(x)::text`)).map((r) => r.row as Row);
    const before = await rows(old, FORMER[table] ?? table);
    expect(before.length).toBeGreaterThan(0);
    const columns = Object.keys(before[0]!).filter((c) => !changed.includes(c));
    // What is searched has a line of its own for each field since.
    const withoutEmpty = (value: unknown): unknown => (typeof value === 'string' ? value.replace(/\n+/g, '\n') : value);
    const only = (row: Row): string =>
      JSON.stringify(columns.map((c) => (c === 'search_text' ? withoutEmpty(row[c]) : row[c])));
    expect((await rows(h.databaseUrl)).map(only).sort()).toEqual(before.map(only).sort());
  });

  test('of presets: each step, with the words for what is there as they are now', async () => {
    const steps = async (url: string, from = 'presets'): Promise<unknown[]> =>
      (await ask(url, `SELECT steps FROM ${from} ORDER BY id`)).map((r) => r.steps);
    const [mine] = await steps(old, 'recipes');
    expect(await steps(h.databaseUrl)).toEqual([
      mine,
      [
        { kind: 'names', options: { over: 'replace' } },
        { kind: 'marks', options: { web: true } },
        { kind: 'fields', options: { over: 'fill gaps', to: 'artist' } },
      ],
    ]);
    expect((await h.get('/settings').expect(200)).body).toMatchObject({ changedFiles: 'replace' });
  });

  test('where values come from; what a track is, is known now', async () => {
    const origins = async (url: string) =>
      ask(url, "SELECT track_id, origins - 'kind' AS origins FROM track_origins ORDER BY track_id");
    expect(await origins(h.databaseUrl)).toEqual(await origins(old));
    const kinds = await ask(h.databaseUrl, 'SELECT DISTINCT kind FROM tracks');
    expect(kinds).toEqual([{ kind: 'track' }]);
  });

  test('of the journal: each change still says the same, and where files went', async () => {
    const lines = async (url: string): Promise<Row[]> =>
      ask(
        url,
        'SELECT change_set_id, seq, item, state, reason, undone_by FROM change_items ORDER BY change_set_id, seq',
      );
    const before = await lines(old),
      after = await lines(h.databaseUrl);
    expect(after.length).toBe(before.length);
    const moves: string[] = [];
    before.forEach((b, i) => {
      const a = after[i]!,
        item = b.item as Row,
        now = a.item as Row;
      expect([a.change_set_id, a.seq, a.state, a.reason]).toEqual([b.change_set_id, b.seq, b.state, b.reason]);
      expect(a.undone_by).toBe(b.undone_by);
      if ('restores' in item) delete item.restores;
      if (item.kind === now.kind) expect(now).toEqual(item);
      else {
        expect([now.trackId, (now.before as Row).path, (now.after as Row).path]).toEqual([
          item.trackId,
          item.before,
          item.after,
        ]);
        moves.push(String(item.after));
      }
    });
    expect(moves).toContain('Out/Slack 6.aiff');
    const bytes = (url: string, what: string): Promise<Row[]> =>
      ask(
        url,
        `SELECT change_set_id, seq, state, ${what} AS undo FROM ${url === old ? 'file_writes' : 'file_journal'}
          ORDER BY change_set_id, seq`,
      );
    expect(await bytes(h.databaseUrl, "intent->'byteUndo'")).toEqual(await bytes(old, 'kept'));
  });

  test('each track has just one main file, where it lay', async () => {
    const files = await ask(
      h.databaseUrl,
      'SELECT track_id AS id, root_id, path, state, size::int, codec FROM track_files ORDER BY 1',
    );
    const before = await ask(
      old,
      'SELECT id, root_id, path, file_state AS state, file_size::int AS size, codec FROM tracks ORDER BY 1',
    );
    expect(files).toEqual(before);
    expect(new Set((await ask(h.databaseUrl, 'SELECT playout_id FROM tracks')).map((r) => r.playout_id)).size).toBe(
      before.length,
    );
  });
});

describe('through the application', () => {
  const details = async (id: number): Promise<TrackDetails> =>
    (await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails;
  test('tracks, lists, dates, analyses and the past are shown', async () => {
    const { rows, total } = (await h.get('/tracks?sort=path').expect(200)).body as SheetPage;
    expect(total).toBe(10);
    expect(rows.map((r) => r.values.root)).toEqual(expect.arrayContaining(['music', 'second']));
    const ogg = rows.find((r) => r.values.path === 'Out/d.ogg')!;
    const track = await details(ogg.id);
    expect(track.values).toMatchObject({ rating: 4, bpm: 121.5, freeTags: ['late', 'warm'] });
    expect(track.analysis!.result.loudness.integratedLufs).not.toBeNull();
    expect(track.past.length).toBeGreaterThan(3);
    const lists = (await h.get('/lists').expect(200)).body as ListLine[];
    expect(lists.map((l) => [l.name, l.tracks, l.removed]).sort()).toEqual([
      ['Floor, late', 1, false],
      ['Floor', 2, false],
      ['Put away', 1, true],
      ['Slipway night', 3, false],
    ]);
    const night = (await h.get(`/lists/${lists.find((l) => l.name === 'Slipway night')!.id}`)).body as ListContents;
    expect(night.entries.map((e) => [e.kind, e.values.path])).toEqual([
      ['track', 'q.mp3'],
      ['track', 'In/a.mp3'],
      ['track', 'In/a.mp3'],
    ]);
    const dates = (await h.get('/dates?today=2031-03-01').expect(200)).body as DateLine[];
    expect(dates).toMatchObject([{ name: 'Slipway', tracks: 4 }]);
  });

  test('what was changed before can still be taken back, line by line as it was made', async () => {
    const [set] = await ask(h.databaseUrl, "SELECT id FROM change_sets WHERE title = 'Stars on one track'");
    const [row] = await ask(h.databaseUrl, "SELECT id FROM tracks WHERE path = 'Out/d.ogg'");
    const undone = (await h.post(`/changes/${String(set!.id)}/undo`).expect(200)).body as Applied;
    expect(undone.conflicts).toEqual([]);
    expect((await details(row!.id as number)).values.rating).toBeNull();
    await h.post(`/changes/${undone.changeSetId}/undo`).expect(200);
    expect((await details(row!.id as number)).values.rating).toBe(4);
    expect(await ask(h.databaseUrl, 'SELECT undone_by FROM change_sets WHERE id = $1', [set!.id])).toEqual([
      { undone_by: null },
    ]);
    // An undo that was made before is known to have taken back just the lines it did.
    const [former] = await ask(
      h.databaseUrl,
      `SELECT count(*)::int AS n FROM change_items i JOIN change_sets s ON s.id = i.change_set_id
        WHERE s.undo_of IS NOT NULL AND i.restores_set = s.undo_of`,
    );
    expect(former!.n).toBeGreaterThan(3);
  });
});

describe('the schema', () => {
  const columns = `SELECT table_name, column_name, data_type, udt_name, is_nullable, is_generated, is_identity,
    generation_expression,
    regexp_replace(column_default, '^nextval.*', 'nextval') AS def FROM information_schema.columns
      WHERE table_schema = 'public' ORDER BY 1, 2`;
  const indexes = "SELECT tablename, indexname, indexdef FROM pg_indexes WHERE schemaname = 'public' ORDER BY 1, 2";
  const constraints = `SELECT conrelid::regclass::text AS on, conname, pg_get_constraintdef(oid) AS says
    FROM pg_constraint WHERE connamespace = 'public'::regnamespace ORDER BY 1, 2`;
  test('of a fresh database and of one brought up to date are equal: columns, indexes, constraints', async () => {
    const fresh = await database('fresh');
    const connection = await connect(fresh);
    await migrate(connection);
    await connection.close();
    for (const what of [columns, indexes, constraints]) {
      const there = await ask(fresh, what);
      expect(there.length).toBeGreaterThan(20);
      expect(await ask(h.databaseUrl, what)).toEqual(there);
    }
  });

  test('is backed up before it changes, and a step that fails puts all of it back', async () => {
    const url = await database('failing');
    restore(url);
    const connection = await connect(url);
    const backUp = (): Promise<string> => backUpBeforeUpgrade(connection, folder);
    const broken = {
      name: '999-broken',
      up: ['CREATE TABLE half_made (id int)', 'ALTER TABLE tracks DROP COLUMN title', 'SELECT nothing FROM nowhere'],
    };
    const before = await ask(url, 'SELECT id, title FROM tracks ORDER BY id');
    for (let i = 0; i < 2; i++)
      await expect(migrate(connection, backUp, [...MIGRATIONS, broken])).rejects.toThrow('nowhere');
    expect(await ask(url, 'SELECT id, title FROM tracks ORDER BY id')).toEqual(before);
    // Also the step before, which had been made whole.
    expect(await ask(url, "SELECT to_regclass('track_files') AS made, to_regclass('half_made') AS half")).toEqual([
      { made: null, half: null },
    ]);
    expect(await ask(url, 'SELECT count(*)::int AS n FROM graphile_worker.migrations')).not.toEqual([{ n: 0 }]);
    await migrate(connection, backUp);
    await migrate(connection, backUp);
    expect(await ask(url, 'SELECT count(*)::int AS n FROM track_files')).toEqual([{ n: before.length }]);
    // One for each time that there was something to do, of what was there then.
    const made = await backupsIn(join(folder, 'backups'));
    expect(made.map(({ manifest }) => [manifest.reason, manifest.rows['public.tracks']])).toEqual(
      Array.from({ length: 3 }, () => ['upgrade', before.length]),
    );
    await connection.close();
  });
});
