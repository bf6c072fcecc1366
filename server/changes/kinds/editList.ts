import type { Transaction } from 'sequelize';
import { editListKind, rulesLists, type EditList } from '@early-set/core/changes/kinds/editList';
import type { ListState } from '@early-set/core/changes/snapshot';
import type { Database } from '../../db/database.ts';
import { List } from '../../db/models.ts';
import { serverKind } from './kind.ts';

/** What stands in entries, and whether their order or their content is touched at all. */
async function storeEntries(database: Database, listId: string, { entries }: ListState, t: Transaction): Promise<void> {
  const order = JSON.stringify(
    entries.map(({ id, kind, trackId, data }, position) => ({ id, kind, track_id: trackId, data, position })),
  );
  const given = 'jsonb_to_recordset($2::jsonb) AS v(id uuid, kind text, track_id int, data jsonb, position int)';
  await database.run(
    `DELETE FROM list_entries e WHERE list_id = $1 AND NOT EXISTS (SELECT 1 FROM ${given} WHERE v.id = e.id)`,
    [listId, order],
    t,
  );
  await database.run(
    `INSERT INTO list_entries (id, list_id, kind, track_id, data, position) SELECT v.id, $1, v.kind, v.track_id,
      v.data, v.position FROM ${given}
     ON CONFLICT (id) DO UPDATE SET position = excluded.position, data = excluded.data
     WHERE list_entries.position <> excluded.position OR list_entries.data <> excluded.data`,
    [listId, order],
    t,
  );
}

export const editListStored = serverKind<EditList>({
  kind: editListKind.kind,
  tells: 'lists',
  changes: () => [],
  wants({ listId, edit }, wants) {
    wants.lists.add(listId);
    if (edit.op === 'describe' && edit.after.parentId) wants.lists.add(edit.after.parentId);
    if (rulesLists(edit).size > 0) wants.asking = true;
  },
  async store({ database, snapshot, t }, items) {
    for (const listId of new Set(items.map((i) => i.listId))) {
      const state = snapshot.lists.get(listId);
      if (!state) {
        await List.destroy({ where: { id: listId }, transaction: t });
        continue;
      }
      await List.upsert({ id: listId, ...state.info, updatedAt: new Date() }, { transaction: t });
      const touched = items.some(
        ({ listId: id, edit }) => id === listId && (edit.op === 'place' || edit.op === 'describe-entry'),
      );
      if (touched) await storeEntries(database, listId, state, t);
    }
  },
});
