/** Taking change sets back, or chosen lines of them; what could not be taken back can be later. */
import type { Applied } from '@early-set/core/api/types';
import { inverse, type ChangeItem } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import { ChangeSet } from '../db/models.ts';
import { Problem } from '../base/problem.ts';
import type { ChangeContext } from './context.ts';
import { applyQueued } from './edits.ts';

/** Lines of "s" that could be taken back: made or about to be, and not on their way back already. */
const OPEN = `SELECT i.seq, i.item FROM change_items i WHERE i.change_set_id = s.id AND i.undone_by IS NULL
  AND (i.state = 'done' OR (i.state = 'waiting' AND NOT EXISTS (SELECT 1 FROM runs r WHERE r.id = s.run_id
    AND r.state = 'running')))`;
const TRIED = `EXISTS (SELECT 1 FROM change_items x WHERE x.restores_set = s.id AND x.restores_seq = i.seq
  AND x.state IN ('waiting', 'conflict', 'failed'))`;
const BEING = `EXISTS (SELECT 1 FROM change_items x WHERE x.restores_set = s.id AND x.restores_seq = i.seq
  AND x.state = 'waiting')`;

/**
 * The change set that Ctrl+Z takes back (or Ctrl+Shift+Z makes again); null when there is none. What has been tried and
 * stood in the way of something is passed over: it can be taken back under Changes.
 */
async function latest(database: Database, redo: boolean): Promise<number | null> {
  const [row] = await database.rows<{ id: number }>(
    redo
      ? `SELECT s.id FROM change_sets s JOIN change_sets o ON o.id = s.undo_of
         WHERE o.undo_of IS NULL AND EXISTS (${OPEN} AND NOT ${TRIED})
           AND NOT EXISTS (SELECT 1 FROM change_sets n WHERE n.id > s.id AND n.undo_of IS NULL) ORDER BY s.id DESC
             LIMIT 1`
      : `SELECT s.id FROM change_sets s WHERE s.undo_of IS NULL AND EXISTS (${OPEN} AND NOT ${TRIED})
        ORDER BY s.id DESC LIMIT 1`,
  );
  return row?.id ?? null;
}

/** Takes back what was changed last, or makes it again. @throws Problem when there is nothing */
export const undoLatest = (context: ChangeContext, redo: boolean): Promise<Applied> =>
  inItsTurn(context, async () => {
    const id = await latest(context.database, redo);
    if (id === null)
      throw new Problem(409, 'nothing-to-do', redo ? 'There is nothing to redo' : 'There is nothing to undo');
    return { id, lines: null };
  });

/** Takes a change set back, or chosen lines of it. @throws Problem when it cannot be. */
export const undoChangeSet = (context: ChangeContext, id: number, lines: number[] | null = null): Promise<Applied> =>
  inItsTurn(context, () => Promise.resolve({ id, lines }));

async function inItsTurn(
  context: ChangeContext,
  which: () => Promise<{ id: number; lines: number[] | null }>,
): Promise<Applied> {
  const { applied, files } = await context.inTurn(async () => {
    const { id, lines } = await which();
    return undo(context, id, lines);
  });
  return { ...applied, ...(await files()) };
}

async function undo(context: ChangeContext, id: number, lines: number[] | null): ReturnType<typeof applyQueued> {
  const { database } = context;
  const set = await ChangeSet.findByPk(id, { include: 'run' });
  if (!set) throw new Problem(404, 'not-found', 'That change is not there');
  if (set.undoneBy !== null) throw new Problem(409, 'already-undone', `"${set.title}" has been undone already`);
  if (set.run?.state === 'running')
    throw new Problem(409, 'still-writing', `"${set.title}" is still being written; cancel that first`);
  const rows = await database.rows<{ seq: number; item: ChangeItem }>(
    `SELECT l.* FROM change_sets s, LATERAL (${OPEN} AND NOT ${BEING}) l WHERE s.id = $1 AND ($2::int[] IS NULL
      OR l.seq = ANY($2::int[])) ORDER BY l.seq DESC`,
    [id, lines],
  );
  if (rows.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing of this is left to undo');
  const base = set.title.replace(/^(Undo|Redo): /, '');
  const some = lines ? `${rows.length === 1 ? 'one line' : `${rows.length} lines`} of ` : '';
  return applyQueued(context, {
    title: `${set.undoOf === null ? 'Undo' : 'Redo'}: ${some}${base}`,
    items: rows.map(({ item }) => inverse(item)),
    restores: rows.map(({ seq }) => ({ changeSetId: id, seq })),
    undoOf: id,
  });
}
