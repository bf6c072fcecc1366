/** A grid of rows that are all here and only read: it sorts them itself, and is as high as they are up to a height. */
import { useMemo, useState, type ReactNode } from 'react';
import { chooseOne, NOTHING, type Chosen } from './choice.ts';
import { Grid, ROW_HEIGHT } from './Grid.tsx';
import type { GridColumn, SortState } from './GridHead.tsx';
import { gridKeys } from './gridKeys.ts';

export interface ReadColumn<Row> extends GridColumn {
  /** What it is sorted by; empty values come last. */
  value: (row: Row) => string | number | null;
  /** What the cell shows; the value when not given. */
  cell?: (row: Row) => ReactNode;
}

interface Props<Row> {
  id: string;
  label: string;
  rows: readonly Row[];
  columns: readonly ReadColumn<Row>[];
  idOf: (row: Row) => string | number;
  /** Pixels; more rows than these hold are scrolled. */
  tallest: number;
  /** Enter, or a double click. */
  onOpen?: (row: Row) => void;
}

const collator = new Intl.Collator('en-GB', { numeric: true, sensitivity: 'base' });
const FRAME = 30;

/** Rows in the order of a column; as they came when none is chosen. */
export function sorted<Row>(
  rows: readonly Row[],
  columns: readonly ReadColumn<Row>[],
  { id, descending }: SortState,
): readonly Row[] {
  const column = columns.find((c) => c.id === id);
  if (!column) return rows;
  const compare = (a: string | number, b: string | number): number =>
    typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));
  return [...rows].sort((x, y) => {
    const a = column.value(x),
      b = column.value(y);
    if (a === null || b === null) return Number(a === null) - Number(b === null);
    return descending ? compare(b, a) : compare(a, b);
  });
}

export function ReadGrid<Row>({ id, label, rows, columns, idOf, tallest, onOpen }: Props<Row>) {
  const [sort, setSort] = useState<SortState>({ id: null, descending: false });
  const [chosen, setChosen] = useState<Chosen<string | number>>(NOTHING);
  const [widths, setWidths] = useState<Record<string, number>>({});
  const shown = useMemo(() => sorted(rows, columns, sort), [rows, columns, sort]);
  const sized = columns.map((c) => ({ ...c, sortable: true, width: widths[c.id] ?? c.width }));
  const choose = (index: number): void => {
    const row = shown[index];
    if (row !== undefined) setChosen(chooseOne(idOf(row), index));
  };
  const open = (index: number | null): void => {
    const row = index === null ? undefined : shown[index];
    if (row !== undefined) onOpen?.(row);
  };
  return (
    <div style={{ height: Math.min(tallest, shown.length * ROW_HEIGHT + FRAME) }}>
      <Grid
        id={id}
        label={label}
        multiple={false}
        columns={sized}
        sort={sort}
        onSort={(next) => {
          setSort(next);
          setChosen(NOTHING);
        }}
        onResize={(column, width) => setWidths((all) => ({ ...all, [column]: width }))}
        count={shown.length}
        row={(i) => shown[i]}
        idOf={idOf}
        cell={(row, column) => {
          const { cell, value } = columns.find((c) => c.id === column)!;
          return cell ? cell(row) : value(row);
        }}
        chosen={chosen}
        onChoose={choose}
        onKey={gridKeys({
          count: shown.length,
          focus: chosen.focus,
          choose,
          none: () => setChosen(NOTHING),
          actions: onOpen ? { Enter: () => open(chosen.focus) } : {},
        })}
        {...(onOpen ? { onOpen: open } : {})}
      />
    </div>
  );
}
