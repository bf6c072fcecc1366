/** The sheet: the grid over pages of tracks. */
import type { SheetRow } from '@early-set/core/api/types';
import type { FitReference } from '@early-set/core/arrange/fit';
import { findField } from '@early-set/core/fields/table';
import type { Chosen, How } from '../../../ui/grid/choice.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn, SortState } from '../../../ui/grid/GridHead.tsx';
import { Playing, StateMark } from '../../../ui/Marks.tsx';
import type { MenuItem } from '../../../ui/Menu.tsx';
import { Cell } from './Cell.tsx';
import { CellEditor, type EditStep } from './CellEditor.tsx';
import { isFigure, isSortable, isTypable, labelOf, type Column } from './columns.ts';
import { useAlong } from './useAlong.ts';
import { useRows, type Sheet } from './useSheet.ts';

/** What one looks for the most of: the first press sorts from the top down. */
const DESCENDS_FIRST = ['fit', 'energy', 'year', 'rating', 'addedAt'];

interface Props {
  sheet: Sheet;
  /** What it shows, as the server is asked. */
  query: string;
  columns: Column[];
  sort: SortState;
  onSort: (sort: SortState) => void;
  onResize: (id: string, width: number) => void;
  chosen: Chosen;
  onChoose: (index: number, how: How) => void;
  onOpen: (index: number) => void;
  /** The cell that is being typed over. */
  editing: { index: number; column: string } | null;
  onEdit: (index: number, column: string) => void;
  onEditStep: (step: EditStep) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  menu: MenuItem[];
  reference: FitReference | null;
  playingId: number | null;
}

const idOf = (row: SheetRow): number => row.id;
const unitOf = (id: string): Pick<GridColumn, 'unit'> => {
  const unit = findField(id)?.unit;
  return unit ? { unit } : {};
};
const columnOf = ({ id, width }: Column): GridColumn => ({
  id,
  label: labelOf(id),
  ...unitOf(id),
  width,
  figures: isFigure(id),
  sortable: isSortable(id),
  descendsFirst: DESCENDS_FIRST.includes(id),
  ...(id === 'title' ? { grow: 1 } : {}),
});

export function SheetTable({ sheet, query, columns, reference, playingId, onEditStep, ...grid }: Props) {
  return (
    <Grid
      {...grid}
      id="sheet"
      label="Tracks"
      columns={columns.map(columnOf)}
      count={sheet.total}
      row={useRows(sheet)}
      look={sheet.look}
      placeAt={useAlong(query, grid.sort.id, sheet.total)}
      idOf={idOf}
      data={(row) => ({ 'data-track': row.id })}
      lead={(row) => (playingId === row.id ? <Playing /> : <StateMark row={row} />)}
      cell={(row, id) => <Cell id={id} row={row} reference={reference} />}
      canEdit={isTypable}
      editor={(row, column) => <CellEditor key={`${row.id} ${column}`} row={row} column={column} onStep={onEditStep} />}
      drag="elsewhere"
    />
  );
}
