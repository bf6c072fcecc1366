/** What keys do in the sheet. */
import { gridKeys, type GridKeys } from '../../../ui/grid/gridKeys.ts';

export interface SheetActions extends Pick<GridKeys, 'count' | 'focus' | 'choose' | 'all' | 'none' | 'pageRows'> {
  audition: () => void;
  add: () => void;
  hearLater: () => void;
  open: () => void;
  edit: () => void;
  fit: () => void;
  listen: () => void;
}

/** The handler for keys pressed while the sheet has the focus. */
export const sheetKeys = ({ audition, add, hearLater, open, edit, fit, listen, ...grid }: SheetActions) =>
  gridKeys({ ...grid, actions: { Enter: open, ' ': audition, a: add, e: edit, f: fit, l: hearLater, m: listen } });
