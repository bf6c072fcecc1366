import { editDateKind, type EditDate } from '@early-set/core/changes/kinds/editDate';
import { PlannedDate } from '../../db/models.ts';
import { storeDate } from '../../library/dateRows.ts';
import { serverKind } from './kind.ts';

export const editDateStored = serverKind<EditDate>({
  kind: editDateKind.kind,
  tells: 'dates',
  wants: ({ dateId }, wants) => void wants.dates.add(dateId),
  async store({ snapshot, t }, items) {
    for (const id of new Set(items.map((i) => i.dateId))) {
      const date = snapshot.dates.get(id);
      if (date) await storeDate(id, date, t);
      else await PlannedDate.destroy({ where: { id }, transaction: t });
    }
  },
});
