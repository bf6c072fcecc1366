/** The kinds of long work a process can do. */
import type { RunKind } from '@early-set/core/api/types';
import type { TaskList } from 'graphile-worker';
import { backupRun, type BackupRun } from '../backups/backupRun.ts';
import { bundleRun, type BundleRun } from '../bundle/bundleRun.ts';
import { lookupRun } from '../catalogue/lookupRun.ts';
import type { LookupRun } from '../catalogue/lookups.ts';
import type { FileContext } from '../changes/context.ts';
import type { ComparePool } from '../disk/comparePool.ts';
import { compareRun, type CompareRun } from '../disk/compareRun.ts';
import { filesRun, type FilesRun } from '../changes/runs.ts';
import { unpackRun, type UnpackRun } from '../intake/archives.ts';
import { copyRun, type CopyRun } from '../intake/copying.ts';
import { scanRun, type Scanned, type ScanRun } from '../intake/scans.ts';
import { analysisRun } from '../jobs/analysis.ts';
import type { AnyRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import type { AnalysisPool } from '../media/analysisPool.ts';
import { musicCopyRun, type MusicCopyRun } from '../musicCopy/copyRun.ts';
import { takeRun, type TakeRun, type TakeTools } from '../take/taking.ts';

/** Each kind, by the name that its runs carry. */
export interface Runs extends Record<RunKind, AnyRun> {
  intake: ScanRun;
  analysis: ReturnType<typeof analysisRun>;
  writing: FilesRun;
  lookup: LookupRun;
  duplicates: CompareRun;
  unpacking: UnpackRun;
  copying: CopyRun;
  taking: TakeRun;
  backup: BackupRun;
  bundle: BundleRun;
  musicCopy: MusicCopyRun;
}

/** What taking from other collections needs besides. */
export type TakeOwn = Pick<TakeTools, 'states' | 'dataFolder' | 'later'>;

export interface RunPools {
  analysis: AnalysisPool;
  compare: ComparePool;
}

/** @param scanned what comes behind each scan */
export function defineRuns(
  context: FileContext & { queue: Queue },
  pools: RunPools,
  scanned: Scanned,
  take: TakeOwn,
): Runs {
  const intake = scanRun(context, scanned);
  return {
    intake,
    analysis: analysisRun(context.database, context.queue, pools.analysis),
    writing: filesRun(context),
    lookup: lookupRun(context),
    duplicates: compareRun(context, pools.compare),
    unpacking: unpackRun(context, intake),
    copying: copyRun(context, intake),
    taking: takeRun({ ...context, ...take, scanned }),
    backup: backupRun(context, take.dataFolder),
    bundle: bundleRun(context, take.dataFolder, intake),
    musicCopy: musicCopyRun(context),
  };
}

export const everyRun = (runs: Runs): AnyRun[] => Object.values(runs);

/** Only the server has the data folder that these work on, or the drive. */
const OF_SERVER: ReadonlySet<RunKind> = new Set<RunKind>(['backup', 'bundle', 'musicCopy']);

/** What the queue is told to call. */
export const tasksOf = (runs: Runs, isServer: boolean): TaskList =>
  Object.fromEntries(
    everyRun(runs)
      .filter(({ kind }) => isServer || !OF_SERVER.has(kind))
      .map(({ taskName, task }) => [taskName, task]),
  );
