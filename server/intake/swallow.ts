/**
 * A folder that lies above others which are taken in already takes them into itself: tracks, lists, history, undo and
 * what was left out follow; no file is read again for it.
 */
import { relative } from 'node:path';
import type { Transaction } from 'sequelize';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { mirror, namePlaces } from '../library/trackFiles.ts';

interface Moved {
  from: number;
  to: Pick<Root, 'id' | 'label'>;
  /** What stands before every path now, with a slash. */
  prefix: string;
}
type Json = null | boolean | number | string | Json[] | { [name: string]: Json };

/** Kept rows and changes with their places as they are now, whichever way they name them. */
export function movedIn(value: Json, moved: Moved): Json {
  if (Array.isArray(value)) return value.map((v) => movedIn(v, moved));
  if (typeof value !== 'object' || value === null) return value;
  const out: { [name: string]: Json } = {};
  for (const [name, inside] of Object.entries(value)) out[name] = movedIn(inside, moved);
  for (const name of ['rootId', 'root_id']) {
    if (out[name] !== moved.from) continue;
    out[name] = moved.to.id;
    if (typeof out.path === 'string') out.path = moved.prefix + out.path;
    if (typeof out.folder === 'string') out.folder = (moved.prefix + out.folder).replace(/\/$/, '');
    if (typeof out.root === 'string') out.root = moved.to.label;
  }
  return out;
}

const BATCH = 2000;

/** @throws Problem while files are being worked on */
export async function swallow(database: Database, into: Root, roots: readonly Root[], t: Transaction): Promise<void> {
  if (roots.length === 0) return;
  const [begun] = await database.rows("SELECT 1 FROM file_journal WHERE state = 'begun' LIMIT 1", [], t);
  const scanning = await Root.findOne({
    where: { id: roots.map((r) => r.id) },
    include: { association: 'runs', where: { kind: 'intake', state: 'running' } },
    transaction: t,
  });
  if (begun || scanning)
    throw new Problem(409, 'files-in-hand', 'Files of these folders are being read or written; try again afterwards');
  for (const root of roots) {
    const moved = { from: root.id, to: into, prefix: `${relative(into.path, root.path)}/` };
    for (const table of ['track_files', 'not_taken', 'file_ledger'])
      await database.run(
        `UPDATE ${table} SET root_id = $2, path = $3 || path WHERE root_id = $1`,
        [root.id, into.id, moved.prefix],
        t,
      );
    await database.run('UPDATE runs SET root_id = $2 WHERE root_id = $1', [root.id, into.id], t);
    await movePlaces(database, moved, t);
    const tracks = await database.rows<{ id: number }>('SELECT id FROM tracks WHERE root_id = $1', [root.id], t);
    const ids = tracks.map((r) => r.id);
    for (let from = 0; from < ids.length; from += BATCH) {
      await mirror(database, ids.slice(from, from + BATCH), t);
      await namePlaces(database, ids.slice(from, from + BATCH), t);
    }
    await root.destroy({ transaction: t });
  }
}

/** Places in changes, so that they can be undone, and in tracks that were removed. */
async function movePlaces(database: Database, moved: Moved, t: Transaction): Promise<void> {
  const changes = await database.rows<{ set: number; seq: number; item: Json }>(
    `SELECT change_set_id AS set, seq, item FROM change_items
      WHERE item::text ~ $1`,
    [`"rootId": ${moved.from}[,}]`],
    t,
  );
  for (let from = 0; from < changes.length; from += BATCH)
    await database.run(
      `UPDATE change_items i SET item = v.item FROM jsonb_to_recordset($1::jsonb) AS v(set int, seq int, item jsonb)
        WHERE i.change_set_id = v.set AND i.seq = v.seq`,
      [JSON.stringify(changes.slice(from, from + BATCH).map((c) => ({ ...c, item: movedIn(c.item, moved) })))],
      t,
    );
  const removed = await database.rows<{ id: number; kept: Json }>(
    `SELECT track_id AS id, kept FROM removed_tracks
      WHERE kept::text ~ $1`,
    [`"root_id": ${moved.from}[,}]`],
    t,
  );
  for (let from = 0; from < removed.length; from += BATCH)
    await database.run(
      `UPDATE removed_tracks r SET kept = v.kept FROM jsonb_to_recordset($1::jsonb) AS v(id int, kept jsonb)
        WHERE r.track_id = v.id`,
      [JSON.stringify(removed.slice(from, from + BATCH).map((r) => ({ ...r, kept: movedIn(r.kept, moved) })))],
      t,
    );
}
