/** Roots and their scans as jobs. */
import type { RootLine } from '@early-set/core/api/types';
import type { Task } from 'graphile-worker';
import { stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Database } from '../db/database.ts';
import { Root, Run } from '../db/models.ts';
import { driveOf } from '../drives/drives.ts';
import type { FilePool } from '../files/filePool.ts';
import { queueAnalysis } from '../jobs/analysis.ts';
import type { Queue } from '../jobs/queue.ts';
import { log } from '../log.ts';
import type { ArtStore } from '../media/art.ts';
import { isInside } from '../media/roots.ts';
import { Problem } from '../problem.ts';
import { deskSettings } from '../settings.ts';
import { allowedFolder } from './places.ts';
import { DriveAway, scanRoot } from './scan.ts';
import { setAway } from './rootState.ts';

/** All roots with their counts. */
export const rootLines = (database: Database): Promise<RootLine[]> =>
  database.rows<RootLine>(
    `SELECT r.id, r.path, r.label, r.measure, r.purpose, r.away_since AS "awaySince", r.drive, r.scanned_at AS "scannedAt", COALESCE(t.n, 0) AS tracks, COALESCE(t.missing, 0) AS missing, COALESCE(n.n, 0) AS "notTaken" FROM roots r
     LEFT JOIN (SELECT root_id, count(*) AS n, count(*) FILTER (WHERE file_state = 'missing') AS missing FROM tracks GROUP BY root_id) t ON t.root_id = r.id
     LEFT JOIN (SELECT root_id, count(*) AS n FROM not_taken GROUP BY root_id) n ON n.root_id = r.id ORDER BY r.id`,
  );

/** Makes a folder a root. One inside another root is refused, so that no file is there twice. */
export async function addRoot(
  database: Database,
  path: string,
  demoRoot: string | null,
  { measure, purpose }: { measure: boolean; purpose: Root['purpose'] },
): Promise<Root> {
  const folder = await allowedFolder(path, demoRoot);
  await refuseOverlap(folder, null);
  const root = await Root.create({
    path: folder,
    label: basename(folder),
    measure,
    purpose,
    drive: await driveOf(folder),
  });
  await database.notify({ kind: 'roots' });
  return root;
}

/** No file is there twice: roots neither hold each other nor are the same. */
async function refuseOverlap(folder: string, but: number | null): Promise<void> {
  for (const root of await Root.findAll()) {
    if (root.id === but) continue;
    if (root.path === folder) throw new Problem(409, 'root-exists', `${folder} is taken in already`);
    if (isInside(root.path, folder))
      throw new Problem(409, 'root-exists', `${folder} lies in ${root.path}, which is taken in already`);
    if (isInside(folder, root.path))
      throw new Problem(409, 'root-inside', `${root.path} is taken in already and lies in this folder`);
  }
}

/** Queues a scan of a root and returns its run; one that still waits is used. */
export async function queueScan(
  database: Database,
  queue: Queue,
  root: { id: number; label: string; purpose: Root['purpose'] },
  lossAccepted = false,
): Promise<number> {
  if (root.purpose === 'destination')
    throw new Problem(409, 'destination', `${root.label} is a destination: it is written, not read`);
  const open = await Run.findOne({
    where: { kind: 'intake', state: 'running', rootId: root.id, current: null, total: 0 },
  });
  const run = open ?? (await Run.create({ kind: 'intake', title: `Scan ${root.label}`, rootId: root.id }));
  await queue.add([
    {
      task: 'scan',
      key: `scan:${root.id}:${run.id}`,
      payload: { rootId: root.id, runId: run.id, lossAccepted },
      priority: -20,
      queueName: `root:${root.id}`,
    },
  ]);
  await database.notify({ kind: 'run', runId: run.id });
  return run.id;
}

/** So many known files are looked for at a root's new place. */
const SAMPLE = 200;

/**
 * Another path for a root whose drive came back elsewhere; everything below it follows.
 * @throws Problem when the folder may not be used, or does not hold the root's files
 */
export async function moveRoot(database: Database, root: Root, path: string, demoRoot: string | null): Promise<void> {
  const folder = await allowedFolder(path, demoRoot);
  await refuseOverlap(folder, root.id);
  const known = await database.rows<{ path: string; size: number }>(
    `SELECT path, size FROM track_files WHERE root_id = $1 AND state IN ('here', 'away') ORDER BY md5(path) LIMIT ${SAMPLE}`,
    [root.id],
  );
  const there = await Promise.all(
    known.map((k) =>
      stat(join(folder, k.path)).then(
        (s) => s.size === k.size,
        () => false,
      ),
    ),
  );
  const found = there.filter(Boolean).length;
  if (found * 2 < known.length)
    throw new Problem(409, 'other-folder', `Only ${found} of ${known.length} files of ${root.label} are in ${folder}`);
  await root.update({ path: folder, drive: await driveOf(folder) });
  await setAway(database, root, false);
}

