/** Sorting by any field, and showing any column, from the list of actions. */
import { useCommands } from '../../commands/commands.ts';
import type { SortState } from '../../ui/grid/GridHead.tsx';
import { COLUMN_CHOICES, isSortable, type useColumns } from './sheet/columns.ts';

/** @param onSort as a press on a head does: the other way round where it is sorted by that already */
export function useColumnCommands(
  { columns, show, reset }: ReturnType<typeof useColumns>,
  sort: SortState,
  onSort: (sort: SortState) => void,
): void {
  /** What is sorted is what one goes on with. */
  const toSheet = (): void => document.getElementById('sheet')?.focus();
  useCommands([
    ...COLUMN_CHOICES.filter((c) => isSortable(c.id)).map(({ id, label }) => ({
      id: `sort-${id}`,
      label: sort.id === id ? `Sort by ${label}, the other way round` : `Sort by ${label}`,
      group: 'Sort the tracks',
      run: () => {
        onSort({ id, descending: sort.id === id && !sort.descending });
        toSheet();
      },
    })),
    {
      id: 'sort-none',
      label: 'Do not sort',
      group: 'Sort the tracks',
      run: () => onSort({ id: null, descending: false }),
      disabled: sort.id === null,
    },
    ...COLUMN_CHOICES.map(({ id, label }) => {
      const there = columns.some((c) => c.id === id);
      return {
        id: `column-${id}`,
        label: `${there ? 'Hide' : 'Show'} the column ${label}`,
        group: 'Columns of the tracks',
        run: () => show(id, !there),
        disabled: there && columns.length === 1,
      };
    }),
    { id: 'columns-reset', label: 'Reset the columns', group: 'Columns of the tracks', run: reset },
  ]);
}
