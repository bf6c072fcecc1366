/** What has been changed: change sets by time, and what each did. */
import type { ChangeLine, ChangeSetDetails, ChangeSetLine } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import { notFound } from '../problem.ts';

const SELECT = 'SELECT id, title, made_at AS "madeAt", done, conflicts, undo_of AS "undoOf", undone_by AS "undoneBy" FROM change_sets';

/** Newest first, `limit` of them before a given id. */
export const changeSets = (database: Database, before: number | null, limit: number): Promise<ChangeSetLine[]> =>
  database.rows<ChangeSetLine>(`${SELECT} WHERE $1::int IS NULL OR id < $1 ORDER BY id DESC LIMIT $2`, [before, limit]);

/** One change set with its first lines, tracks and lists by name. */
export async function changeSetDetails(database: Database, id: number): Promise<ChangeSetDetails> {
  const [set] = await database.rows<ChangeSetLine>(`${SELECT} WHERE id = $1`, [id]);
  if (!set) throw notFound('That change');
  const lines = await database.rows<ChangeLine>(
    `SELECT i.seq, i.item, i.state, i.reason, COALESCE(t.title, t.path, l.name) AS name FROM change_items i
     LEFT JOIN tracks t ON t.id = (i.item->>'trackId')::int LEFT JOIN lists l ON l.id = (i.item->>'listId')::uuid
     WHERE i.change_set_id = $1 ORDER BY i.seq LIMIT 500`, [id]);
  return { ...set, lines };
}
