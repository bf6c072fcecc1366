/** The job queue on PostgreSQL (graphile-worker), shared by all processes on the database. */
import { makeWorkerUtils, run, type Runner, type TaskList, type WorkerUtils } from 'graphile-worker';
import { EventEmitter } from 'node:events';
import { Logger } from 'graphile-worker';
import pg from 'pg';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';
import { log } from '../base/log.ts';
import { beginLife, LIFE_LOCK } from './life.ts';

export type TaskName =
  'analyse' | 'scan' | 'write' | 'lookup' | 'compare' | 'unpack' | 'copy' | 'take' | 'backup' | 'bundle' | 'copyMusic';

export interface AddedJob {
  task: TaskName;
  key: string;
  payload: Record<string, unknown>;
  priority: number;
  queueName?: string;
  /** Whoever skips one of these leaves the job to others. */
  flags?: string[];
}

/** How a process is shown among those that work. */
export interface Who {
  name: string;
  /** What it measures with. */
  engine: number;
  /** On another computer. */
  elsewhere: boolean;
}

export interface QueueOptions {
  /** Others have taken over what this process has in hand: it has to let go. */
  onTakenForDead?: () => void;
  who?: Who;
  /** False: its tables are there, and not this process's to change. */
  migrates?: boolean;
  maxConnections?: number;
}

export interface Queue {
  /** The number of this process in the table of workers. */
  workerId: number;
  /** Adds jobs together with the rows they serve: all of it is there, or none. */
  addInside(jobs: readonly AddedJob[], t: Transaction): Promise<void>;
  /** Takes waiting jobs with these keys out. */
  drop(keys: string[]): Promise<void>;
  /** Is there a job with this key, waiting or in hand? */
  has(key: string): Promise<boolean>;
  /** Starts working off jobs in this process, but those with flags that are to be skipped just then. */
  work(tasks: TaskList, concurrency: number, skipped?: () => Promise<string[]>): Promise<void>;
  /** Says which folders this process does not have. */
  tellAway(labels: readonly string[]): Promise<void>;
  /** Frees what dead processes had in hand; `all` looks even when none has died. Returns how many had. */
  recover(all: boolean): Promise<number>;
  close(): Promise<void>;
}

const quietLogger = new Logger(() => (level, message) => {
  if (level === 'error') log.error({ worker: true }, message);
});
const MAX_ATTEMPTS = 3;
const MAX_CONNECTIONS = 10;
const UTILS_CONNECTIONS = 2;
/** How long connections and a runner whose end does not come are waited for. */
const LET_GO_MS = 3000;

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
const isThere = (database: Database): Promise<boolean> =>
  database.rows('SELECT 1').then(
    () => true,
    () => false,
  );

/**
 * A runner with its connections. `over` is when it begins to end, since it may never get to its end: when two jobs
 * cannot be told to have failed, it goes on waiting for what it counted twice.
 */
interface Shift {
  runner: Runner;
  pool: pg.Pool;
  over: Promise<void>;
}

/**
 * Connections whose end is no error to anybody: the pool of graphile-worker takes its ear off while it lets them go,
 * and one that is cut just then would end the process.
 */
function openPool(url: string, max: number): pg.Pool {
  const pool = new pg.Pool({ connectionString: url, max });
  const quietly = (error: Error): void => log.warn(error, 'a connection of the queue was lost');
  pool.on('error', quietly);
  pool.on('connect', (client) => client.on('error', quietly));
  return pool;
}

