/**
 * Files that get another path: the track's row and the file go together. The row is changed first and kept locked, the
 * file is moved without ever writing over another, then the row is let go. A process killed in between leaves the line
 * waiting; when its turn comes again, a file that has gone already is recognised by its size and time.
 */
import type { MoveFile } from '@early-set/core/changes/items';
import { folderOf } from '@early-set/core/files/paths';
import type { TrackValues } from '@early-set/core/fields/values';
import { join } from 'node:path';
import type { Transaction } from 'sequelize';
import { FileTrouble } from '../files/filePool.ts';
import { SEARCHED_SELECT, storeValues } from '../library/columns.ts';
import { resolveInRoot } from '../media/roots.ts';
import { Problem } from '../problem.ts';
import type { Settled, WriteContext } from './writeContext.ts';

type Row = TrackValues & { id: number; rootId: number; rootPath: string; size: number; modifiedMs: number };

/** Moves one file; the transaction holds the file's lock. */
export async function moveFile(
  { database, files, step }: WriteContext,
  item: MoveFile,
  t: Transaction,
): Promise<Settled> {
  const conflict = (reason: string): Settled => ({ state: 'conflict', reason });
  const [row] = await database.rows<Row>(
    `SELECT t.id, t.root_id AS "rootId", r.path AS "rootPath", t.file_size AS size, t.file_modified_ms AS "modifiedMs", ${SEARCHED_SELECT}
     FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.id = $1 FOR UPDATE OF t`,
    [item.trackId],
    t,
  );
  if (!row) return conflict('The track is no longer in the library');
  const { id, rootId, rootPath, size, modifiedMs, ...values } = row;
  if (values.path === item.after) return { state: 'done', reason: null };
  if (values.path !== item.before) return conflict('The file has been moved or renamed since');
  const others = await database.rows('SELECT 1 FROM tracks WHERE root_id = $1 AND path = $2', [rootId, item.after], t);
  if (others.length > 0) return conflict('Another track has this place already');
  try {
    const from = await placeIn(rootPath, item.before),
      to = await placeIn(rootPath, item.after);
    await storeValues(database, [{ id, changed: { path: item.after }, all: { ...values, path: item.after } }], t);
    step?.('prepared', item.trackId);
    const { changedMs } = await files.ask({ op: 'move', from, to, size, modifiedMs });
    step?.('written', item.trackId);
    await database.run('UPDATE tracks SET file_changed_ms = $2 WHERE id = $1', [id, changedMs], t);
    return { state: 'done', reason: null };
  } catch (error) {
    if (!(error instanceof FileTrouble || error instanceof Problem)) throw error;
    await storeValues(database, [{ id, changed: { path: item.before }, all: values }], t);
    return { state: 'failed', reason: error.message };
  }
}

/** A path in its folder, with all links on the way to it resolved; the file itself need not be there, and may be a link. */
async function placeIn(rootPath: string, path: string): Promise<string> {
  const folder = folderOf(path),
    name = path.slice(folder.length);
  if (!name || name === '.' || name === '..' || name.includes('\0'))
    throw new Problem(400, 'bad-value', `“${name}” is no name for a file`);
  return join(await resolveInRoot(rootPath, folder || '.'), name);
}
