/** The run that writes the files of a large change set: progress, cancel between files, a report. */
import type { WritingReport } from '@early-set/core/api/types';
import type { Task } from 'graphile-worker';
import { writeChangeSet } from '../changes/changing.ts';
import type { WriteContext } from '../changes/writing.ts';
import { Run } from '../db/models.ts';
import type { Queue } from './queue.ts';

/** How often progress is told. */
const TELL_MS = 300;

const STOPPING = new Error('stopping');

export function writingTask(context: WriteContext): { task: Task; abortAll: () => void } {
  const { database } = context;
  let stopping = false;
  const task: Task = async (payload) => {
    const { changeSetId } = payload as { changeSetId: number };
    const [set] = await database.rows<{ runId: number | null }>(
      'SELECT run_id AS "runId" FROM change_sets WHERE id = $1',
      [changeSetId],
    );
    const run = set ? await Run.findByPk(set.runId ?? 0) : null;
    if (!run) return;
    let told = 0;
    const count = async (): Promise<{ done: number; left: number; waiting: number }> =>
      (
        await database.rows<{ done: number; left: number; waiting: number }>(
          `SELECT count(*) FILTER (WHERE state = 'done') AS done, count(*) FILTER (WHERE state IN ('failed', 'conflict')) AS left, count(*) FILTER (WHERE state = 'waiting') AS waiting
       FROM change_items WHERE change_set_id = $1 AND item->>'kind' IN ('write-tags', 'move-file')`,
          [changeSetId],
        )
      )[0]!;
    const tell = async (trackId: number): Promise<void> => {
      if (Date.now() - told < TELL_MS) return;
      told = Date.now();
      const { done, left } = await count();
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
    await writeChangeSet(context, changeSetId, { stop, progress: (_settled, trackId) => tell(trackId) });
    await run.reload();
    if (run.state !== 'running')
      await database.run(
        "UPDATE change_items SET state = 'cancelled', reason = 'Cancelled before its turn came' WHERE change_set_id = $1 AND state = 'waiting'",
        [changeSetId],
      );
    await endRun(changeSetId, run);
  };

  async function endRun(changeSetId: number, run: Run): Promise<void> {
    const reasons = await database.rows<{ state: string; reason: string; files: number }>(
      "SELECT state, reason, count(*) AS files FROM change_items WHERE change_set_id = $1 AND item->>'kind' IN ('write-tags', 'move-file') AND state <> 'done' GROUP BY state, reason ORDER BY files DESC LIMIT 50",
      [changeSetId],
    );
    const [done] = await database.rows<{ n: number }>(
      "SELECT count(*) AS n FROM change_items WHERE change_set_id = $1 AND item->>'kind' IN ('write-tags', 'move-file') AND state = 'done'",
      [changeSetId],
    );
    const sum = (cancelled: boolean): number =>
      reasons.filter((r) => (r.state === 'cancelled') === cancelled).reduce((n, r) => n + r.files, 0);
    const finishedAt = new Date();
    const report: WritingReport = {
      written: done!.n,
      left: sum(false),
      cancelled: sum(true),
      seconds: (finishedAt.getTime() - run.startedAt.getTime()) / 1000,
      reasons: reasons.filter((r) => r.state !== 'cancelled').map(({ reason, files }) => ({ reason, files })),
    };
    await run.update({
      state: run.state === 'running' ? 'done' : run.state,
      done: report.written,
      failed: report.left,
      current: null,
      finishedAt,
      report,
    });
    await database.notify({ kind: 'run', runId: run.id });
    await database.notify({ kind: 'changes' });
  }

  return {
    task,
    abortAll: () => {
      stopping = true;
    },
  };
}

/** Stops a run of writing between two files; what is written stays, and can be taken back. */
export async function cancelWriting(context: WriteContext, queue: Queue, run: Run): Promise<void> {
  const { database } = context;
  await run.update({ state: 'cancelled' });
  const [set] = await database.rows<{ id: number }>('SELECT id FROM change_sets WHERE run_id = $1', [run.id]);
  if (!set) return;
  // A job that no process has in hand ends here.
  await queue.drop([`write:${set.id}`]);
  const [open] = await database.rows<{ n: number }>('SELECT count(*) AS n FROM graphile_worker.jobs WHERE key = $1', [
    `write:${set.id}`,
  ]);
  if (open?.n === 0) {
    await database.run(
      "UPDATE change_items SET state = 'cancelled', reason = 'Cancelled before its turn came' WHERE change_set_id = $1 AND state = 'waiting'",
      [set.id],
    );
    await run.update({ finishedAt: new Date(), current: null });
  }
  await database.notify({ kind: 'run', runId: run.id });
}
