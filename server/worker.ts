/** One analysis worker: takes jobs from the database until stopped. Runs inside the server and alone. */
import { availableParallelism, hostname } from 'node:os';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import { connect, listen, type Database } from './db/database.ts';
import { refreshSearch } from './library/columns.ts';
import { migrate } from './db/migrate.ts';
import { defineModels } from './db/models.ts';
import { finishLeft, recoverFiles } from './changes/carryOut.ts';
import type { ChangeContext, FileContext } from './changes/context.ts';
import { createDriveQueue } from './changes/driveQueue.ts';
import { oneAfterAnother } from './changes/editOrder.ts';
import { recoverChangeSets } from './changes/runs.ts';
import { createFilePool } from './files/filePool.ts';
import { recoverAnalysis } from './jobs/analysis.ts';
import { openQueue, type Queue } from './jobs/queue.ts';
import { log } from './base/log.ts';
import { backUpBeforeUpgrade } from './backups/upgrade.ts';
import { createCleanPool } from './clean/cleanPool.ts';
import { createComparePool } from './disk/comparePool.ts';
import { createPlacesPool, type PlacesPool } from './disk/placesPool.ts';
import { treatNew } from './intake/newFiles.ts';
import type { Scanned } from './intake/scans.ts';
import { createAnalysisPool } from './media/analysisPool.ts';
import { openArtStore, type ArtStore } from './media/art.ts';
import { followScan } from './lists/mirrors.ts';
import { openStates, type States } from './handover/states.ts';
import { writeKept } from './handover/writing.ts';
import { stickWriter } from './stick/carry.ts';
import { openPlans, type Plans } from './stick/plans.ts';
import { createStickPool, type StickPool } from './stick/stickPool.ts';
import { reasonOf } from './files/reasons.ts';
import { defineRuns, everyRun, tasksOf, type Runs } from './runs/runs.ts';

export { keepGoing } from './base/log.ts';

export interface WorkerOptions {
  databaseUrl: string;
  dataFolder: string;
  threads?: number;
  /** Told at each step of work on a file, which waits for it. */
  step?: ChangeContext['step'];
  /** So many bytes of files are worked on while the person waits. */
  maxBytesAtOnce?: number;
  /** Folder of the bundled threads; beside this file when not given. */
  threadFolder?: URL;
}

export interface Worker {
  database: Database;
  queue: Queue;
  art: ArtStore;
  changing: ChangeContext;
  runs: Runs;
  placesPool: PlacesPool;
  states: States;
  plans: Plans;
  stickPool: StickPool;
  /** Tracks measured by this process so far. */
  measured(): number;
  stop(): Promise<void>;
}

/** More work on files than this, in bytes, becomes a run that can be watched and cancelled. */
const MAX_BYTES_AT_ONCE = 256 * 1024 * 1024;

/** How often the living look for what a killed process left behind. */
const RESCUE_MS = 10_000;

/** Connects, brings the schema up to date, frees what dead processes held, and starts working. */
export async function work(options: WorkerOptions, isServer = false): Promise<Worker> {
  const database = await connect(options.databaseUrl);
  await migrate(database, () => backUpBeforeUpgrade(database, options.dataFolder));
  await refreshSearch(database);
  defineModels(database.sequelize);
  const queue = await openQueue(database, {
    who: { name: hostname(), engine: ENGINE_VERSION, elsewhere: false },
    onTakenForDead: () => {
      for (const run of every) run.abortAll();
    },
  });
  const artFolder = join(options.dataFolder, 'art');
  mkdirSync(artFolder, { recursive: true });
  const art = openArtStore(artFolder, database);
  const threads = options.threads ?? availableParallelism();
  const thread = (name: string): URL => new URL(`./${name}.mjs`, options.threadFolder ?? import.meta.url);
  const pool = createAnalysisPool(thread('analysisThread'), threads);
  const comparePool = createComparePool(thread('compareThread'), threads);
  const placesPool = createPlacesPool(thread('placesThread'));
  const cleanPool = createCleanPool(thread('cleanThread'));
  const files = createFilePool(thread('fileThread'));
  const states = openStates(options.dataFolder);
  const plans = openPlans(options.dataFolder);
  const stickPool = createStickPool(thread('stickThread'));
  const fileContext: FileContext = {
    database,
    files,
    art,
    drives: createDriveQueue(),
    workerId: queue.workerId,
    writeData: writeKept(states),
    writeStickFiles: stickWriter({ database, files, art, plans, stickPool }),
    ...(options.step ? { step: options.step } : {}),
  };
  // What came is treated as its folder asks; crates that mirror folders follow each scan, as changes like all others.
  const scanned: Scanned = async (root, runId) => {
    const treated = await treatNew({ changing, cleanPool, placesPool }, root, runId);
    try {
      const { mirrors, ...trouble } = await changing.inTurn(() => followScan(changing, root.id));
      return { ...treated, ...(mirrors.length ? { mirrors } : {}), ...trouble };
    } catch (error) {
      log.warn(error, 'folder mirrors could not follow a scan');
      return { ...treated, mirrorTrouble: reasonOf(error) };
    }
  };
  const runs = defineRuns({ ...fileContext, queue }, { analysis: pool, compare: comparePool }, scanned, {
    ...{ states, dataFolder: options.dataFolder },
    later: () => ({ changing, cleanPool }),
  });
  const every = everyRun(runs);
  const changing: ChangeContext = {
    ...fileContext,
    filesRun: runs.writing,
    inTurn: oneAfterAnother(),
    maxBytesAtOnce: options.maxBytesAtOnce ?? MAX_BYTES_AT_ONCE,
  };
  const unlisten = await listen(options.databaseUrl, (event) => {
    if (event.kind === 'cancel') for (const run of every) run.heard(event.runId);
  });
  const rescue = async (): Promise<void> => {
    await recoverAnalysis(database);
    await recoverChangeSets(changing, await recoverFiles(changing));
  };
  await queue.recover(true);
  await rescue();
  // One job more than threads, so that scans need not wait for a track to end.
  await queue.work(tasksOf(runs, isServer), threads + 1);
  const watch = setInterval(() => {
    queue
      .recover(false)
      .then((dead) => (dead > 0 ? rescue() : undefined))
      .then(() => finishLeft(changing))
      .catch((error: unknown) => log.warn(error, 'nothing could be rescued'));
  }, RESCUE_MS);
  return {
    database,
    queue,
    art,
    changing,
    runs,
    placesPool,
    states,
    plans,
    stickPool,
    measured: runs.analysis.measured,
    async stop() {
      clearInterval(watch);
      await unlisten();
      for (const run of every) run.abortAll();
      await queue.close();
      await pool.close();
      await comparePool.close();
      await placesPool.close();
      await cleanPool.close();
      await files.close();
      await stickPool.close();
      await database.close();
    },
  };
}
