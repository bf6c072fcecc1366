/** What has been changed: change sets by time, and what each did. */
import type { ChangeLine, ChangeSetDetails, ChangeSetLine } from '@early-set/core/api/types';
import type { Area } from '@early-set/core/changes/kinds/kind';
import { OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';
import type { Database } from '../db/database.ts';
import { notFound } from '../base/problem.ts';

const SELECT = `SELECT id, title, made_at AS "madeAt", done, conflicts, undo_of AS "undoOf", undone_by AS "undoneBy",
  run_id AS "runId",
  (SELECT count(*) FROM change_items i WHERE i.change_set_id = s.id AND i.state = 'waiting') AS waiting,
  (SELECT count(*) FROM change_items i WHERE i.change_set_id = s.id AND i.state = 'done'
    AND i.area = 'files') AS files FROM change_sets s`;

export interface HistoryWish {
  before: number | null;
  limit: number;
  search: string | null;
  area: Area | null;
}
/** Newest first, `limit` of them before a given id; of a kind, and with a track, list or title of that name. */
export const changeSets = (
  database: Database,
  { before, limit, search, area }: HistoryWish,
): Promise<ChangeSetLine[]> =>
  database.rows<ChangeSetLine>(
    `${SELECT} WHERE ($1::int IS NULL OR s.id < $1)
       AND ($3::text IS NULL OR EXISTS (SELECT 1 FROM change_items i WHERE i.change_set_id = s.id AND i.area = $3))
       AND ($4::text IS NULL OR s.title ILIKE $4 OR EXISTS (SELECT 1 FROM change_items i LEFT
         JOIN tracks t ON t.id = i.track_id LEFT JOIN lists l ON l.id = i.list_id
         WHERE i.change_set_id = s.id AND (t.search_text ILIKE $4 OR l.name ILIKE $4 OR i.searched ILIKE $4)))
     ORDER BY s.id DESC LIMIT $2`,
    [before, limit, area, search && `%${search.replace(/[\\%_]/g, '\\$&')}%`],
  );

/** One change set with its first lines, tracks and lists by name. */
export async function changeSetDetails(database: Database, id: number): Promise<ChangeSetDetails> {
  const [set] = await database.rows<ChangeSetLine & { otherNames: number }>(
    `SELECT c.*, (SELECT count(*)::int FROM change_items i WHERE i.change_set_id = c.id AND i.state = 'failed'
      AND i.reason = $2) AS "otherNames" FROM (${SELECT} WHERE id = $1) c`,
    [id, OTHER_NAMES],
  );
  if (!set) throw notFound('That change');
  return { ...set, lines: await changeLines(database, id, -1, 500) };
}

/** Lines of a change behind one, in order. */
export const changeLines = (database: Database, id: number, after: number, limit: number): Promise<ChangeLine[]> =>
  database.rows<ChangeLine>(
    `SELECT i.seq, i.item, i.state, i.reason, i.undone_by IS NOT NULL AS undone,
      COALESCE(t.title, t.path, l.name, d.name, k.kept->'tracks'->0->>'title',
        i.item->'before'->>'path') AS name FROM change_items i
     LEFT JOIN tracks t ON t.id = i.track_id LEFT JOIN lists l ON l.id = i.list_id LEFT JOIN dates d ON d.id = i.date_id
     LEFT JOIN removed_tracks k ON k.track_id = i.track_id
     WHERE i.change_set_id = $1 AND i.seq > $2 ORDER BY i.seq LIMIT $3`,
    [id, after, limit],
  );
