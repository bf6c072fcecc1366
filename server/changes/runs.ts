/** The run that carries out the files of a large change set: progress, cancel between and within files, a report. */
import type { FilesRunReport } from '@early-set/core/api/types';
import type { Task } from 'graphile-worker';
import { ChangeSet, Run } from '../db/models.ts';
import type { Queue } from '../jobs/queue.ts';
import { log } from '../log.ts';
import { carryOut } from './carryOut.ts';
import type { ChangeContext } from './context.ts';

/** How often progress is told. */
const TELL_MS = 300;
const STOPPING = new Error('stopping');
const CANCELLED = `UPDATE change_items SET state = 'cancelled', reason = 'Cancelled before its turn came' WHERE change_set_id = $1 AND state = 'waiting'`;
const jobKey = (changeSetId: number): string => `write:${changeSetId}`;

/** Queues the file part of a change set as a run of its own. */
export async function queueFiles(
  { database, queue }: ChangeContext,
  changeSetId: number,
  title: string,
  total: number,
): Promise<number> {
  const run = await Run.create({ kind: 'writing', title: `Write files: ${title}`, total });
  await ChangeSet.update({ runId: run.id }, { where: { id: changeSetId } });
  await addJob(queue, changeSetId);
  await database.notify({ kind: 'run', runId: run.id });
  return run.id;
}

const addJob = (queue: Queue, changeSetId: number): Promise<void> =>
  queue.add([{ task: 'write', key: jobKey(changeSetId), payload: { changeSetId }, priority: -30, queueName: 'files' }]);

export function filesTask(context: ChangeContext): {
  task: Task;
  cancel: (runId: number) => void;
  abortAll: () => void;
} {
  const { database } = context;
  const inHand = new Map<number, AbortController>();
  let stopping = false;
  const task: Task = async (payload) => {
    const { changeSetId } = payload as { changeSetId: number };
    const set = await ChangeSet.findByPk(changeSetId);
    const run = set ? await Run.findByPk(set.runId ?? 0) : null;
    if (!run) return;
    const controller = new AbortController();
    inHand.set(run.id, controller);
    let told = 0;
    const tell = async (trackId: number): Promise<void> => {
      if (Date.now() - told < TELL_MS) return;
      told = Date.now();
      const { done, left } = await counts(context, changeSetId);
      const [file] = await database.rows<{ path: string }>('SELECT path FROM tracks WHERE id = $1', [trackId]);
      await run.update({ done, failed: left, current: file?.path ?? null });
      await database.notify({ kind: 'run', runId: run.id });
    };
    let askedAt = 0;
    const stop = async (): Promise<boolean> => {
      if (stopping) throw STOPPING; // the job is kept for the next start
      if (Date.now() - askedAt < 200) return run.state !== 'running';
      askedAt = Date.now();
      await run.reload();
      return run.state !== 'running';
    };
    try {
      await carryOut(context, changeSetId, {
        stop,
        signal: controller.signal,
        progress: (_outcome, line) => tell(line.trackId),
      });
    } finally {
      inHand.delete(run.id);
    }
    await run.reload();
    if (run.state !== 'running') await database.run(CANCELLED, [changeSetId]);
    await endRun(context, changeSetId, run);
  };
  return {
    task,
    cancel: (runId) => inHand.get(runId)?.abort(),
    abortAll: () => {
      stopping = true;
      for (const controller of inHand.values()) controller.abort();
    },
  };
}

const counts = async (
  { database }: ChangeContext,
  changeSetId: number,
): Promise<{ done: number; left: number; cancelled: number }> =>
  (
    await database.rows<{ done: number; left: number; cancelled: number }>(
      `SELECT count(*) FILTER (WHERE state = 'done') AS done, count(*) FILTER (WHERE state IN ('failed', 'conflict')) AS left, count(*) FILTER (WHERE state = 'cancelled') AS cancelled
       FROM change_items WHERE change_set_id = $1 AND area = 'files'`,
      [changeSetId],
    )
  )[0]!;

async function endRun(context: ChangeContext, changeSetId: number, run: Run): Promise<void> {
  const { database } = context;
  const reasons = await database.rows<{ reason: string; files: number }>(
    "SELECT reason, count(*) AS files FROM change_items WHERE change_set_id = $1 AND area = 'files' AND state IN ('failed', 'conflict') GROUP BY reason ORDER BY files DESC LIMIT 50",
    [changeSetId],
  );
  const { done, left, cancelled } = await counts(context, changeSetId);
  const finishedAt = new Date();
  const report: FilesRunReport = {
    written: done,
    left,
    cancelled,
    seconds: (finishedAt.getTime() - run.startedAt.getTime()) / 1000,
    reasons,
  };
  await run.update({
    state: run.state === 'running' ? 'done' : run.state,
    done,
    failed: left,
    current: null,
    finishedAt,
    report,
  });
  await database.notify({ kind: 'run', runId: run.id });
  await database.notify({ kind: 'changes' });
}

/** Stops such a run; what is made stays, and can be taken back. */
export async function cancelFiles({ database, queue }: ChangeContext, run: Run): Promise<void> {
  await run.update({ state: 'cancelled' });
  const set = await ChangeSet.findOne({ where: { runId: run.id } });
  if (!set) return;
  await database.notify({ kind: 'cancel', runId: run.id });
  // A job that no process has in hand ends here.
  await queue.drop([jobKey(set.id)]);
  if (!(await queue.has(jobKey(set.id)))) {
    await database.run(CANCELLED, [set.id]);
    await run.update({ finishedAt: new Date(), current: null });
  }
  await database.notify({ kind: 'run', runId: run.id });
}

/** After a restart: change sets with lines that wait and no job get one; says what was put right. */
export async function recoverChangeSets(context: ChangeContext, mended: readonly string[]): Promise<void> {
  const { database, queue } = context;
  for (const sentence of mended) log.warn({ files: true }, sentence);
  const open = await database.rows<{ id: number; title: string; runId: number | null; n: number }>(
    `SELECT s.id, s.title, s.run_id AS "runId", count(*) AS n FROM change_items i JOIN change_sets s ON s.id = i.change_set_id
     WHERE i.state = 'waiting' AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = s.worker_id)
       AND NOT EXISTS (SELECT 1 FROM graphile_worker.jobs j WHERE j.key = 'write:' || s.id) GROUP BY s.id`,
  );
  for (const { id, title, runId, n } of open) {
    if (runId === null) await queueFiles(context, id, title, n);
    else await addJob(queue, id);
  }
  if (mended.length)
    await Run.create({
      kind: 'writing',
      title: 'Files put right after an interrupted write',
      state: 'done',
      total: mended.length,
      done: mended.length,
      finishedAt: new Date(),
      report: { mended: [...mended] } as object,
    });
}
