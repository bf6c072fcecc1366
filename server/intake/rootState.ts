/** Whether the drive of a root is there; its files follow. */
import type { Database } from '../db/database.ts';
import type { Root } from '../db/models.ts';
import { storeFiles } from '../library/trackFiles.ts';

/** Marks a root's drive as away, or as back: files that were here are away, and the other way round. */
export async function setAway(database: Database, root: Root, away: boolean): Promise<void> {
  const [from, to] = away ? (['here', 'away'] as const) : (['away', 'here'] as const);
  await database.transaction(async (t) => {
    const files = await database.rows<{ id: string }>(
      'SELECT id FROM track_files WHERE root_id = $1 AND state = $2',
      [root.id, from],
      t,
    );
    await storeFiles(
      database,
      files.map(({ id }) => ({ id, state: to })),
      t,
    );
    await root.update({ awaySince: away ? (root.awaySince ?? new Date()) : null }, { transaction: t });
  });
  await database.notify({ kind: 'roots' });
  await database.notify({ kind: 'tracks' });
}
