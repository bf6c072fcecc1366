/** Scans of roots as runs; what they bring in is measured. */
import type { Database } from '../db/database.ts';
import { Root, Run } from '../db/models.ts';
import { driveOf } from '../drives/drives.ts';
import type { FilePool } from '../files/filePool.ts';
import { queueAnalysis } from '../jobs/analysis.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import type { ArtStore } from '../media/art.ts';
import { notFound, Problem } from '../base/problem.ts';
import { deskSettings } from '../db/settings.ts';
import { setAway } from './rootState.ts';
import { DriveAway, scanRoot, UNREAD } from './scan.ts';

interface OfRoot {
  rootId: number;
  /** Files that are not there are really gone: somebody said so. */
  lossAccepted?: boolean;
}
export type ScanRun = DefinedRun<OfRoot>;

/** What comes behind a scan of a root; what it answers is part of the report. */
export type Scanned = (root: Root, runId: number) => Promise<object>;

interface ScanTools {
  database: Database;
  queue: Queue;
  art: ArtStore;
  files: FilePool;
}

export function scanRun(tools: ScanTools, scanned: Scanned): ScanRun {
  const { database, queue, art, files } = tools;
  return defineRun<OfRoot>(tools, {
    kind: 'intake',
    task: 'scan',
    priority: -20,
    queueName: ({ rootId }) => `root:${rootId}`,
    async work({ run, payload: { rootId, lossAccepted = false }, signal, tell }) {
      const root = await Root.findByPk(rootId);
      if (!root) throw notFound('The folder');
      // What comes from now on may be passed over: whoever asks for a scan gets one of its own.
      await run.update({ current: '' });
      const measure = measuring(database, queue, root);
      try {
        const settings = await deskSettings();
        const report = await scanRoot({
          database,
          runId: run.id,
          art,
          files,
          root,
          signal,
          policy: settings.changedFiles,
          settings,
          lossAccepted,
          progress: async (done, total, current, newTracks) => {
            await tell({ done, total, current });
            if (newTracks.length) await database.notify({ kind: 'tracks' });
            await measure(newTracks);
          },
        });
        // Whatever a killed scan had stored and not queued.
        const rest = await database.rows<{ id: number }>(
          `SELECT id FROM tracks WHERE root_id = $1 AND analysis_state = 'none' AND file_state = 'here'
            AND analysis_engine IS NULL ORDER BY id`,
          [rootId],
        );
        await measure(rest.map((r) => r.id));
        await root.update({ scannedAt: new Date(), awaySince: null, drive: await driveOf(root.path) });
        const done = report.taken + report.changed;
        const followed = await scanned(root, run.id);
        return { report: { ...report, ...followed }, total: done + report.unread, done, failed: report.unread };
      } catch (error) {
        if (error instanceof DriveAway) await setAway(database, root, true);
        throw error;
      }
    },
    async again({ rootId }, run, t) {
      // Files that are as they were would be passed over.
      const files = await database.rows(
        'DELETE FROM not_taken WHERE root_id = $1 AND code = ANY($2::text[]) RETURNING path',
        [rootId, UNREAD],
        t,
      );
      return files.length || run.state !== 'done' ? { title: againTitle(run.title), total: 0 } : null;
    },
    async ended() {
      await database.notify({ kind: 'tracks' });
      await database.notify({ kind: 'roots' });
    },
  });
}

/** Queues what came in for measuring, all under one run. */
function measuring(database: Database, queue: Queue, root: Root): (ids: number[]) => Promise<void> {
  let runId: number | undefined;
  return async (ids) => {
    if (!root.measure || ids.length === 0) return;
    runId = await queueAnalysis(database, queue, ids, {
      title: `Measure ${root.label}`,
      chosen: false,
      runId: runId ?? (await openAnalysisOf(root.label)),
    });
  };
}

/**
 * A measuring run of the same folder that is still going is carried on, so that a growing folder has one bar, not
 * many.
 */
async function openAnalysisOf(label: string): Promise<number | undefined> {
  const open = await Run.findOne({
    where: { kind: 'analysis', state: 'running', title: `Measure ${label}` },
    order: [['id', 'DESC']],
  });
  return open?.id;
}

export const destination = ({ label }: Root): Problem =>
  new Problem(409, 'destination', `${label} is a destination: it is written, not read`);

/** Queues a scan of a root and returns its run; one that still waits is used. @throws Problem for a destination */
export async function queueScan(scans: ScanRun, root: Root, lossAccepted = false): Promise<number> {
  if (root.purpose === 'destination') throw destination(root);
  const [open] = await root.getRuns({ where: { kind: 'intake', state: 'running', current: null, total: 0 }, limit: 1 });
  if (open && !lossAccepted) return open.id;
  return scans.start({ rootId: root.id, lossAccepted }, { title: `Scan ${root.label}`, rootId: root.id });
}