/** Opens the queue; its tables are made on first use. */
export async function openQueue(
  database: Database,
  { onTakenForDead, who, migrates = true, maxConnections = MAX_CONNECTIONS }: QueueOptions = {},
): Promise<Queue> {
  const utilsPool = openPool(database.url, UTILS_CONNECTIONS);
  const utils: WorkerUtils = await makeWorkerUtils({ pgPool: utilsPool, logger: quietLogger });
  if (migrates) await utils.migrate();
  /** Jobs are locked in the name of the pool or of one of its workers. */
  const lockNames: string[] = [];
  let away: readonly string[] = [],
    skipped: (() => Promise<string[]>) | undefined;
  const tellNames = (): Promise<void> =>
    database.run(
      `UPDATE workers SET worker_ids = $2::text[], name = $3, engine = $4, elsewhere = $5, away = $6::text[]
        WHERE id = $1`,
      [life.id, lockNames, who?.name ?? null, who?.engine ?? null, who?.elsewhere ?? false, away],
    );
  let shift: Shift | null = null,
    /** Whoever begins anew. */
    going: Promise<void> = Promise.resolve(),
    closing = false,
    inHand = 0;
  const life = await beginLife(database.url, (takenForDead) => {
    if (takenForDead) onTakenForDead?.();
    // What was claimed or ended just then may be held by nobody: the runner ends what it has in hand and begins anew.
    void shift?.runner.stop().catch(() => undefined);
    tellNames().catch((error: unknown) => log.warn(error, 'the names of the workers could not be told'));
  });

  /** Counts what is in hand, so that nothing is begun again before it has ended here, nor by two runners at once. */
  const counted = (tasks: TaskList, isOver: () => boolean): TaskList =>
    Object.fromEntries(
      Object.entries(tasks).map(([name, task]) => [
        name,
        async (payload, helpers) => {
          if (isOver()) throw new Error('taken by a runner that had ended already');
          inHand++;
          try {
            return await task!(payload, helpers);
          } finally {
            inHand--;
          }
        },
      ]),
    );

  async function begin(tasks: TaskList, concurrency: number): Promise<Shift> {
    const events = new EventEmitter();
    const pool = openPool(database.url, maxConnections);
    let ended = false;
    const over = new Promise<void>((resolve) => {
      events.on('pool:gracefulShutdown', () => {
        ended = true;
        resolve();
      });
    });
    const remember = (id: string): void => {
      lockNames.push(id);
      tellNames().catch((error: unknown) => log.warn(error, 'the name of a worker could not be told'));
    };
    events.on('pool:create', ({ workerPool }: { workerPool: { id: string } }) => remember(workerPool.id));
    events.on('worker:create', ({ worker }: { worker: { workerId: string } }) => remember(worker.workerId));
    const runner = await run({
      pgPool: pool,
      taskList: counted(tasks, () => ended),
      concurrency,
      ...(skipped ? { forbiddenFlags: skipped } : {}),
      noHandleSignals: true,
      pollInterval: 1000,
      logger: quietLogger,
      events: events as never,
      // As batches, however small: only of those a release that fails ends the runner, instead of leaving the job held.
      preset: { worker: { completeJobBatchDelay: 0, failJobBatchDelay: 0 } },
    });
    runner.promise.catch((error: unknown) => log.warn(error, 'the queue stopped'));
    return { runner, pool, over };
  }

  /** Ends the connections of a runner that is over. One that hangs must not keep anybody waiting. */
  const letGo = (pool: pg.Pool): Promise<void> => Promise.race([pool.end().catch(() => undefined), pause(LET_GO_MS)]);

  /** When the database goes away the runner ends. It begins anew when the database is back, with what was in hand. */
  async function goOn(tasks: TaskList, concurrency: number): Promise<void> {
    while (!closing) {
      await shift!.over;
      while (!closing && (inHand > 0 || !(await isThere(database)))) await pause(300);
      if (closing) return;
      await letGo(shift!.pool);
      const former = lockNames.splice(0);
      try {
        if (former.length) await utils.forceUnlockWorkers(former);
        if (!closing) shift = await begin(tasks, concurrency);
      } catch (error) {
        lockNames.push(...former);
        log.warn(error, 'the queue could not begin again yet');
        await pause(1000);
      }
    }
  }

  /** Tries failed jobs at once, as if for the first time. */
  const forgive = async (which: string): Promise<void> => {
    await database.rows(
      `SELECT count(*) FROM graphile_worker.reschedule_jobs(ARRAY(SELECT id FROM graphile_worker.jobs
        WHERE ${which} AND locked_at IS NULL), run_at := now(), attempts := 0)`,
    );
  };

  async function idle(): Promise<void> {
    while (inHand > 0) await pause(100);
  }

  async function end({ runner, pool }: Shift): Promise<void> {
    const stopped = runner.stop().catch((error: unknown) => log.warn(error, 'the queue did not stop cleanly'));
    await Promise.race([stopped, idle().then(() => pause(LET_GO_MS))]);
    await letGo(pool);
  }

  return {
    workerId: life.id,
    async addInside(jobs, t) {
      const specs = jobs.map(({ task, key, payload, priority, queueName, flags }) => ({
        identifier: task,
        payload,
        job_key: key,
        priority,
        max_attempts: MAX_ATTEMPTS,
        queue_name: queueName ?? null,
        flags: flags ?? null,
      }));
      if (specs.length === 0) return;
      await database.run(
        `SELECT count(*) FROM graphile_worker.add_jobs((SELECT array_agg(r)
          FROM json_populate_recordset(NULL::graphile_worker.job_spec, $1::json) r), false)`,
        [JSON.stringify(specs)],
        t,
      );
    },
    async drop(keys) {
      const waiting = await database.rows<{ id: string }>(
        'SELECT id::text FROM graphile_worker.jobs WHERE key = ANY($1::text[]) AND locked_at IS NULL',
        [keys],
      );
      if (waiting.length) await utils.completeJobs(waiting.map((j) => j.id));
    },
    async has(key) {
      const rows = await database.rows('SELECT 1 FROM graphile_worker.jobs WHERE key = $1', [key]);
      return rows.length > 0;
    },
    async work(tasks, concurrency, skip) {
      skipped = skip;
      shift = await begin(tasks, concurrency);
      going = goOn(tasks, concurrency);
      await database.notify({ kind: 'workers' });
    },
    async tellAway(labels) {
      away = labels;
      await tellNames();
      await database.notify({ kind: 'workers' });
    },
    async recover(all) {
      // What is given up would be waited for for ever. A job without its key has been replaced by a later one.
      await forgive('attempts >= max_attempts AND key IS NOT NULL');
      if (!all && !life.mayJudge()) return 0;
      const dead = await database.rows<{ id: number }>(
        `DELETE FROM workers WHERE id IN (SELECT id FROM workers WHERE id <> $1 AND pg_try_advisory_xact_lock($2, id))
          RETURNING id`,
        [life.id, LIFE_LOCK],
      );
      if (dead.length === 0 && !all) return 0;
      // Whatever is locked by none of the living was left behind, by a kill or in the last moment before a stop.
      const stale = await database.rows<{ id: string }>(
        `SELECT DISTINCT locked_by AS id FROM graphile_worker.jobs WHERE locked_by IS NOT NULL
          AND locked_by NOT IN (SELECT unnest(worker_ids) FROM workers)`,
      );
      if (stale.length) await utils.forceUnlockWorkers(stale.map((s) => s.id));
      // A stop or a kill is not the job's fault.
      await forgive('attempts > 0');
      if (dead.length) await database.notify({ kind: 'workers' });
      return dead.length;
    },
    async close() {
      closing = true;
      const last = shift;
      if (last) await end(last);
      // A runner that was beginning anew just then would take jobs for ever, for a process that is none any more.
      await Promise.race([going, pause(LET_GO_MS)]);
      if (shift && shift !== last) await end(shift);
      await utils.release();
      await letGo(utilsPool);
      await life.close();
      await Promise.race([database.notify({ kind: 'workers' }).catch(() => undefined), pause(LET_GO_MS)]);
    },
  };
}
