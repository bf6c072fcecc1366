/**
 * Files are looked for when they are played or given away: one that is not there, in a folder that is, counts as
 * missing from then on and need not wait for the next scan. Of a folder whose drive may be away nothing is concluded.
 */
import { lstat, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from '../db/database.ts';
import { storeFiles } from './trackFiles.ts';
import { lockTracks } from './trackStore.ts';

interface Lying {
  id: string;
  trackId: number;
  rootPath: string;
  path: string;
}

const TOGETHER = 16;

/** @returns how many tracks are missing their file from now on */
export async function noticeMissing(database: Database, trackIds: readonly number[]): Promise<number> {
  const files = await database.rows<Lying>(
    `SELECT f.id, f.track_id AS "trackId", r.path AS "rootPath", f.path FROM track_files f JOIN roots r ON r.id = f.root_id
      WHERE f.track_id = ANY($1::int[]) AND f.role = 'main' AND f.state = 'here' AND r.away_since IS NULL`,
    [trackIds],
  );
  const gone: Lying[] = [];
  for (let from = 0; from < files.length; from += TOGETHER) {
    const some = files.slice(from, from + TOGETHER);
    const there = await Promise.all(some.map(({ rootPath, path }) => mayBeThere(join(rootPath, path))));
    gone.push(...some.filter((_, i) => !there[i]));
  }
  const folders = new Map<string, boolean>();
  for (const { rootPath } of gone)
    if (!folders.has(rootPath)) folders.set(rootPath, await readdir(rootPath).then((names) => names.length > 0, no));
  const lost = gone.filter(({ rootPath }) => folders.get(rootPath));
  if (lost.length === 0) return 0;
  const noted = await database.transaction(async (t) => {
    await lockTracks(
      database,
      lost.map((f) => f.trackId),
      t,
    );
    // One that was moved meanwhile, or is being moved, is not gone.
    const still = await database.rows<{ id: string }>(
      `SELECT f.id FROM track_files f JOIN jsonb_to_recordset($1::jsonb) AS v(id uuid, path text)
        ON v.id = f.id AND v.path = f.path WHERE f.state = 'here'
          AND NOT EXISTS (SELECT 1 FROM file_claims c WHERE c.track_id = f.track_id)`,
      [JSON.stringify(lost.map(({ id, path }) => ({ id, path })))],
      t,
    );
    await storeFiles(
      database,
      still.map(({ id }) => ({ id, state: 'missing' as const })),
      t,
    );
    return still.length;
  });
  if (noted > 0) for (const kind of ['tracks', 'roots'] as const) await database.notify({ kind });
  return noted;
}

const no = (): boolean => false;
/** Only a plain "no such file" says that a file is gone. */
const mayBeThere = (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    ({ code }: NodeJS.ErrnoException) => code !== 'ENOENT' && code !== 'ENOTDIR',
  );
