/** Jobs whose end could not be told, because the database went away just then. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import pg from 'pg';
import { connect, type Database } from '../db/database.ts';
import { startHarness, type Harness } from '../testing/harness.ts';
import { LIFE_LOCK } from './life.ts';
import { openQueue, type Queue, type TaskName } from './queue.ts';

/** None of those that the server's own workers would take. */
const TASK = 'held' as TaskName;

let h: Harness;
let database: Database;
let queue: Queue;
let admin: pg.Client;
/** What the job with a number does the first time; the second time it just ends. */
const first = new Map<number, () => Promise<void>>();
const begun: number[] = [];

beforeAll(async () => {
  h = await startHarness();
  admin = new pg.Client({ connectionString: process.env.EARLY_SET_TEST_DATABASE_URL });
  await admin.connect();
  database = await connect(h.databaseUrl);
  queue = await openQueue(database);
  const task = async (payload: unknown): Promise<void> => {
    const { n } = payload as { n: number };
    begun.push(n);
    const work = first.get(n);
    first.delete(n);
    await work?.();
  };
  await queue.work({ [TASK]: task }, 3);
});
afterAll(async () => {
  await queue?.close();
  await database?.close();
  await admin?.end();
  await h?.stop();
});

const name = (): string => new URL(h.databaseUrl).pathname.slice(1);
const open = (on: boolean): Promise<unknown> => admin.query(`ALTER DATABASE ${name()} ALLOW_CONNECTIONS ${on}`);
/** Ends connections to the database, all or those whose last words hold these. */
const cut = (words: string): Promise<unknown> =>
  admin.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1 AND query LIKE $2', [
    name(),
    `%${words}%`,
  ]);

/** Nobody gets in for a while, the one who would tell of a job's end neither. */
async function nobodyGetsIn(): Promise<void> {
  for (let tries = 0; tries < 20; tries++)
    await expect(new pg.Client({ connectionString: h.databaseUrl }).connect()).rejects.toThrow(
      /not currently accepting/,
    );
}
test('a job that has failed as often as it may is not given up', async () => {
  const n = 20_000;
  first.set(n, () => Promise.reject(new Error('As wanted')));
  await database.transaction((t) =>
    queue.addInside([{ task: TASK, key: `held:${n}`, payload: { n }, priority: 0 }], t),
  );
  const failed = async (): Promise<boolean> =>
    (
      await h.query<{ id: string }>(
        `UPDATE graphile_worker._private_jobs SET attempts = max_attempts WHERE key = $1 AND attempts > 0
          AND locked_at IS NULL RETURNING id`,
        [`held:${n}`],
      )
    ).length > 0;
  await h.until(failed, 'it has failed');
  await queue.recover(false);
  await h.until(() => isTold(n), 'it has been done');
  expect(begun.filter((other) => other === n)).toEqual([n, n]);
});

test('ended while it begins anew, it has ended', async () => {
  const url = new URL(h.databaseUrl);
  url.searchParams.set('application_name', 'ending');
  const own = await connect(url.href);
  const ending = await openQueue(own);
  await ending.work({ other: () => Promise.resolve() }, 1);
  const waits = async (words: string): Promise<boolean> =>
    (
      await h.query(
        `SELECT 1 FROM pg_stat_activity WHERE application_name = 'ending' AND wait_event_type = 'Lock'
          AND query LIKE '%' || $1 || '%'`,
        [words],
      )
    ).length > 0;
  // Nobody can be let go while the jobs are held here.
  const holder = new pg.Client({ connectionString: h.databaseUrl });
  await holder.connect();
  await holder.query('BEGIN');
  await holder.query('LOCK TABLE graphile_worker._private_jobs IN ACCESS EXCLUSIVE MODE');
  await h.query(
    `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'ending' AND pid <> pg_backend_pid()`,
  );
  await h.until(() => waits('force_unlock_workers'), 'it begins anew');
  const ended = ending.close();
  await holder.query('COMMIT');
  await ended;
  await own.close();
  await holder.end();
  const left = (): Promise<unknown[]> =>
    h.query("SELECT query FROM pg_stat_activity WHERE application_name = 'ending'");
  await h.until(async () => (await left()).length === 0, 'all its connections have ended');
});

