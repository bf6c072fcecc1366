/**
 * Long work as one kind of thing: a row that says how far it is, a job that is queued in the same transaction,
 * progress, cancel, going on after a restart, and a report that is kept.
 */
import type { RunKind } from '@early-set/core/api/types';
import type { Task } from 'graphile-worker';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import { log } from '../base/log.ts';
import { Problem } from '../base/problem.ts';
import type { Queue, TaskName } from './queue.ts';

/** A run that is being worked on. */
export interface RunHand<P> {
  run: Run;
  payload: P;
  /** Aborted when the run is cancelled, or the process stops. */
  signal: AbortSignal;
  /** Says how far it is, but not more often than can be read. */
  tell(state: {
    done?: number;
    failed?: number;
    total?: number;
    current?: string | null;
    report?: object;
  }): Promise<void>;
}

export interface RunEnd {
  report: object | null;
  total?: number;
  done?: number;
  failed?: number;
  /** Why it could not go on; it has failed then. */
  reason?: string;
}

export interface RunDefinition<P extends object> {
  kind: RunKind;
  task: TaskName;
  priority: number;
  /** Runs of one queue go one after the other. */
  queueName(payload: P): string;
  /** Does it; what it worked on has states of its own, so that it goes on where it was. */
  work(hand: RunHand<P>): Promise<RunEnd>;
  /** Calls off what waits, when the run is cancelled (begun or not) or broke off; `words` say why, for each. */
  callOff?(payload: P, run: Run, words: string): Promise<RunEnd>;
  /** Puts what failed or was called off back to waiting, for a run of the same payload; null when nothing did. */
  again?(payload: P, run: Run, t: Transaction): Promise<{ title: string; total: number } | null>;
  /** Told of a new run, in the transaction that makes it. */
  started?(payload: P, runId: number, t: Transaction): Promise<void>;
  /** Told when it has ended, in whatever way. */
  ended?(payload: P): Promise<void>;
}

/** A kind of run as the process knows it. */
export interface AnyRun {
  kind: RunKind;
  taskName: TaskName;
  task: Task;
  /** Stops a run, in whatever process it is. */
  cancel(run: Run): Promise<void>;
  /** Tries again what failed in a run that has ended; the id of the new one. @throws Problem when nothing failed */
  retry(run: Run): Promise<number>;
  /** Another process says that a run is cancelled. */
  heard(runId: number): void;
  /** On stopping: what is in hand goes on at the next start. */
  abortAll(): void;
}
export interface DefinedRun<P extends object> extends AnyRun {
  /** Makes a run and queues its job, both or neither. */
  start(payload: P, what: { title: string; total?: number; rootId?: number }, t?: Transaction): Promise<number>;
}

/** What a run is called that does what failed in another. */
export const againTitle = (title: string): string => `${title.replace(/, again$/, '')}, again`;
export const nothingFailed = (): Problem => new Problem(409, 'nothing-to-do', 'Nothing failed here');

const STOPPING = new Error('stopping');
/** The process stops: what is in hand goes on at the next start. */
export const isStopping = (signal: AbortSignal | undefined): boolean => signal?.reason === STOPPING;
const CANCELLED = new Error('cancelled');
const CALLED_OFF = 'Cancelled before its turn came';
const TELL_MS = 300;
const jobKey = (runId: number): string => `run:${runId}`;

