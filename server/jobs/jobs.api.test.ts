import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RunFailure, RunProgress, SheetPage } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

const TRACKS = 10;
let h: Harness;
const runs = async (): Promise<RunProgress[]> => (await h.get('/runs')).body as RunProgress[];
const states = async (): Promise<Record<string, number>> =>
  Object.fromEntries(
    (await h.query<{ s: string; n: string }>('SELECT analysis_state AS s, count(*) AS n FROM tracks GROUP BY 1')).map(
      (r) => [r.s, Number(r.n)],
    ),
  );
const idle = (): Promise<void> =>
  h.until(async () => (await runs()).every((r) => r.state !== 'running'), 'nothing runs');

beforeAll(async () => {
  h = await startHarness();
  for (let i = 0; i < TRACKS; i++)
    makeAudio(join(h.music, `${String(i).padStart(2, '0')}.wav`), { seconds: 6, hz: 200 + i * 40 });
  await h.takeIn(h.music, false);
});
afterAll(() => h?.stop());

describe('measuring', () => {
  test('can be cancelled: what is done stays, the rest is not measured, nothing hangs', async () => {
    const { body } = await h.post('/analysis', { selection: { where: { all: [] }, except: [] } }).expect(200);
    const { runId } = body as { runId: number };
    await h.until(async () => (await runs()).find((r) => r.id === runId)!.done >= 1, 'one is done');
    await h.post(`/runs/${runId}/cancel`).expect(200);
    await h.until(async () => {
      const s = await states();
      return !s.waiting && !s.running;
    }, 'all is quiet');
    const run = (await runs()).find((r) => r.id === runId)!;
    expect(run.state).toBe('cancelled');
    const s = await states();
    expect(s.done).toBe(run.done);
    expect(s.none).toBe(TRACKS - run.done);
    expect((await h.post(`/runs/${runId}/cancel`)).status).toBe(409);
  });
  test('goes on after a restart, and counts each track once', async () => {
    const { body } = await h.post('/analysis', { selection: { where: { all: [] }, except: [] } }).expect(200);
    const { runId } = body as { runId: number };
    await h.until(async () => (await runs()).find((r) => r.id === runId)!.done >= 2, 'two are done');
    await h.restart();
    await h.until(async () => (await runs()).find((r) => r.id === runId)!.state === 'done', 'the run ends');
    expect((await runs()).find((r) => r.id === runId)).toMatchObject({ total: TRACKS, done: TRACKS, failed: 0 });
    expect(await states()).toEqual({ done: TRACKS });
  });
  test('what is chosen goes before the rest', async () => {
    const { rows } = (await h.get('/tracks?sort=path')).body as SheetPage;
    const all = (await h.post('/analysis', { selection: { where: { all: [] }, except: [] } }).expect(200)).body as {
      runId: number;
    };
    // Background work waits with the ordinary priority; the last row is asked for by hand meanwhile.
    await h.query('UPDATE graphile_worker._private_jobs SET priority = 0 WHERE locked_at IS NULL');
    const one = (await h.post('/analysis', { selection: { ids: [rows.at(-1)!.id] } }).expect(200)).body as {
      runId: number;
    };
    await h.until(
      async () => (await runs()).find((r) => r.id === one.runId)!.state === 'done',
      'the chosen one is done',
    );
    expect((await runs()).find((r) => r.id === all.runId)!.state).toBe('running');
    await idle();
    expect((await runs()).find((r) => r.id === all.runId)).toMatchObject({ done: TRACKS });
  });
  test('a file that breaks fails with a reason, the others go on, and it can be tried again', async () => {
    const path = join(h.music, '03.wav');
    writeFileSync(path, 'no longer music');
    const { body } = await h.post('/analysis', { selection: { where: { all: [] }, except: [] } }).expect(200);
    const { runId } = body as { runId: number };
    await idle();
    expect((await runs()).find((r) => r.id === runId)).toMatchObject({ state: 'done', done: TRACKS - 1, failed: 1 });
    const failures = (await h.get(`/runs/${runId}/failures`)).body as RunFailure[];
    expect(failures).toEqual([
      { trackId: expect.any(Number), path: '03.wav', reason: expect.stringMatching(/broken|sound/) },
    ]);
    makeAudio(path, { seconds: 6 });
    await h.post(`/runs/${runId}/retry`).expect(200);
    await idle();
    expect(await states()).toEqual({ done: TRACKS });
  });
  test('a track whose measures the database does not take fails with a reason; the run ends', async () => {
    const { rows } = (await h.get('/tracks?sort=path')).body as SheetPage;
    await h.query(`CREATE FUNCTION refuse() RETURNS trigger AS $f$ BEGIN RAISE 'As wanted'; END $f$ LANGUAGE plpgsql`);
    await h.query(`CREATE TRIGGER refuse BEFORE UPDATE ON analyses FOR EACH ROW
      WHEN (NEW.track_id = ${rows[0]!.id}) EXECUTE FUNCTION refuse()`);
    const { body } = await h.post('/analysis', { selection: { where: { all: [] }, except: [] } }).expect(200);
    const { runId } = body as { runId: number };
    await idle();
    await h.query('DROP TRIGGER refuse ON analyses');
    expect((await runs()).find((r) => r.id === runId)).toMatchObject({ state: 'done', done: TRACKS - 1, failed: 1 });
    expect((await h.get(`/runs/${runId}/failures`)).body).toEqual([
      { trackId: rows[0]!.id, path: '00.wav', reason: 'The analysis broke off; trying again may help' },
    ]);
    await h.post(`/runs/${runId}/retry`).expect(200);
    await idle();
    expect(await states()).toEqual({ done: TRACKS });
  });
});
