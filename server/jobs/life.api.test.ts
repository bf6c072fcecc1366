/** A process that lost its connection, and was closed before it had another one, leaves nobody behind. */
import { expect, test } from '@jest/globals';
import pg from 'pg';
import { connect } from '../db/database.ts';
import { testDatabase } from '../testing/database.ts';
import { beginLife, LIFE_LOCK } from './life.ts';

test('closed while it waits to hold its lock again, it lets go of it as soon as it has it', async () => {
  const { url, drop } = await testDatabase();
  const database = await connect(url);
  const other = new pg.Client({ connectionString: url });
  await other.connect();
  const holders = async (granted: boolean): Promise<number> =>
    (
      await database.rows<{ n: number }>(
        `SELECT count(*)::int AS n FROM pg_locks WHERE locktype = 'advisory' AND classid = $1 AND granted = $2
          AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
        [LIFE_LOCK, granted],
      )
    )[0]!.n;
  const until = async (question: () => Promise<boolean>): Promise<void> => {
    while (!(await question())) await new Promise((resolve) => setTimeout(resolve, 20));
  };

  const life = await beginLife(url, () => undefined);
  // Other tests run on the same server: only who holds it in this database is meant.
  const [held] = await database.rows<{ pid: number }>(
    `SELECT pid FROM pg_locks WHERE locktype = 'advisory' AND classid = $1
        AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
    [LIFE_LOCK],
  );
  // Somebody else has the lock before it comes back.
  const taken = other.query('SELECT pg_advisory_lock($1, $2)', [LIFE_LOCK, life.id]);
  await until(async () => (await holders(false)) === 1);
  await database.run('SELECT pg_terminate_backend($1)', [held!.pid]);
  await taken;
  await until(async () => (await holders(false)) === 1);
  await life.close();
  await other.query('SELECT pg_advisory_unlock_all()');
  await until(async () => (await holders(true)) + (await holders(false)) === 0);
  await until(async () => (await database.rows('SELECT 1 FROM workers WHERE id = $1', [life.id])).length === 0);
  expect(await holders(true)).toBe(0);
  await other.end();
  await database.close();
  await drop();
});