test('a process whose connection was lost holds its lock again, and is not taken for dead', async () => {
  const holders = async (): Promise<number[]> =>
    (
      await h.query<{ pid: number }>(
        `SELECT pid FROM pg_locks WHERE locktype = 'advisory' AND granted AND classid = $1 AND objid = $2
          AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
        [LIFE_LOCK, queue.workerId],
      )
    ).map((r) => r.pid);
  const [before] = await holders();
  await h.query('SELECT pg_terminate_backend($1)', [before]);
  await h.until(async () => {
    const now = await holders();
    return now.length === 1 && now[0] !== before;
  }, 'the lock is held again');
  const other = await openQueue(database);
  expect(await other.recover(true)).toBe(0);
  expect(await h.query('SELECT 1 FROM workers WHERE id = $1', [queue.workerId])).toHaveLength(1);
  await other.close();
});

/** A promise and what keeps it. */
function gate(): { promise: Promise<void>; resolve: () => void } {
  let resolve = (): void => undefined;
  const promise = new Promise<void>((kept) => (resolve = kept));
  return { promise, resolve };
}
const isTold = (n: number): Promise<boolean> =>
  queue.has(`held:${n}`).then(
    (there) => !there,
    () => false,
  );

const ROUNDS = Number(process.env.EARLY_SET_CUTS ?? 1);
const CASES = (
  [
    ['ended', ''],
    ['failed', ''],
    ['ended', '_private_jobs'],
    ['failed', '_private_jobs'],
  ] as const
).flatMap((one) => Array<typeof one>(ROUNDS).fill(one));

test.each(CASES.map((one, i) => [i + 1, ...one] as const))(
  'job %i, which %s while connections "%s" were cut, is not held for ever',
  async (n, how, words) => {
    let over = false;
    first.set(n, async () => {
      await open(false);
      await cut(words);
      over = true;
      if (how === 'failed') throw new Error('As wanted');
    });
    await database.transaction((t) =>
      queue.addInside([{ task: TASK, key: `held:${n}`, payload: { n }, priority: 0 }], t),
    );
    await h.until(() => Promise.resolve(over), 'the job is over');
    await nobodyGetsIn();
    await open(true);
    await h.until(() => isTold(n), 'the job is told to be over');
    const times = begun.filter((other) => other === n).length;
    // Where only some connections were cut, its end may have been told by one that was just being opened.
    if (words === '') expect(times).toBe(2);
    else expect([1, 2]).toContain(times);
  },
);

test.each(Array.from({ length: ROUNDS }, (_, i) => 10_000 + 3 * i))(
  'two jobs that both could not be told to have failed do not hold up those that wait (%i)',
  async (n) => {
    const one = gate();
    const other = gate();
    const third = gate();
    const both = gate();
    const back = gate();
    first.set(n, async () => {
      await Promise.all([other.promise, third.promise]);
      await open(false);
      await cut('');
      one.resolve();
      throw new Error('As wanted');
    });
    first.set(n + 1, async () => {
      other.resolve();
      await one.promise;
      await nobodyGetsIn(); // the first one's end is being told meanwhile
      both.resolve();
      throw new Error('As wanted');
    });
    // The runner cannot end before this one, and has to wait with both failures behind it.
    first.set(n + 2, async () => {
      third.resolve();
      await back.promise;
    });
    const waiting = n + 100_000;
    await database.transaction((t) =>
      queue.addInside(
        [n, n + 1, n + 2, waiting].map((each) => ({
          task: TASK,
          key: `held:${each}`,
          payload: { n: each },
          priority: 0,
        })),
        t,
      ),
    );
    await both.promise;
    await nobodyGetsIn();
    await open(true);
    back.resolve();
    for (const each of [waiting, n, n + 1, n + 2]) await h.until(() => isTold(each), `job ${each} is told to be over`);
    expect(begun.filter((each) => each === waiting)).toHaveLength(1);
  },
);
