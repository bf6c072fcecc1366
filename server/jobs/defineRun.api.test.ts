import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { rejects } from 'node:assert/strict';
import { connect, type Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import { Problem } from '../base/problem.ts';
import { startHarness, type Harness } from '../testing/harness.ts';
import { defineRun, type DefinedRun, type RunHand } from './defineRun.ts';
import { recentRuns } from './runs.ts';
import { openQueue, type Queue } from './queue.ts';

type Hand = RunHand<{ n: number }>;
let h: Harness;
let database: Database;
let queue: Queue;
/** What the work of a run does; told by its number. */
const works = new Map<number, (hand: Hand) => Promise<void>>();
const calledOff: number[] = [];
/** What has failed, and what has been told of a new run. */
const failing = new Set<number>();
const started: [number, number][] = [];
let runs: DefinedRun<{ n: number }>;

beforeAll(async () => {
  h = await startHarness();
  database = await connect(h.databaseUrl);
  queue = await openQueue(database);
  runs = defineRun<{ n: number }>(
    { database, queue },
    {
      kind: 'lookup',
      task: 'lookup',
      priority: 0,
      queueName: () => 'not worked on by the server',
      async work(hand) {
        await works.get(hand.payload.n)!(hand);
        return { report: { n: hand.payload.n } };
      },
      again: ({ n }) => Promise.resolve(failing.delete(n) ? { title: 'Again', total: 1 } : null),
      started: ({ n }, runId) => Promise.resolve(void started.push([n, runId])),
      callOff: ({ n }) => {
        calledOff.push(n);
        return Promise.resolve({ report: { calledOff: n } });
      },
    },
  );
  // The server's own workers leave these jobs alone: what is tested is called by hand.
  await h.query(
    `INSERT INTO graphile_worker._private_job_queues (queue_name, locked_at, locked_by)
      VALUES ('not worked on by the server', now() + interval '1 day', 'the test')`,
  );
});
afterAll(async () => {
  await queue?.close();
  await database?.close();
  await h?.stop();
});

const jobOf = async (runId: number): Promise<boolean> => queue.has(`run:${runId}`);
const work = (runId: number): Promise<void> => Promise.resolve(runs.task({ runId }, {} as never)) as Promise<void>;
const stateOf = async (runId: number): Promise<{ state: string; reason: string | null; report: object | null }> => {
  const [row] = await h.query<{ state: string; reason: string | null; report: object | null }>(
    'SELECT state, reason, report FROM runs WHERE id = $1',
    [runId],
  );
  return row!;
};

describe('a run', () => {
  test('and its job are both there, or neither', async () => {
    const before = await Run.count();
    await rejects(
      database.transaction(async (t) => {
        await runs.start({ n: 1 }, { title: 'Broken off' }, t);
        throw new Error('the rest did not work');
      }),
    );
    expect(await Run.count()).toBe(before);
    const runId = await runs.start({ n: 1 }, { title: 'Whole' });
    expect(await jobOf(runId)).toBe(true);
  });
  test('ends with its report; done twice, it is done once', async () => {
    let times = 0;
    works.set(2, () => Promise.resolve(void times++));
    const runId = await runs.start({ n: 2 }, { title: 'Two' });
    await work(runId);
    await work(runId);
    expect(times).toBe(1);
    expect(await stateOf(runId)).toEqual({ state: 'done', reason: null, report: { n: 2 } });
  });
  test('says why it failed in words, and hides what only a programmer understands', async () => {
    works.set(3, () => Promise.reject(new Problem(409, 'full', 'The drive is full')));
    works.set(4, () => Promise.reject(new TypeError('x is undefined')));
    const [known, unknown] = [
      await runs.start({ n: 3 }, { title: 'Known' }),
      await runs.start({ n: 4 }, { title: 'Unknown' }),
    ];
    await work(known);
    await work(unknown);
    expect(await stateOf(known)).toMatchObject({ state: 'failed', reason: 'The drive is full' });
    expect(await stateOf(unknown)).toMatchObject({ state: 'failed', reason: 'It broke off; trying again may help' });
    // What waited is not left waiting for ever.
    expect(calledOff).toEqual(expect.arrayContaining([3, 4]));
  });
  test('cancelled before its turn: the job goes, what waits is called off', async () => {
    const runId = await runs.start({ n: 5 }, { title: 'Not begun' });
    await runs.cancel((await Run.findByPk(runId))!);
    expect(await jobOf(runId)).toBe(false);
    expect(calledOff).toContain(5);
    expect(await stateOf(runId)).toMatchObject({ state: 'cancelled', report: { calledOff: 5 } });
  });
  test('cancelled in hand: its signal is aborted; a stop of the process keeps it for the next start', async () => {
    const waiting = (hand: Hand): Promise<void> =>
      new Promise((_, no) => hand.signal.addEventListener('abort', () => no(hand.signal.reason as Error)));
    works.set(6, waiting);
    works.set(7, waiting);
    const begun = async (n: number): Promise<{ runId: number; ended: Promise<unknown> }> => {
      let told: () => void;
      const there = new Promise<void>((yes) => (told = yes));
      works.set(n, (hand) => (told(), waiting(hand)));
      const runId = await runs.start({ n }, { title: 'In hand' });
      const ended = work(runId).catch((error: unknown) => error);
      await there;
      return { runId, ended };
    };
    const six = await begun(6);
    runs.heard(six.runId);
    await Run.update({ state: 'cancelled' }, { where: { id: six.runId } });
    await six.ended;
    expect((await stateOf(six.runId)).report).toEqual({ calledOff: 6 });
    const seven = await begun(7);
    runs.abortAll();
    expect(await seven.ended).toBeInstanceOf(Error);
    expect(await stateOf(seven.runId)).toMatchObject({ state: 'running' });
    works.set(7, () => Promise.resolve());
    await work(seven.runId);
    expect(await stateOf(seven.runId)).toMatchObject({ state: 'done', report: { n: 7 } });
  });
  test('that failed is tried again once, as a run of its own; one without failures is not', async () => {
    works.set(9, () => Promise.reject(new Problem(409, 'full', 'The drive is full')));
    const runId = await runs.start({ n: 9 }, { title: 'Nine' });
    await work(runId);
    failing.add(9);
    const again = await runs.retry((await Run.findByPk(runId))!);
    expect(started.filter(([n]) => n === 9).map(([, id]) => id)).toEqual([runId, again]);
    works.set(9, () => Promise.resolve());
    await work(again);
    expect([(await stateOf(runId)).state, (await stateOf(again)).state]).toEqual(['failed', 'done']);
    const last = (await Run.findByPk(again))!;
    await rejects(runs.retry(last), { message: 'Nothing failed here' });
    const shown = (await recentRuns(database)).filter((r) => r.id === runId || r.id === again);
    expect(shown.map((r) => [r.id, r.canRetry])).toEqual([
      [again, false],
      [runId, false],
    ]);
  });
  test('a job that was stopped as often as it may be tried is tried again', async () => {
    const runId = await runs.start({ n: 8 }, { title: 'Stopped thrice' });
    await h.query('UPDATE graphile_worker._private_jobs SET attempts = 3 WHERE key = $1', [`run:${runId}`]);
    await queue.recover(true);
    expect(await h.query('SELECT attempts FROM graphile_worker.jobs WHERE key = $1', [`run:${runId}`])).toEqual([
      { attempts: 0 },
    ]);
  });
});
