/** What a scan did with which track: its report can be opened again, and each of its figures shows its tracks. */
import type { NewFilesReport, ScanFigures } from '@early-set/core/api/intake';
import type { ScanPart } from '@early-set/core/conditions/condition';
import type { Transaction } from 'sequelize';
import { notFound } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { Root, Run } from '../db/models.ts';
import type { ScanReport } from './context.ts';

/** Notes what a scan found of these tracks; what is noted already stays. */
export async function noteScanned(
  database: Database,
  runId: number,
  part: ScanPart,
  trackIds: readonly number[],
  t?: Transaction,
): Promise<void> {
  if (trackIds.length === 0) return;
  await database.run(
    'INSERT INTO scan_tracks (run_id, part, track_id) SELECT $1, $2, unnest($3::int[]) ON CONFLICT DO NOTHING',
    [runId, part, trackIds],
    t,
  );
}

/** What a scan came to, with what has become of its tracks since. @throws Problem when there was no such scan */
export async function scanFigures(database: Database, runId: number): Promise<ScanFigures> {
  const run = await Run.findOne({ where: { id: runId, kind: 'intake' } });
  if (!run) throw notFound('The scan');
  const root = run.rootId === null ? null : await Root.findByPk(run.rootId);
  const parts = await database.rows<{ part: ScanPart; tracks: number; here: number }>(
    `SELECT s.part, count(*)::int AS tracks, count(t.id)::int AS here FROM scan_tracks s
      LEFT JOIN tracks t ON t.id = s.track_id WHERE s.run_id = $1 GROUP BY s.part`,
    [runId],
  );
  const [since] = await database.rows<{ measured: number; waiting: number; failed: number; duplicates: number }>(
    `SELECT count(*) FILTER (WHERE t.analysis_state = 'done')::int AS measured,
        count(*) FILTER (WHERE t.analysis_state IN ('waiting', 'running'))::int AS waiting,
        count(*) FILTER (WHERE t.analysis_state = 'failed')::int AS failed,
        count(*) FILTER (WHERE t.duplicate)::int AS duplicates
      FROM scan_tracks s JOIN tracks t ON t.id = s.track_id WHERE s.run_id = $1 AND s.part = 'taken'`,
    [runId],
  );
  const report = run.report as Partial<ScanReport & NewFilesReport> | null;
  const { cleaned, put, newFilesTrouble } = report ?? {};
  return {
    id: run.id,
    title: run.title,
    root: root?.label ?? null,
    startedAt: run.startedAt.toISOString(),
    seconds: run.finishedAt ? (run.finishedAt.getTime() - run.startedAt.getTime()) / 1000 : null,
    found: report?.found ?? null,
    parts: Object.fromEntries(parts.map(({ part, ...figures }) => [part, figures])),
    since: since!,
    notTaken: report?.notTaken ?? 0,
    refused: report?.refused ?? [],
    newlyRefused: report?.newlyRefused ?? 0,
    newFiles: {
      ...(cleaned ? { cleaned } : {}),
      ...(put ? { put } : {}),
      ...(newFilesTrouble ? { newFilesTrouble } : {}),
    },
  };
}
