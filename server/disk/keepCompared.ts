/** Tracks are compared by themselves once measured: soon after the last run of intake or measuring has ended. */
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import type { Database } from '../db/database.ts';
import type { CompareRun } from './compareRun.ts';
import { waitingCount } from './duplicateStore.ts';

/** Several runs often follow each other at once. */
const SOON_MS = 1500;
export const LOOK_TITLE = 'Look for duplicates';

export const keepCompared = (database: Database, runs: CompareRun): SoonAndDaily =>
  soonAndDaily(
    () =>
      database.transaction(async (t) => {
        // Two servers at one database must not both begin.
        await database.run("SELECT pg_advisory_xact_lock(hashtext('look for duplicates'))", [], t);
        const [state] = await database.rows<{ busy: boolean; last: Date | null }>(
          `SELECT bool_or(state = 'running' AND kind IN ('intake', 'analysis', 'duplicates')) AS busy,
            max(started_at) FILTER (WHERE kind = 'duplicates') AS last FROM runs`,
          [],
          t,
        );
        if (state?.busy) return;
        // What a cancelled run has left waits until somebody asks for it, or for what is measured later.
        if ((await waitingCount(database, state?.last ?? null)) === 0) return;
        await runs.start({}, { title: LOOK_TITLE, total: await waitingCount(database) }, t);
      }),
    SOON_MS,
    'duplicates could not be looked for',
  );
