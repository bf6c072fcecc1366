/** The run that carries out the files of a large change set: progress, cancel between and within files, a report. */
import type { CopyProgress, FilesRunReport } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import { ChangeSet, Run } from '../db/models.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { log } from '../base/log.ts';
import { carryOut } from './carryOut.ts';
import type { ChangeContext, FileContext, OfChangeSet } from './context.ts';

export type FilesRun = DefinedRun<OfChangeSet>;

/** Defines it; one goes after the other, so that change sets end in the order in which they were made. */
export function filesRun(context: FileContext & { queue: Queue }): FilesRun {
  const { database } = context;
  return defineRun<OfChangeSet>(context, {
    kind: 'writing',
    task: 'write',
    priority: -30,
    queueName: () => 'files',
    async work({ run, payload: { changeSetId, copied }, signal, tell }) {
      const stop = (): Promise<boolean> => Promise.resolve(signal.aborted);
      // Taken up again after a restart, what was copied before is not known.
      const copying = copied && run.done === 0 ? { total: copied, before: 0, now: 0 } : null;
      if (!copying && run.report) await run.update({ report: null });
      const copiedReport = (): { report?: object } =>
        copying
          ? { report: { copied: copying.before + copying.now, toCopy: copying.total } satisfies CopyProgress }
          : {};
      const bytes = (now: number): void => {
        if (!copying) return;
        copying.now = now;
        tell(copiedReport()).catch((error: unknown) => log.warn(error, 'a run could not say how far it is'));
      };
      const progress = async (_outcome: unknown, { trackId }: { trackId: number }): Promise<void> => {
        if (copying) Object.assign(copying, { before: copying.before + copying.now, now: 0 });
        const { done, left } = await counts(database, changeSetId);
        const [file] = await database.rows<{ path: string }>('SELECT path FROM tracks WHERE id = $1', [trackId]);
        await tell({ done, failed: left, current: file?.path ?? null, ...copiedReport() });
      };
      await carryOut(context, changeSetId, { stop, signal, progress, bytes });
      return reportOf(database, changeSetId, run);
    },
    async callOff({ changeSetId }, run, words) {
      await database.run(
        "UPDATE change_items SET state = 'cancelled', reason = $2 WHERE change_set_id = $1 AND state = 'waiting'",
        [changeSetId, words],
      );
      return reportOf(database, changeSetId, run);
    },
    async again({ changeSetId }, run, t) {
      // What was in the way when the draft was made is another question; what has been undone is not made any more.
      const lines = await database.rows(
        `UPDATE change_items i SET state = 'waiting', reason = NULL
         WHERE change_set_id = $1 AND area = 'files' AND state IN ('failed', 'cancelled')
           AND NOT EXISTS (SELECT 1 FROM change_sets s WHERE s.id = $1 AND s.undone_by IS NOT NULL)
           AND NOT EXISTS (SELECT 1 FROM change_items o
             WHERE o.change_set_id = $1 AND o.track_id = i.track_id AND o.undone_by IS NOT NULL)
         RETURNING seq`,
        [changeSetId],
        t,
      );
      return lines.length ? { title: againTitle(run.title), total: lines.length } : null;
    },
    started: async ({ changeSetId }, runId, t) => {
      await ChangeSet.update({ runId }, { where: { id: changeSetId }, transaction: t });
    },
    ended: () => database.notify({ kind: 'changes' }),
  });
}

/** Queues the file part of a change set as a run of its own. */
export async function queueFiles(
  { filesRun: files }: ChangeContext,
  changeSetId: number,
  title: string,
  { lines, copied = 0 }: { lines: number; copied?: number },
): Promise<number> {
  return files.start({ changeSetId, ...(copied ? { copied } : {}) }, { title: `Write files: ${title}`, total: lines });
}

const counts = async (
  database: Database,
  changeSetId: number,
): Promise<{ done: number; left: number; cancelled: number }> =>
  (
    await database.rows<{ done: number; left: number; cancelled: number }>(
      `SELECT count(*) FILTER (WHERE state = 'done') AS done, count(*) FILTER (WHERE state IN ('failed',
        'conflict')) AS left, count(*) FILTER (WHERE state = 'cancelled') AS cancelled
       FROM change_items WHERE change_set_id = $1 AND area = 'files'`,
      [changeSetId],
    )
  )[0]!;

async function reportOf(
  database: Database,
  changeSetId: number,
  run: Run,
): Promise<{ report: FilesRunReport; done: number; failed: number }> {
  const reasons = await database.rows<{ reason: string; files: number }>(
    `SELECT reason, count(*) AS files FROM change_items WHERE change_set_id = $1 AND area = 'files'
      AND state IN ('failed', 'conflict') GROUP BY reason ORDER BY files DESC LIMIT 50`,
    [changeSetId],
  );
  const { done, left, cancelled } = await counts(database, changeSetId);
  const seconds = (Date.now() - run.startedAt.getTime()) / 1000;
  return { done, failed: left, report: { written: done, left, cancelled, seconds, reasons } };
}

/** After a restart: what dead processes were writing at once becomes a run; says what was put right. */
export async function recoverChangeSets(context: ChangeContext, mended: readonly string[]): Promise<void> {
  const { database } = context;
  for (const sentence of mended) log.warn({ files: true }, sentence);
  const open = await database.rows<{ id: number; title: string; n: number }>(
    `SELECT s.id, s.title, count(*) AS n FROM change_items i JOIN change_sets s ON s.id = i.change_set_id
     WHERE i.state = 'waiting' AND s.run_id IS NULL AND NOT EXISTS (SELECT 1 FROM workers w WHERE w.id = s.worker_id)
       GROUP BY s.id`,
  );
  for (const { id, title, n } of open) await queueFiles(context, id, title, { lines: n });
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
