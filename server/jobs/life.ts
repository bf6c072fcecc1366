/**
 * How processes on one database know of each other that they live: each has a row and holds an advisory lock of its
 * number. PostgreSQL frees the lock when the process dies. When only the connection is lost, the lock is taken again,
 * so that nobody takes the jobs of a living process for those of a dead one.
 */
import pg from 'pg';
import { log } from '../base/log.ts';

/** Advisory locks of this class say "this process lives". */
export const LIFE_LOCK = 980_417;
const RETRY_MS = 300;
/** After a loss all processes come back one by one: nobody is taken for dead so soon. */
const GRACE_MS = 15_000;

export interface Life {
  /** The number of this process. */
  id: number;
  /** Others may be judged: this process has held its lock long enough. */
  mayJudge(): boolean;
  close(): Promise<void>;
}

/** @param onRevived called when the lock is held again after a loss, with whether others had taken this for dead */
export async function beginLife(url: string, onRevived: (takenForDead: boolean) => void): Promise<Life> {
  let id: number | null = null,
    client: pg.Client | null = null,
    stopped = false,
    judgesFrom = 0;

  /** Row and lock in one statement: a row that others can see is always held, or dead. */
  async function hold(): Promise<boolean> {
    const next = new pg.Client({ connectionString: url });
    next.on('error', () => undefined);
    try {
      return await holdWith(next);
    } catch (error) {
      // It may hold the lock already, and nobody would ever let go of that.
      void next.end().catch(() => undefined);
      throw error;
    }
  }

  async function holdWith(next: pg.Client): Promise<boolean> {
    await next.connect();
    const fresh = id === null;
    const made = `INSERT INTO workers ${fresh ? 'DEFAULT VALUES' : '(id) VALUES ($2) ON CONFLICT (id) DO NOTHING'}`;
    const { rows } = await next.query<{ id: number }>(
      fresh
        ? `WITH made AS (${made} RETURNING id) SELECT id, pg_advisory_lock($1, id) FROM made`
        : `WITH held AS (SELECT pg_advisory_lock($1, $2)), made AS (${made} RETURNING id)
             SELECT made.id FROM held LEFT JOIN made ON true`,
      fresh ? [LIFE_LOCK] : [LIFE_LOCK, id],
    );
    id ??= rows[0]!.id;
    client = next;
    next.on('end', () => void regain());
    return !fresh && rows[0]?.id === id; // the row had to be made anew: somebody had removed it
  }

  async function regain(): Promise<void> {
    if (stopped) return;
    log.warn('the database is not there; waiting until it is back');
    judgesFrom = Infinity;
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      if (stopped) return;
      try {
        const takenForDead = await hold();
        // It was closed while it waited for the lock.
        if (stopped) return await letGo();
        judgesFrom = Date.now() + GRACE_MS;
        log.info('the database is back');
        onRevived(takenForDead);
        return;
      } catch {
        /* not yet */
      }
    }
  }

  async function letGo(): Promise<void> {
    await client?.query('DELETE FROM workers WHERE id = $1', [id]).catch(() => undefined);
    await client?.end().catch(() => undefined);
  }

  await hold();
  return {
    id: id!,
    mayJudge: () => Date.now() >= judgesFrom,
    async close() {
      stopped = true;
      await letGo();
    },
  };
}
