/** Two computers work together only when both have the same Early Set. */
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { MIGRATIONS } from '../db/migrate.ts';

/** @throws Problem when the library is worked on by another version */
export async function mustBeSameVersion(database: Database): Promise<void> {
  const other = new Problem(
    409,
    'other-version',
    'The library is worked on by another version of Early Set. Bring both computers to the same one',
  );
  const made = await database.rows<{ name: string }>('SELECT name FROM migrations ORDER BY name');
  if (
    made.map(({ name }) => name).join() !==
    MIGRATIONS.map(({ name }) => name)
      .sort()
      .join()
  )
    throw other;
  const engines = await database.rows<{ engine: number }>(
    'SELECT engine FROM workers WHERE NOT elsewhere AND engine IS NOT NULL',
  );
  if (engines.some(({ engine }) => engine !== ENGINE_VERSION)) throw other;
}
