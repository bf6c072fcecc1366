/** Workers on other computers: what they measure, what they leave to others, what their role may not do. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import pg from 'pg';
import type { WorkerLine } from '@early-set/core/api/workers';
import { connect, type Database } from '../db/database.ts';
import { dumpDatabase } from '../db/dumps.ts';
import { defineModels } from '../db/models.ts';
import { queueAnalysis } from '../jobs/analysis.ts';
import { openQueue, type Queue } from '../jobs/queue.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { allowWorkers, refuseWorkers, WORKER_ROLE } from './role.ts';
import { workElsewhere, type WorkerElsewhere } from './workElsewhere.ts';
import { workersNow } from './workers.ts';

let h: Harness;
let drive: string;
let moved: string;
let database: Database;
const roleUrl = (): string => {
  const url = new URL(h.databaseUrl);
  url.username = WORKER_ROLE;
  url.password = 'for this test';
  return url.href;
};
const said: string[] = [];
const gaveUp: string[] = [];
const joined = (maps: { there: string; here: string }[] = []): Promise<WorkerElsewhere> =>
  workElsewhere({
    ...{ databaseUrl: roleUrl(), maps, threads: 1, say: (s) => said.push(s), gaveUp: (r) => gaveUp.push(r) },
    threadFolder: pathToFileURL(join(process.cwd(), 'dist/server/')),
  });
const trackIds = async (where: string): Promise<number[]> =>
  (await h.query<{ id: number }>(`SELECT t.id FROM tracks t JOIN roots r ON r.id = t.root_id WHERE ${where}`)).map(
    ({ id }) => id,
  );
const statesOf = async (ids: number[]): Promise<string[]> =>
  (
    await h.query<{ state: string }>('SELECT analysis_state AS state FROM tracks WHERE id = ANY($1) ORDER BY id', [ids])
  ).map(({ state }) => state);
const all = (ids: number[], state: string) => async (): Promise<boolean> =>
  (await statesOf(ids)).every((s) => s === state);

/** Does something with a queue while no server is there that would take the jobs. */
const withoutServer = (work: (queue: Queue) => Promise<void>): Promise<void> =>
  h.restart(async () => {
    defineModels(database.sequelize); // of the server that is gone, until now
    const queue = await openQueue(database);
    try {
      await work(queue);
    } finally {
      await queue.close();
    }
  });

beforeAll(async () => {
  h = await startHarness();
  drive = join(h.folder, 'drive');
  moved = join(h.folder, 'mounted', 'elsewhere');
  mkdirSync(drive);
  mkdirSync(join(h.folder, 'mounted'));
  for (const n of [1, 2, 3]) makeAudio(join(h.music, `${n}.wav`), { seconds: 4, hz: 200 * n });
  for (const n of [1, 2]) makeAudio(join(drive, `far ${n}.flac`), { seconds: 4, hz: 300 * n });
  await h.takeIn(h.music, false);
  await h.takeIn(drive, false);
  database = await connect(h.databaseUrl);
  await allowWorkers(database, 'for this test');
});
afterAll(async () => {
  await database?.run(`DROP OWNED BY ${WORKER_ROLE}`).catch(() => undefined);
  await database?.run(`DROP ROLE ${WORKER_ROLE}`).catch(() => undefined);
  await database?.close();
  await h?.stop();
});

