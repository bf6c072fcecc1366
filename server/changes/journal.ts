/** The journal of change sets: their lines, how each ended, and which were taken back by which. */
import type { Transaction } from 'sequelize';
import { kindOf, touchesOf, type ChangeItem, type Line } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import { ChangeSet } from '../db/models.ts';
import type { Outcome, Restored } from './context.ts';
import { cut } from '@early-set/core/fields/cut';

/** Writes down the lines of a change set, in their order; `first` is the number of the first. */
export async function storeLines(
  database: Database,
  changeSetId: number,
  lines: readonly (Line & { restores: Restored | null })[],
  t: Transaction,
  first = 0,
): Promise<void> {
  for (let from = 0; from < lines.length; from += 2000) {
    const batch = lines.slice(from, from + 2000).map(({ item, state, reason, restores }, i) => {
      const touches = touchesOf(item);
      return {
        seq: first + from + i,
        item,
        state,
        reason,
        area: kindOf(item).area,
        track_id: touches.tracks?.[0] ?? null,
        list_id: touches.lists?.[0] ?? null,
        date_id: touches.dates?.[0] ?? null,
        searched: cut(kindOf(item).searched(item), 2000),
        restores_set: restores?.changeSetId ?? null,
        restores_seq: restores?.seq ?? null,
      };
    });
    await database.run(
      `INSERT INTO change_items (change_set_id, seq, item, state, reason, area, track_id, list_id, date_id, searched,
        restores_set, restores_seq)
       SELECT $1, v.seq, v.item, v.state, v.reason, v.area, v.track_id, v.list_id, v.date_id, v.searched,
         v.restores_set, v.restores_seq
       FROM jsonb_to_recordset($2::jsonb) AS v(seq int, item jsonb, state text, reason text, area text, track_id int,
         list_id uuid, date_id int, searched text, restores_set int, restores_seq int)`,
      [changeSetId, JSON.stringify(batch)],
      t,
    );
  }
}

/** How a line ended. One that was made marks the line it takes back, in the same transaction. */
export async function settleLine(
  database: Database,
  { changeSetId, seq }: Restored,
  { state, reason }: Outcome,
  t: Transaction,
): Promise<void> {
  await database.run(
    'UPDATE change_items SET state = $3, reason = $4 WHERE change_set_id = $1 AND seq = $2',
    [changeSetId, seq, state, reason],
    t,
  );
  if (state === 'done') await markRestored(database, changeSetId, [seq], t);
}

/**
 * Marks the lines that lines of a change set took back, and just those. What such a line had taken back itself stands
 * again, what that one had taken back is gone again, and so on down to where it began.
 * @param seqs null for all lines of the set that were made
 */
export async function markRestored(
  database: Database,
  changeSetId: number,
  seqs: readonly number[] | null,
  t: Transaction,
): Promise<void> {
  const touched = new Set<number>();
  type Mark = { set: number; seq: number; by: number; restoresSet: number | null; restoresSeq: number | null };
  let marks = await database.rows<Mark>(
    `UPDATE change_items m SET undone_by = l.change_set_id FROM change_items l
     WHERE l.change_set_id = $1 AND l.state = 'done' AND ($2::int[] IS NULL OR l.seq = ANY($2::int[]))
       AND m.change_set_id = l.restores_set AND m.seq = l.restores_seq
     RETURNING m.change_set_id AS set, m.seq, l.change_set_id AS by, m.restores_set AS "restoresSet",
       m.restores_seq AS "restoresSeq"`,
    [changeSetId, seqs],
    t,
  );
  for (let gone = false; marks.length > 0; gone = !gone) {
    for (const m of marks) touched.add(m.set);
    const next = marks.flatMap((m) =>
      m.restoresSet === null ? [] : [{ set: m.restoresSet, seq: m.restoresSeq, by: gone ? m.set : null }],
    );
    if (next.length === 0) break;
    marks = await database.rows<Mark>(
      `UPDATE change_items m SET undone_by = v.by FROM jsonb_to_recordset($1::jsonb) AS v(set int, seq int, by int)
        WHERE m.change_set_id = v.set AND m.seq = v.seq
       RETURNING m.change_set_id AS set, m.seq, v.by, m.restores_set AS "restoresSet", m.restores_seq AS "restoresSeq"`,
      [JSON.stringify(next)],
      t,
    );
  }
  if (touched.size === 0) return;
  await database.run(
    `UPDATE change_sets s SET undone_by = (SELECT CASE
      WHEN bool_and(i.undone_by IS NOT NULL) THEN max(i.undone_by) END FROM change_items i
      WHERE i.change_set_id = s.id AND i.state = 'done')
     WHERE s.id = ANY($1::int[])`,
    [[...touched]],
    t,
  );
}

/** Brings the counts of a change set up to date. */
export async function countLines(database: Database, changeSetId: number, t?: Transaction): Promise<void> {
  await database.run(
    `UPDATE change_sets SET done = c.done, conflicts = c.conflicts
      FROM (SELECT count(*) FILTER (WHERE state = 'done') AS done, count(*) FILTER (WHERE state IN ('conflict',
      'failed')) AS conflicts
     FROM change_items WHERE change_set_id = $1) c WHERE id = $1`,
    [changeSetId],
    t,
  );
}

/** The number of the line that comes next in a change set. */
export async function nextLine(database: Database, changeSetId: number, t: Transaction): Promise<number> {
  const [row] = await database.rows<{ next: number }>(
    'SELECT COALESCE(max(seq) + 1, 0) AS next FROM change_items WHERE change_set_id = $1',
    [changeSetId],
    t,
  );
  return row!.next;
}

/**
 * Journals what has been made already, in the same transaction, so that it can be undone.
 * @param changeSetId an own earlier set, which grows; null for a new one
 */
export async function journalMade(
  database: Database,
  changeSetId: number | null,
  title: string,
  items: readonly ChangeItem[],
  t: Transaction,
): Promise<number> {
  const id = changeSetId ?? (await ChangeSet.create({ title: cut(title, 300) }, { transaction: t })).id;
  const first = await nextLine(database, id, t);
  const lines = items.map((item, i) => ({ item, of: i, state: 'done' as const, reason: null, restores: null }));
  await storeLines(database, id, lines, t, first);
  await countLines(database, id, t);
  return id;
}