/** After a restart: scans that were under way or waiting are queued again where their job was lost. */
export async function recoverScans(database: Database, queue: Queue): Promise<void> {
  const lost = await database.rows<{ id: number; rootId: number }>(
    `SELECT r.id, r.root_id AS "rootId" FROM runs r WHERE r.kind = 'intake' AND r.state = 'running'
     AND NOT EXISTS (SELECT 1 FROM graphile_worker.jobs j WHERE j.key = 'scan:' || r.root_id || ':' || r.id)`,
  );
  await queue.add(
    lost.map(({ id, rootId }) => ({
      task: 'scan',
      key: `scan:${rootId}:${id}`,
      payload: { rootId, runId: id },
      priority: -20,
      queueName: `root:${rootId}`,
    })),
  );
}

const STOPPING = new Error('stopping');

/** The scan task, and how a cancelled run reaches it. */
export function scanTask(
  database: Database,
  queue: Queue,
  art: ArtStore,
  files: FilePool,
): { task: Task; cancel: (runId: number) => void; abortAll: () => void } {
  const inHand = new Map<number, AbortController>();

  const task: Task = async (payload) => {
    const {
      rootId,
      runId,
      lossAccepted = false,
    } = payload as {
      rootId: number;
      runId: number;
      lossAccepted?: boolean;
    };
    const [root, run] = await Promise.all([Root.findByPk(rootId), Run.findByPk(runId)]);
    if (!root || !run || run.state !== 'running') return;
    const controller = new AbortController();
    inHand.set(runId, controller);
    let analysisRun: number | undefined;
    const queueNew = async (ids: number[]): Promise<void> => {
      if (!root.measure || ids.length === 0) return;
      analysisRun = await queueAnalysis(database, queue, ids, {
        title: `Measure ${root.label}`,
        chosen: false,
        runId: analysisRun ?? (await openAnalysisOf(root.label)),
      });
    };
    try {
      const report = await scanRoot({
        database,
        art,
        files,
        root,
        signal: controller.signal,
        policy: (await deskSettings()).changedFiles,
        lossAccepted,
        progress: async (done, total, current, newTracks) => {
          await run.update({ done, total, current });
          await database.notify({ kind: 'run', runId });
          if (newTracks.length) await database.notify({ kind: 'tracks' });
          await queueNew(newTracks);
        },
      });
      // Whatever a killed scan had stored and not queued.
      const rest = await database.rows<{ id: number }>(
        "SELECT id FROM tracks WHERE root_id = $1 AND analysis_state = 'none' AND file_state = 'here' AND analysis_engine IS NULL ORDER BY id",
        [rootId],
      );
      await queueNew(rest.map((r) => r.id));
      await run.update({ state: 'done', finishedAt: new Date(), current: null, report });
      await root.update({ scannedAt: new Date(), awaySince: null, drive: await driveOf(root.path) });
    } catch (error) {
      if (controller.signal.reason === STOPPING) throw error; // the job is kept for the next start
      if (controller.signal.aborted) {
        await run.update({ state: 'cancelled', finishedAt: new Date(), current: null });
      } else {
        if (error instanceof DriveAway) await setAway(database, root, true);
        else if (!(error instanceof Problem)) log.error(error, 'scan failed');
        await run.update({
          state: 'failed',
          finishedAt: new Date(),
          current: null,
          reason: error instanceof Problem ? error.message : 'The scan broke off; trying again may help',
        });
      }
    } finally {
      inHand.delete(runId);
      await database.notify({ kind: 'run', runId });
      await database.notify({ kind: 'tracks' });
      await database.notify({ kind: 'roots' });
    }
  };
  return {
    task,
    cancel: (runId) => inHand.get(runId)?.abort(new Error('cancelled')),
    abortAll: () => {
      for (const controller of inHand.values()) controller.abort(STOPPING);
    },
  };
}

/** A measuring run of the same folder that is still going is carried on, so that a growing folder has one bar, not many. */
async function openAnalysisOf(label: string): Promise<number | undefined> {
  const open = await Run.findOne({
    where: { kind: 'analysis', state: 'running', title: `Measure ${label}` },
    order: [['id', 'DESC']],
  });
  return open?.id;
}

/** Marks a scan as cancelled; the process that has it in hand hears of it. */
export async function cancelScan(database: Database, queue: Queue, run: Run): Promise<void> {
  await queue.drop([`scan:${run.rootId}:${run.id}`]);
  await database.notify({ kind: 'cancel', runId: run.id });
  const [open] = await database.rows<{ n: number }>('SELECT count(*) AS n FROM graphile_worker.jobs WHERE key = $1', [
    `scan:${run.rootId}:${run.id}`,
  ]);
  if (open?.n === 0) await run.update({ state: 'cancelled', finishedAt: new Date(), current: null });
  await database.notify({ kind: 'run', runId: run.id });
}
