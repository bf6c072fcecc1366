/** Analysis as jobs: one a track, in any process on the database. */
import type { Task } from 'graphile-worker';
import type { Transaction } from 'sequelize';
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { WAVEFORM_FORM } from '@early-set/core/analysis/waveform';
import { fieldsOfParts, measuredValues } from '@early-set/core/analysis/measuredFields';
import { PARTS, withParts, type Part } from '@early-set/core/analysis/parts';
import { merge } from '@early-set/core/fields/merge';
import type { Held } from '@early-set/core/fields/values';
import { isPassing, type Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import { mainFileIds, mainFileOf, storeSoundHash } from '../library/trackFiles.ts';
import { heldOf } from '../library/held.ts';
import { loadTracks, lockTracks, storeTracks } from '../library/trackStore.ts';
import { log } from '../base/log.ts';
import type { AnalysisPool } from '../media/analysisPool.ts';
import type { ThreadAnswer } from '../media/analysisThread.ts';
import { resolveInRoot } from '../media/roots.ts';
import { Problem } from '../base/problem.ts';
import { againTitle, nothingFailed, type AnyRun } from './defineRun.ts';
import type { AddedJob, Queue } from './queue.ts';
import { settleAnalysisRun } from './runs.ts';

const BROKE_OFF = 'The analysis broke off; trying again may help';
const jobKey = (trackId: number): string => `analyse:${trackId}`;
/** What is chosen goes before what comes by itself. */
const PRIORITY = { chosen: -10, background: 0 } as const;

interface Payload {
  trackId: number;
  parts?: Part[] | null;
}

/** Marks a job by the library folder that its file lies in: a worker that does not have it skips what is marked so. */
export const inRoot = (rootId: number): string => `root:${rootId}`;

const jobOf = ({ trackId, parts }: Payload, rootId: number | undefined, priority: number): AddedJob => ({
  task: 'analyse',
  key: jobKey(trackId),
  payload: { trackId, ...(parts ? { parts } : {}) },
  priority,
  ...(rootId === undefined ? {} : { flags: [inRoot(rootId)] }),
});

/** Where the library's folders lie for this process. */
export interface Places {
  folderOf(root: { id: number; path: string }): string;
  /** Looks whether a folder is missing here. */
  isAway(rootId: number): Promise<boolean>;
}

/** Where they lie for the library itself. A file that is missing here is missing. */
const AT_HOME: Places = { folderOf: ({ path }) => path, isAway: () => Promise.resolve(false) };

/** Queues tracks for analysis under a run of their own (or a given one); returns the run's id. */
export async function queueAnalysis(
  database: Database,
  queue: Queue,
  trackIds: number[],
  options: { title: string; chosen: boolean; runId?: number; parts?: Part[] | null },
): Promise<number> {
  const run =
    options.runId === undefined
      ? await Run.create({ kind: 'analysis', title: options.title })
      : await Run.findByPk(options.runId, { rejectOnEmpty: true });
  for (let from = 0; from < trackIds.length; from += 5000) {
    const ids = trackIds.slice(from, from + 5000);
    await database.transaction(async (t) => {
      await lockTracks(database, ids, t);
      await database.run(
        `INSERT INTO run_tracks (run_id, track_id) SELECT $1, unnest($2::int[]) ON CONFLICT (run_id, track_id)
          DO UPDATE SET state = 'waiting', reason = NULL`,
        [run.id, ids],
        t,
      );
      await database.run(
        `UPDATE tracks SET analysis_state = 'waiting', analysis_reason = NULL WHERE id = ANY($1::int[])
          AND analysis_state <> 'running'`,
        [ids],
        t,
      );
      await database.run("UPDATE runs SET state = 'running', finished_at = NULL WHERE id = $1", [run.id], t);
      const places = await database.rows<{ id: number; rootId: number }>(
        'SELECT id, root_id AS "rootId" FROM tracks WHERE id = ANY($1::int[])',
        [ids],
        t,
      );
      const rootOf = new Map(places.map(({ id, rootId }) => [id, rootId]));
      const priority = options.chosen ? PRIORITY.chosen : PRIORITY.background;
      await queue.addInside(
        ids.map((trackId) => jobOf({ trackId, parts: options.parts ?? null }, rootOf.get(trackId), priority)),
        t,
      );
    });
  }
  await settleAnalysisRun(database, run.id, null);
  await database.notify({ kind: 'tracks' });
  return run.id;
}

/** Stops a run: what waits is dropped, what is in hand is broken off, what is done stays. */
async function cancelAnalysis(database: Database, queue: Queue, runId: number): Promise<void> {
  const open = await database.transaction(async (t) => {
    const rows = await database.rows<{ id: number }>(
      `UPDATE run_tracks SET state = 'cancelled' WHERE run_id = $1 AND state IN ('waiting', 'running')
        RETURNING track_id AS id`,
      [runId],
      t,
    );
    await database.run(
      "UPDATE runs SET state = 'cancelled', finished_at = now(), current = NULL WHERE id = $1 AND state = 'running'",
      [runId],
      t,
    );
    return rows.map((r) => r.id);
  });
  // Another run may still wait for the same track.
  const wanted = new Set(
    (
      await database.rows<{ id: number }>(
        "SELECT track_id AS id FROM run_tracks WHERE track_id = ANY($1::int[]) AND state IN ('waiting', 'running')",
        [open],
      )
    ).map((r) => r.id),
  );
  const dropped = open.filter((id) => !wanted.has(id));
  await database.notify({ kind: 'cancel', runId });
  await queue.drop(dropped.map(jobKey));
  await database.run(
    `UPDATE tracks SET analysis_state = CASE WHEN analysis_engine IS NULL THEN 'none' ELSE 'done' END
      WHERE id = ANY($1::int[]) AND analysis_state IN ('waiting', 'running')`,
    [dropped],
  );
  await settleAnalysisRun(database, runId, null);
  await database.notify({ kind: 'tracks' });
}

/** After a restart: what dead processes had in hand waits again. */
export async function recoverAnalysis(database: Database): Promise<void> {
  const rows = await database.rows<{ id: number }>(
    `UPDATE run_tracks rt SET state = 'waiting' FROM tracks t WHERE t.id = rt.track_id AND rt.state = 'running'
     AND NOT EXISTS (SELECT 1 FROM graphile_worker.jobs j WHERE j.key = 'analyse:' || rt.track_id
       AND j.locked_at IS NOT NULL) RETURNING rt.track_id AS id`,
  );
  await database.run("UPDATE tracks SET analysis_state = 'waiting' WHERE id = ANY($1::int[])", [rows.map((r) => r.id)]);
  for (const { id } of await database.rows<{ id: number }>(
    "SELECT id FROM runs WHERE kind = 'analysis' AND state = 'running'",
  ))
    await settleAnalysisRun(database, id, null);
}

interface InHand {
  controller: AbortController;
  trackId: number;
}

/** Measuring as a kind of run: its jobs are tracks, which several runs may wait for. */
export function analysisRun(
  database: Database,
  queue: Queue,
  pool: AnalysisPool,
  places: Places = AT_HOME,
): AnyRun & { measured: () => number } {
  const inHand = new Set<InHand>();
  let measured = 0;

  const task: Task = async (payload, { job }) => {
    const { trackId, parts = null } = payload as Payload;
    const runs = (
      await database.rows<{ runId: number }>(
        "UPDATE run_tracks SET state = 'running' WHERE track_id = $1 AND state IN ('waiting', 'running') RETURNING run_id AS \"runId\"",
        [trackId],
      )
    ).map((r) => r.runId);
    if (runs.length === 0) return; // cancelled, or done already before a crash
    const track = await mainFileOf(database, trackId);
    if (!track) return;
    await database.run("UPDATE tracks SET analysis_state = 'running' WHERE id = $1", [trackId]);
    await Promise.all(runs.map((id) => settleAnalysisRun(database, id, track.path)));
    const own: InHand = { controller: new AbortController(), trackId };
    inHand.add(own);
    try {
      const folder = places.folderOf({ id: track.rootId, path: track.rootPath });
      const answer = await analyse(folder, track.path, own.controller.signal);
      if (!answer.ok && (await places.isAway(track.rootId)))
        return await leaveToOthers({ trackId, parts }, track.rootId, job.priority);
      await storeAnswer(database, trackId, answer, parts);
      measured++;
    } catch (error) {
      if (own.controller.signal.aborted && own.controller.signal.reason !== STOPPING) return;
      if (own.controller.signal.aborted) {
        await waitAgain(database, trackId);
      } else if (!isPassing(error)) {
        log.error(error, 'what was measured could not be stored');
        return await storeAnswer(database, trackId, { ok: false, reason: BROKE_OFF }, parts);
      }
      throw error;
    } finally {
      inHand.delete(own);
      await Promise.all(runs.map((id) => settleAnalysisRun(database, id, null)));
      await database.notify({ kind: 'tracks' });
    }
  };

  /** The job is queued anew, marked: who does not have the folder does not take it a second time. */
  const leaveToOthers = (payload: Payload, rootId: number, priority: number): Promise<void> =>
    database.transaction(async (t) => {
      await waitAgain(database, payload.trackId, t);
      await queue.addInside([jobOf(payload, rootId, priority)], t);
    });

  const analyse = async (rootPath: string, path: string, signal: AbortSignal): Promise<ThreadAnswer> => {
    try {
      return await pool.analyse(await resolveInRoot(rootPath, path), signal, true);
    } catch (error) {
      if (signal.aborted) throw error;
      if (error instanceof Problem) return { ok: false, reason: error.message };
      log.error(error, 'analysis failed');
      return { ok: false, reason: BROKE_OFF };
    }
  };

  const breakOff = async (runId: number): Promise<void> => {
    const open = await database.rows<{ id: number }>(
      "SELECT track_id AS id FROM run_tracks WHERE track_id = ANY($1::int[]) AND state = 'running'",
      [[...inHand].map((h) => h.trackId)],
    );
    const wanted = new Set(open.map((r) => r.id));
    const [run] = await database.rows<{ n: number }>('SELECT count(*) AS n FROM run_tracks WHERE run_id = $1', [runId]);
    if (run?.n)
      for (const { controller, trackId } of inHand) if (!wanted.has(trackId)) controller.abort(new Error('cancelled'));
  };
  /** On stopping: what is in hand waits again for the next start. */
  const abortAll = (): void => {
    for (const { controller } of inHand) controller.abort(STOPPING);
  };
  return {
    kind: 'analysis',
    taskName: 'analyse',
    task,
    cancel: (run) => cancelAnalysis(database, queue, run.id),
    async retry(run) {
      const failed = await database.rows<{ id: number }>(
        `SELECT track_id AS id FROM run_tracks WHERE run_id = $1 AND state IN ('failed', 'cancelled')
          ORDER BY track_id`,
        [run.id],
      );
      if (failed.length === 0) throw nothingFailed();
      const ids = failed.map((f) => f.id);
      return queueAnalysis(database, queue, ids, { title: againTitle(run.title), chosen: true });
    },
    heard: (runId) => void breakOff(runId),
    abortAll,
    measured: () => measured,
  };
}

/** What was in hand waits again. */
async function waitAgain(database: Database, trackId: number, t?: Transaction): Promise<void> {
  await database.run("UPDATE run_tracks SET state = 'waiting' WHERE track_id = $1 AND state = 'running'", [trackId], t);
  await database.run(
    "UPDATE tracks SET analysis_state = 'waiting' WHERE id = $1 AND analysis_state = 'running'",
    [trackId],
    t,
  );
}

/** Why work in hand was broken off: the process stops, so the job is kept. */
const STOPPING = new Error('stopping');

const MEASURED = fieldsOfParts(PARTS);

/** Stores what came out, whole or not at all; a second time changes nothing more. With parts, only those. */
async function storeAnswer(
  database: Database,
  trackId: number,
  answer: ThreadAnswer,
  parts: Part[] | null,
): Promise<void> {
  await database.transaction(async (t) => {
    if (!answer.ok) {
      await database.run(
        "UPDATE tracks SET analysis_state = 'failed', analysis_reason = $2 WHERE id = $1",
        [trackId, answer.reason],
        t,
      );
      await database.run(
        "UPDATE run_tracks SET state = 'failed', reason = $2 WHERE track_id = $1 AND state IN ('waiting', 'running')",
        [trackId, answer.reason],
        t,
      );
      return;
    }
    const { result } = answer.analysed;
    const { waveform, ...fresh } = result;
    const measured = measuredValues(result, parts ?? PARTS);
    const track = (await loadTracks(database, [trackId], MEASURED, t)).get(trackId);
    if (!track) return;
    const [former] = parts
      ? await database.rows<{ result: Omit<AnalysisResult, 'waveform'> }>(
          'SELECT result FROM analyses WHERE track_id = $1',
          [trackId],
          t,
        )
      : [];
    const rest = parts ? withParts(former?.result ?? null, fresh, parts) : fresh;
    const at = new Date().toISOString();
    const held: Record<string, Held> = {};
    for (const [field, value] of Object.entries(measured)) {
      const now = heldOf(track.values[field], track.origins, field) ?? undefined;
      const next = merge(now, { value, origin: 'analysis', at }, 'by trust');
      if (next && next !== now) held[field] = next;
    }
    const { durationSeconds } = result;
    await storeTracks(database, [{ id: trackId, held, plain: { durationSeconds }, values: track.values }], t);
    const fileId = (await mainFileIds(database, [trackId], t)).get(trackId);
    const { audioHash } = answer.analysed;
    if (fileId && audioHash) await storeSoundHash(database, fileId, audioHash, t);
    await database.run(
      `INSERT INTO analyses (track_id, engine, result, waveform, fingerprint, waveform_form)
         VALUES ($1, $2, $3::jsonb, $4, $5, $6)
       ON CONFLICT (track_id) DO UPDATE SET engine = excluded.engine, analysed_at = now(), result = excluded.result,
         waveform = excluded.waveform, waveform_form = excluded.waveform_form,
         fingerprint = coalesce(excluded.fingerprint, analyses.fingerprint)`,
      [
        trackId,
        rest.engine,
        JSON.stringify(rest),
        Buffer.from(waveform),
        answer.analysed.fingerprint && Buffer.from(answer.analysed.fingerprint),
        WAVEFORM_FORM,
      ],
      t,
    );
    await database.run(
      "UPDATE tracks SET analysis_state = 'done', analysis_reason = NULL, analysis_engine = $2 WHERE id = $1",
      [trackId, rest.engine],
      t,
    );
    await database.run(
      "UPDATE run_tracks SET state = 'done' WHERE track_id = $1 AND state IN ('waiting', 'running')",
      [trackId],
      t,
    );
  });
}
