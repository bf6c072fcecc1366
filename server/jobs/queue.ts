/** The job queue on PostgreSQL (graphile-worker), shared by all processes on the database. */
import { makeWorkerUtils, run, type Runner, type TaskList, type WorkerUtils } from 'graphile-worker';
import { EventEmitter } from 'node:events';
import pg from 'pg';
import { Logger } from 'graphile-worker';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';
import { log } from '../base/log.ts';

export type TaskName = 'analyse' | 'scan' | 'write' | 'lookup';

export interface AddedJob {
  task: TaskName;
  key: string;
  payload: Record<string, unknown>;
  priority: number;
  queueName?: string;
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
  /** Starts working off jobs in this process. */
  work(tasks: TaskList, concurrency: number): Promise<void>;
  /** Frees what dead processes had in hand; `all` looks even when none has died. Returns how many had. */
  recover(all: boolean): Promise<number>;
  close(): Promise<void>;
}

const quietLogger = new Logger(() => (level, message) => {
  if (level === 'error') log.error({ worker: true }, message);
});
/** Advisory locks of this class say "this process lives": PostgreSQL frees them when it dies. */
const LIFE_LOCK = 980_417;
const MAX_ATTEMPTS = 3;

/** Opens the queue; its tables are made on first use. */
export async function openQueue(database: Database): Promise<Queue> {
  const utils: WorkerUtils = await makeWorkerUtils({ connectionString: database.url, logger: quietLogger });
  await utils.migrate();
  const life = new pg.Client({ connectionString: database.url });
  life.on('error', (error) => log.error(error, 'the life connection broke'));
  await life.connect();
  // Row and lock in one statement: a row that others can see is always held, or dead.
  const { rows } = await life.query<{ id: number }>(
    'WITH made AS (INSERT INTO workers DEFAULT VALUES RETURNING id) SELECT id, pg_advisory_lock($1, id) FROM made',
    [LIFE_LOCK],
  );
  const processId = rows[0]!.id;
  let runner: Runner | null = null;

  return {
    workerId: processId,
    async addInside(jobs, t) {
      const specs = jobs.map(({ task, key, payload, priority, queueName }) => ({
        identifier: task,
        payload,
        job_key: key,
        priority,
        max_attempts: MAX_ATTEMPTS,
        queue_name: queueName ?? null,
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
    async work(tasks, concurrency) {
      const events = new EventEmitter();
      // Jobs are locked in the name of the pool or of one of its workers.
      const remember = (id: string): void => {
        void database.run('UPDATE workers SET worker_ids = worker_ids || $2::text WHERE id = $1', [processId, id]);
      };
      events.on('pool:create', ({ workerPool }: { workerPool: { id: string } }) => remember(workerPool.id));
      events.on('worker:create', ({ worker }: { worker: { workerId: string } }) => remember(worker.workerId));
      runner = await run({
        connectionString: database.url,
        taskList: tasks,
        concurrency,
        noHandleSignals: true,
        pollInterval: 1000,
        logger: quietLogger,
        events: events as never,
      });
      runner.promise.catch((error: unknown) => log.error(error, 'the queue stopped'));
    },
    async recover(all) {
      const dead = await database.rows<{ id: number }>(
        `DELETE FROM workers WHERE id IN (SELECT id FROM workers WHERE id <> $1 AND pg_try_advisory_xact_lock($2, id))
          RETURNING id`,
        [processId, LIFE_LOCK],
      );
      if (dead.length === 0 && !all) return 0;
      // Whatever is locked by none of the living was left behind, by a kill or in the last moment before a stop.
      const stale = await database.rows<{ id: string }>(
        `SELECT DISTINCT locked_by AS id FROM graphile_worker.jobs WHERE locked_by IS NOT NULL
          AND locked_by NOT IN (SELECT unnest(worker_ids) FROM workers)`,
      );
      if (stale.length) await utils.forceUnlockWorkers(stale.map((s) => s.id));
      // A stop or a kill is not the job's fault: it is tried at once, as if for the first time.
      await database.rows(
        `SELECT count(*) FROM graphile_worker.reschedule_jobs(
           ARRAY(SELECT id FROM graphile_worker.jobs WHERE attempts > 0
             AND locked_at IS NULL), run_at := now(), attempts := 0)`,
      );
      return dead.length;
    },
    async close() {
      await runner?.stop().catch((error: unknown) => log.warn(error, 'the queue did not stop cleanly'));
      await utils.release();
      await life.query('DELETE FROM workers WHERE id = $1', [processId]).catch(() => undefined);
      await life.end();
    },
  };
}
