/** Typing over cells of the sheet: which one, and on to the next. */
import { useState } from 'react';
import type { Chosen, How } from '../../../ui/grid/choice.ts';
import type { EditStep } from './CellEditor.tsx';
import { isTypable, type Column } from './columns.ts';
import type { Sheet } from './useSheet.ts';

/** @param elsewhere where the focused track is edited when no column can be typed over */
export function useCellEditing(
  sheet: Sheet,
  columns: readonly Column[],
  chosen: Chosen,
  chooseAt: (index: number, how: How) => void,
  elsewhere: () => void,
) {
  const [editing, setEditing] = useState<{ index: number; column: string } | null>(null);
  const typable = columns.filter((c) => isTypable(c.id)).map((c) => c.id);
  const edit = (index: number, column: string): void => {
    if (sheet.row(index)) {
      setEditing({ index, column });
      chooseAt(index, 'one');
    }
  };
  const editInHand = (): void => {
    const column = typable.includes('title') ? 'title' : typable[0];
    if (chosen.focus !== null && column) edit(chosen.focus, column);
    else elsewhere();
  };
  const editStep = (step: EditStep): void => {
    const at = editing && typable.indexOf(editing.column);
    const next =
      editing &&
      step !== 'end' &&
      (step === 'up' || step === 'down'
        ? { index: editing.index + (step === 'down' ? 1 : -1), column: editing.column }
        : { index: editing.index, column: typable[at! + (step === 'right' ? 1 : -1)] });
    if (next && next.column !== undefined && sheet.row(next.index)) edit(next.index, next.column);
    else {
      setEditing(null);
      document.getElementById('sheet')?.focus();
    }
  };
  return { editing, edit, editInHand, editStep };
}
