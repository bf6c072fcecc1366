/** Is a file that arrives here already, byte for byte? */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Database } from '../db/database.ts';

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

/** A file of the library that holds the same bytes, and its track; null when there is none. */
export async function twinOf(database: Database, path: string): Promise<{ path: string; trackId: number } | null> {
  const { size } = await stat(path);
  if (size === 0) return null;
  const alike = await database.rows<{ root: string; path: string; trackId: number }>(
    `SELECT r.path AS root, f.path, f.track_id AS "trackId" FROM track_files f JOIN roots r ON r.id = f.root_id
      WHERE f.size = $1 AND f.state = 'here' AND r.away_since IS NULL ORDER BY f.id LIMIT 20`,
    [size],
  );
  if (alike.length === 0) return null;
  const own = await hashOf(path);
  for (const other of alike) {
    const there = join(other.root, other.path);
    if ((await stat(there).catch(() => null))?.isFile() && (await hashOf(there).catch(() => null)) === own)
      return { path: other.path, trackId: other.trackId };
  }
  return null;
}
