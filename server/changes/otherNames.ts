/**
 * Files that have other names (hard links): a tag that does not fit in place needs a new file, which parts the name
 * from the others. That is asked, and what is said yes to is written as a change of its own.
 */
import type { Applied } from '@early-set/core/api/types';
import type { ChangeItem } from '@early-set/core/changes/items';
import { allowed, OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';
import { Problem } from '../base/problem.ts';
import { ChangeSet } from '../db/models.ts';
import type { ChangeContext } from './context.ts';
import { applyInTurn } from './edits.ts';

const WAITS = "change_set_id = $1 AND state = 'failed' AND reason = $2";
const ANSWERED = 'The file has other names (hard links); it was written with a later change, as was allowed';

/** Writes what a change left for this reason, with new files. @throws Problem when it left nothing */
export const writeParted = (context: ChangeContext, id: number): Promise<Applied> =>
  applyInTurn(context, async () => {
    const { database } = context;
    const left = await database.rows<{ item: ChangeItem; set: number | null; seq: number }>(
      `SELECT item, restores_set AS set, restores_seq AS seq FROM change_items WHERE ${WAITS} ORDER BY seq`,
      [id, OTHER_NAMES],
    );
    if (left.length === 0)
      throw new Problem(409, 'nothing-to-do', 'No file of this change is left for its other names');
    const of = await ChangeSet.findByPk(id);
    return {
      title: `New ${left.length === 1 ? 'file' : 'files'} for: ${of!.title}`,
      items: left.map(({ item }) => allowed(item)),
      ...(of!.undoOf === null
        ? {}
        : { undoOf: of!.undoOf, restores: left.map(({ set, seq }) => ({ changeSetId: set!, seq })) }),
      also: (t) => database.run(`UPDATE change_items SET reason = $3 WHERE ${WAITS}`, [id, OTHER_NAMES, ANSWERED], t),
    };
  });
