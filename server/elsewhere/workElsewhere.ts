/**
 * A worker on another computer: it measures, and nothing else, with what its role may do. Files are changed, scanned
 * and backed up where the library is.
 */
import { availableParallelism, hostname } from 'node:os';
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import { log } from '../base/log.ts';
import { Problem } from '../base/problem.ts';
import { connect, listen } from '../db/database.ts';
import { analysisRun } from '../jobs/analysis.ts';
import { openQueue } from '../jobs/queue.ts';
import { createAnalysisPool } from '../media/analysisPool.ts';
import { rootsHere, type FolderMap } from './rootsHere.ts';
import { mustBeSameVersion } from './sameVersion.ts';

export interface ElsewhereOptions {
  databaseUrl: string;
  maps: readonly FolderMap[];
  threads?: number;
  /** Tells the one who started it. */
  say: (sentence: string) => void;
  /** Told when it cannot go on. */
  gaveUp: (reason: string) => void;
  /** Folder of the bundled threads; beside this file when not given. */
  threadFolder?: URL;
}

export interface WorkerElsewhere {
  measured(): number;
  stop(): Promise<void>;
}

/** Ten such workers leave the server room enough. */
const MAX_CONNECTIONS = 4;
const LOOK_MS = 10_000;

/** @throws Problem when the library is another version's */
export async function workElsewhere(options: ElsewhereOptions): Promise<WorkerElsewhere> {
  const { databaseUrl, maps, say, gaveUp } = options;
  const database = await connect(databaseUrl, MAX_CONNECTIONS);
  try {
    await mustBeSameVersion(database);
  } catch (error) {
    await database.close();
    throw error;
  }
  const threads = options.threads ?? availableParallelism();
  const queue = await openQueue(database, {
    who: { name: hostname(), engine: ENGINE_VERSION, elsewhere: true },
    onTakenForDead: () => analysis.abortAll(),
    migrates: false,
    maxConnections: MAX_CONNECTIONS,
  });
  const pool = createAnalysisPool(new URL('./analysisThread.mjs', options.threadFolder ?? import.meta.url), threads);
  let away: readonly string[] = [];
  const places = rootsHere(database, maps, (missing) => {
    const labels = missing.map(({ label }) => label);
    for (const { label, path } of missing)
      if (!away.includes(label)) say(`${label} is not here (${path}): its tracks are left to others.`);
    for (const label of away) if (!labels.includes(label)) say(`${label} is here again.`);
    away = labels;
    queue.tellAway(labels).catch((error: unknown) => log.warn(error, 'what is not here could not be told'));
  });
  const analysis = analysisRun(database, queue, pool, places);
  const unlisten = await listen(databaseUrl, (event) => {
    if (event.kind === 'cancel') analysis.heard(event.runId);
  });
  await queue.work({ [analysis.taskName]: analysis.task }, threads, places.skipped);
  const watch = setInterval(() => {
    mustBeSameVersion(database).catch((error: unknown) => {
      // A database that is away comes back.
      if (error instanceof Problem) gaveUp(error.message);
    });
  }, LOOK_MS);
  return {
    measured: analysis.measured,
    async stop() {
      clearInterval(watch);
      await unlisten();
      analysis.abortAll();
      await queue.close();
      await pool.close();
      await database.close();
    },
  };
}