describe('measuring elsewhere', () => {
  test('a folder lies under another path; one that is not there is said, and its tracks are left to others', async () => {
    const here = await trackIds(`r.path LIKE '%/music'`),
      far = await trackIds(`r.path LIKE '%/drive'`);
    expect([here.length, far.length]).toEqual([3, 2]);
    await withoutServer(async (queue) => {
      renameSync(h.music, moved);
      const runId = await queueAnalysis(database, queue, [...here, ...far], { title: 'All', chosen: true });
      const nowhere = { there: drive, here: '/nowhere' };
      const worker = await joined([{ there: h.music, here: moved }, nowhere]);
      await h.until(all(here, 'done'), 'what is there is measured');
      await h.until(async () => (await workersNow(database))[0]?.away.length === 1, 'it says what it does not have');
      expect(await workersNow(database)).toEqual([
        expect.objectContaining({ name: expect.stringMatching(/./), elsewhere: true, away: ['drive'] }),
      ]);
      expect(await statesOf(far)).toEqual(['waiting', 'waiting']);
      expect(said).toEqual(['drive is not here (/nowhere): its tracks are left to others.']);
      expect(worker.measured()).toBe(3);
      await worker.stop();
      expect(await workersNow(database)).toEqual([]);
      const [run] = await h.query('SELECT state, done, total FROM runs WHERE id = $1', [runId]);
      expect(run).toMatchObject({ state: 'running', done: 3, total: 5 });
      renameSync(moved, h.music);
    });
    await h.until(all(far, 'done'), 'the server measures the rest');
    const { body } = await h.get('/workers').expect(200);
    expect(body as WorkerLine[]).toEqual([expect.objectContaining({ elsewhere: false, away: [] })]);
    // What the worker stored is as good as what the server stores: values, sound and touched crates.
    const [track] = await h.query('SELECT bpm, lufs, duration_seconds FROM tracks WHERE id = $1', [here[0]]);
    expect(track).toMatchObject({ lufs: expect.any(Number), duration_seconds: 4 });
    const hashes = await h.query('SELECT 1 FROM track_files WHERE track_id = ANY($1) AND audio_hash IS NOT NULL', [
      here,
    ]);
    expect(hashes).toHaveLength(3);
  });
  test('a drive that is pulled under its hands: the track waits for others, and it comes back', async () => {
    said.length = 0;
    const far = await trackIds(`r.path LIKE '%/drive'`);
    await withoutServer(async (queue) => {
      const worker = await joined();
      await h.until(
        async () => (await workersNow(database)).some(({ elsewhere }) => elsewhere),
        'the worker has looked at its folders',
      );
      renameSync(drive, `${drive} pulled`);
      await queueAnalysis(database, queue, far, { title: 'Again', chosen: true });
      await h.until(() => Promise.resolve(said.length === 1), 'it notices');
      await h.until(all(far, 'waiting'), 'its tracks wait');
      const [jobs] = await h.query<{ flags: object }>('SELECT flags FROM graphile_worker.jobs WHERE key IS NOT NULL');
      expect(Object.keys(jobs!.flags)).toEqual([expect.stringMatching(/^root:\d+$/)]);
      renameSync(`${drive} pulled`, drive);
      await h.until(all(far, 'done'), 'it is measured when the drive is back');
      expect(said).toEqual([expect.stringContaining('drive is not here'), 'drive is here again.']);
      await worker.stop();
    });
  });
  test('another version does not join, and one that meets it stops', async () => {
    await h.query("INSERT INTO migrations (name) VALUES ('999-to-come')");
    await expect(joined()).rejects.toThrow(/another version/);
    await h.query("DELETE FROM migrations WHERE name = '999-to-come'");
    const worker = await joined();
    await h.query('UPDATE workers SET engine = engine + 1 WHERE NOT elsewhere');
    await h.until(() => Promise.resolve(gaveUp.length > 0), 'it notices');
    expect(gaveUp[0]).toMatch(/another version/);
    await worker.stop();
    await h.query('UPDATE workers SET engine = engine - 1 WHERE NOT elsewhere');
  });
});

describe('the role', () => {
  const as = async (statement: string): Promise<string> => {
    const client = new pg.Client({ connectionString: roleUrl() });
    await client.connect();
    try {
      return String((await client.query(statement)).rowCount);
    } catch (error) {
      return (error as { code: string }).code;
    } finally {
      await client.end();
    }
  };
  const REFUSED = '42501';
  test.each([
    ['SELECT * FROM lists'],
    ['SELECT * FROM settings'],
    ['SELECT * FROM change_sets'],
    ["UPDATE tracks SET title = 'x'"],
    ["UPDATE track_files SET path = '/etc/passwd'"],
    ["UPDATE roots SET path = '/'"],
    ["UPDATE runs SET title = 'x'"],
    ['DELETE FROM tracks'],
    ['DELETE FROM analyses'],
    ['INSERT INTO tracks DEFAULT VALUES'],
    ['TRUNCATE touched_tracks'],
    ['CREATE TABLE own (id int)'],
    ['CREATE TEMP TABLE own (id int)'],
    ["COPY tracks TO PROGRAM 'cat'"],
    ['SELECT * FROM graphile_worker.jobs'],
    ["SELECT graphile_worker.add_job('write', '{}'::json)"],
    ['DROP TABLE tracks'],
    ['CREATE ROLE other'],
  ])('may not: %s', async (statement) => {
    expect(await as(statement)).toBe(REFUSED);
  });
  test('sees no jobs but measuring', async () => {
    await h.query(
      "SELECT graphile_worker.add_job('write', '{\"runId\": 0}'::json, run_at := now() + interval '1 hour', job_key := 'later')",
    );
    await h.query(
      "SELECT graphile_worker.add_job('analyse', '{\"trackId\": 0}'::json, run_at := now() + interval '1 hour', job_key := 'soon')",
    );
    expect(await as('SELECT * FROM graphile_worker._private_jobs')).toBe('1');
    expect(await as("DELETE FROM graphile_worker._private_jobs WHERE key = 'later'")).toBe('0');
    await h.query("DELETE FROM graphile_worker._private_jobs WHERE key IN ('later', 'soon')");
  });
  test('stands in no dump, and gets in no more when workers are not wanted', async () => {
    const path = join(h.folder, 'dump');
    await dumpDatabase(h.databaseUrl, path);
    const { stdout } = spawnSync('pg_restore', ['--schema-only', '--file=-', path], { encoding: 'utf8' });
    expect(stdout).toContain('CREATE POLICY measuring');
    expect(stdout).not.toContain(WORKER_ROLE);
    await refuseWorkers(database);
    await expect(joined()).rejects.toThrow(/not permitted to log in/);
    await allowWorkers(database, 'for this test');
  });
});