export function defineRun<P extends object>(
  { database, queue }: { database: Database; queue: Queue },
  definition: RunDefinition<P>,
): DefinedRun<P> {
  const { kind, task: taskName, priority } = definition;
  const inHand = new Map<number, AbortController>();
  const tellRun = (runId: number): Promise<void> => database.notify({ kind: 'run', runId });

  const start: DefinedRun<P>['start'] = async (payload, { title, total = 0, rootId = null }, t) => {
    const both = async (inside: Transaction): Promise<number> => {
      const run = await Run.create({ kind, title, total, rootId, payload }, { transaction: inside });
      const job = { task: taskName, key: jobKey(run.id), payload: { runId: run.id }, priority };
      await queue.addInside([{ ...job, queueName: definition.queueName(payload) }], inside);
      await definition.started?.(payload, run.id, inside);
      // Heard when the transaction is through, and not before.
      await database.notify({ kind: 'run', runId: run.id }, inside);
      return run.id;
    };
    return t ? both(t) : database.transaction(both);
  };

  const calledOff = async (run: Run, payload: P, words: string): Promise<RunEnd> =>
    (await definition.callOff?.(payload, run, words)) ?? { report: run.report };

  const end = async (run: Run, payload: P, { report, reason, total, done, failed }: RunEnd): Promise<void> => {
    await run.reload();
    const state = run.state === 'running' ? (reason ? 'failed' : 'done') : run.state;
    await run.update({
      state,
      report,
      current: null,
      finishedAt: new Date(),
      ...(reason ? { reason } : {}),
      ...(total === undefined ? {} : { total }),
      ...(done === undefined ? {} : { done }),
      ...(failed === undefined ? {} : { failed }),
    });
    await definition.ended?.(payload);
    await tellRun(run.id);
  };

  const task: Task = async (job) => {
    const run = await runOf(database, kind, job as object);
    if (!run || run.finishedAt !== null) return;
    const payload = run.payload as P;
    const controller = new AbortController();
    inHand.set(run.id, controller);
    await run.reload(); // it may have been cancelled before it could be reached by that
    let told = 0;
    const tell: RunHand<P>['tell'] = async (state) => {
      if (Date.now() - told < TELL_MS) return;
      told = Date.now();
      await run.update(state);
      await tellRun(run.id);
    };
    try {
      if (run.state !== 'running') throw CANCELLED;
      const ended = await definition.work({ run, payload, signal: controller.signal, tell });
      controller.signal.throwIfAborted();
      await end(run, payload, ended);
    } catch (error) {
      if (isStopping(controller.signal)) throw error; // the job is kept for the next start
      if (controller.signal.aborted || error === CANCELLED)
        await end(run, payload, await calledOff(run, payload, CALLED_OFF));
      else {
        if (!(error instanceof Problem)) log.error(error, `a run broke off: ${run.title}`);
        const reason = error instanceof Problem ? error.message : 'It broke off; trying again may help';
        await end(run, payload, { ...(await calledOff(run, payload, `Not reached: ${reason}`)), reason });
      }
    } finally {
      inHand.delete(run.id);
    }
  };

  return {
    kind,
    taskName,
    start,
    task,
    async cancel(run) {
      await run.update({ state: 'cancelled' });
      await database.notify({ kind: 'cancel', runId: run.id });
      // A job that no process has in hand ends here.
      await queue.drop([jobKey(run.id)]);
      if (!(await queue.has(jobKey(run.id)))) {
        const payload = run.payload as P;
        await end(run, payload, await calledOff(run, payload, CALLED_OFF));
      }
      await tellRun(run.id);
    },
    retry: (run) =>
      database.transaction(async (t) => {
        const payload = run.payload as P | null;
        const again = payload && (await definition.again?.(payload, run, t));
        if (!again) throw nothingFailed();
        return start(payload, { ...again, ...(run.rootId === null ? {} : { rootId: run.rootId }) }, t);
      }),
    heard: (runId) => inHand.get(runId)?.abort(CANCELLED),
    abortAll() {
      for (const controller of inHand.values()) controller.abort(STOPPING);
    },
  };
}

/** The run of a job; jobs that were queued by an earlier version say what they work on instead. */
async function runOf(database: Database, kind: RunKind, job: object): Promise<Run | null> {
  if ('runId' in job) return Run.findByPk(Number(job.runId));
  const [row] = await database.rows<{ id: number }>(
    "SELECT id FROM runs WHERE kind = $1 AND state = 'running' AND payload @> $2::jsonb ORDER BY id DESC LIMIT 1",
    [kind, JSON.stringify(job)],
  );
  return row ? Run.findByPk(row.id) : null;
}
