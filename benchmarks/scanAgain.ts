/** A folder of many files that are all known already: what scanning it again costs, when nothing of it changed. */
import { closeSync, lstatSync, mkdirSync, openSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { seedMany } from '../demo/many.ts';
import type { Database } from '../server/db/database.ts';
import { Root } from '../server/db/models.ts';

const TOGETHER = 10_000;

/** Made-up tracks with an empty file each below a folder. @returns their root */
export async function knownFolder(database: Database, url: string, count: number, folder: string): Promise<Root> {
  await seedMany(url, count);
  const root = (await Root.findOne({ where: { path: '/made-up' } }))!;
  await root.update({ path: folder });
  const files = await database.rows<{ id: string; path: string }>(
    'SELECT id, path FROM track_files WHERE root_id = $1',
    [root.id],
  );
  for (let from = 0; from < files.length; from += TOGETHER) {
    const made = files.slice(from, from + TOGETHER).map(({ id, path }) => {
      const at = join(folder, path);
      mkdirSync(dirname(at), { recursive: true });
      closeSync(openSync(at, 'w'));
      const { size, mtimeMs, ctimeMs } = lstatSync(at);
      return { id, size, modified: mtimeMs, changed: ctimeMs };
    });
    await database.run(
      `UPDATE track_files f SET size = v.size, modified_ms = v.modified, changed_ms = v.changed
       FROM jsonb_to_recordset($1::jsonb) AS v(id uuid, size bigint, modified float8, changed float8) WHERE v.id = f.id`,
      [JSON.stringify(made)],
    );
  }
  await database.run('VACUUM ANALYZE');
  return root;
}
