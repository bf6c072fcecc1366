/** Runs: long work as the person sees it: done, total, rate, time left, the file in hand. */
import type { RunProgress } from '@early-set/core/api/types';
import { Op, type Transaction } from 'sequelize';
import { Run } from '../db/models.ts';
import type { Database } from '../db/database.ts';

function withRate(run: Run, isLatest: boolean, stickId: number | null): RunProgress {
  const { id, kind, title, state, reason, rootId, total, done, failed, current, report } = run;
  const finished = done + failed;
  const seconds = ((run.finishedAt ?? new Date()).getTime() - run.startedAt.getTime()) / 1000;
  const rate = finished > 0 && seconds > 0 ? finished / seconds : null;
  return {
    id,
    kind,
    title,
    state,
    reason,
    rootId,
    stickId,
    total,
    done,
    failed,
    current,
    report,
    startedAt: run.startedAt.toISOString(),
    finishedAt: run.finishedAt?.toISOString() ?? null,
    rate,
    canRetry: isLatest && state !== 'running' && (failed > 0 || state !== 'done'),
    secondsLeft: state === 'running' && rate ? Math.max(0, (total - finished) / rate) : null,
  };
}

/** What runs now, and the latest that ended; or those before a run. */
export async function recentRuns(database: Database, before?: number, limit = 20): Promise<RunProgress[]> {
  const where = before === undefined ? {} : { id: { [Op.lt]: before } };
  const runs = await Run.findAll({ where, order: [['id', 'DESC']], limit });
  const written = await sticksWritten(database, runs);
  // A newer run of the same has taken the place of an older one.
  const newer = new Set<string>();
  return runs.map((run) => {
    const what = run.payload ? `${run.kind}:${JSON.stringify(run.payload)}` : `run:${run.id}`;
    const isLatest = !newer.has(what);
    newer.add(what);
    return withRate(run, isLatest, written.get(run.id) ?? null);
  });
}

/** By run: which stick is written to. Two may be called alike, so that its title does not say. */
async function sticksWritten(database: Database, runs: readonly Run[]): Promise<Map<number, number>> {
  const writing = runs.filter((r) => r.kind === 'writing' && r.state === 'running').map((r) => r.id);
  if (writing.length === 0) return new Map();
  const rows = await database.rows<{ runId: number; stickId: number }>(
    `SELECT DISTINCT r.id AS "runId", (i.item->>'stickId')::int AS "stickId" FROM runs r
      JOIN change_items i ON i.change_set_id = (r.payload->>'changeSetId')::int AND i.area = 'files'
      WHERE r.id = ANY($1::int[]) AND i.item ? 'stickId'`,
    [writing],
  );
  return new Map(rows.map(({ runId, stickId }) => [runId, stickId]));
}

/** Brings an analysis run's counts up to date from its tracks and ends it when none is open. */
export async function settleAnalysisRun(database: Database, runId: number, current: string | null): Promise<void> {
  await database.transaction(async (t) => {
    // Counted when it is this one's turn: of two at once, the later to write would else have counted before the other.
    await database.rows('SELECT 1 FROM runs WHERE id = $1 FOR UPDATE', [runId], t);
    await countAnalysisRun(database, runId, current, t);
  });
  await database.notify({ kind: 'run', runId });
}

const countAnalysisRun = (database: Database, runId: number, current: string | null, t: Transaction): Promise<void> =>
  database.run(
    `UPDATE runs r SET done = c.done, failed = c.failed, total = c.total, current = CASE WHEN c.open = 0 THEN NULL
      ELSE COALESCE($2, r.current) END,
       state = CASE WHEN r.state = 'running' AND c.open = 0 THEN 'done' ELSE r.state END,
       finished_at = CASE WHEN r.finished_at IS NULL AND c.open = 0 THEN now() ELSE r.finished_at END
     FROM (SELECT count(*) AS total, count(*) FILTER (WHERE state = 'done') AS done,
       count(*) FILTER (WHERE state = 'failed') AS failed,
             count(*) FILTER (WHERE state IN ('waiting', 'running')) AS open FROM run_tracks WHERE run_id = $1) c
     WHERE r.id = $1`,
    [runId, current],
    t,
  );

/** Tracks of a run that could not be measured, with their reasons. */
export const runFailures = (
  database: Database,
  runId: number,
): Promise<{ trackId: number; path: string; reason: string | null }[]> =>
  database.rows(
    'SELECT t.id AS "trackId", t.path, rt.reason FROM run_tracks rt JOIN tracks t ON t.id = rt.track_id WHERE rt.run_id = $1 AND rt.state = \'failed\' ORDER BY t.path LIMIT 1000',
    [runId],
  );
