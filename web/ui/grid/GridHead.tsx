/**
 * The heads of a grid's columns: they sort, and are dragged wider; TanStack Table keeps what is sorted and how wide.
 */
import {
  columnResizingFeature,
  columnSizingFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type Header,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useMemo } from 'react';

export interface GridColumn {
  id: string;
  label: string;
  /** Of its figures, said behind the label. */
  unit?: string;
  /** Pixels; with `grow` the least of them. */
  width: number;
  /** Its share of what is left of the width. */
  grow?: number;
  /** Figures stand right-aligned. */
  figures?: boolean;
  sortable?: boolean;
  /** Stays in sight at the left when the rest is scrolled; the first column only. */
  pinned?: boolean;
  /** The first press sorts from the top down. */
  descendsFirst?: boolean;
  className?: string;
}
export interface SortState {
  id: string | null;
  descending: boolean;
}
export interface HeadProps {
  columns: readonly GridColumn[];
  sort?: SortState | undefined;
  onSort?: ((sort: SortState) => void) | undefined;
  /** Without it, widths are fixed. */
  onResize?: ((id: string, width: number) => void) | undefined;
}

const NARROWEST = 40,
  WIDEST = 700;
export const LEAD_WIDTH = 30;
const FEATURES = tableFeatures({ columnSizingFeature, columnResizingFeature, rowSortingFeature });
type Features = typeof FEATURES;
type Def = ColumnDef<Features, object>;
const NO_ROWS: object[] = [];

/** The widths of a grid's columns as CSS has them, and the least that they need together, in pixels. */
export function widthsOf(columns: readonly GridColumn[], lead: boolean): { template: string; least: number } {
  const one = ({ width, grow }: GridColumn): string => (grow ? `minmax(${width}px, ${grow}fr)` : `${width}px`);
  return {
    template: [...(lead ? [`${LEAD_WIDTH}px`] : []), ...columns.map(one)].join(' '),
    least: columns.reduce((sum, c) => sum + c.width, lead ? LEAD_WIDTH : 0),
  };
}

export function GridHead({
  columns,
  sort,
  onSort,
  onResize,
  template,
  lead,
}: HeadProps & { template: string; lead: boolean }) {
  const defs = useMemo(
    () =>
      columns.map((c): Def => ({
        id: c.id,
        header: c.label,
        accessorFn: () => null,
        size: c.width,
        minSize: NARROWEST,
        maxSize: WIDEST,
        enableSorting: Boolean(onSort && c.sortable),
        enableResizing: onResize !== undefined,
        sortDescFirst: c.descendsFirst ?? false,
      })),
    [columns, onSort, onResize],
  );
  const sorting = sort?.id ? [{ id: sort.id, desc: sort.descending }] : [];
  const columnSizing = Object.fromEntries(columns.map((c) => [c.id, c.width]));
  const table = useTable({
    features: FEATURES,
    columns: defs,
    // Rows are drawn by whoever has them: of 100,000 only a few are here.
    data: NO_ROWS,
    manualSorting: true,
    columnResizeMode: 'onChange',
    state: { sorting, columnSizing },
    onSortingChange(change) {
      const [first] = typeof change === 'function' ? change(sorting) : change;
      onSort?.({ id: first?.id ?? null, descending: first?.desc ?? false });
    },
    onColumnSizingChange(change) {
      const next = typeof change === 'function' ? change(columnSizing) : change;
      for (const [id, width] of Object.entries(next)) if (columnSizing[id] !== width) onResize?.(id, width);
    },
  });
  const heads = table.getHeaderGroups()[0]?.headers ?? [];
  return (
    <div
      role="row"
      className="sticky top-0 z-10 grid h-[28px] items-stretch border-b border-line bg-paper text-[12.5px] font-semibold text-dim"
      style={{ gridTemplateColumns: template }}
    >
      {lead && (
        <span role="columnheader">
          <span className="sr-only">State</span>
        </span>
      )}
      {heads.map((header, i) => (
        <Head key={header.id} header={header} column={columns[i]!} />
      ))}
    </div>
  );
}

const HEAD = 'flex min-w-0 flex-1 items-center gap-1 px-2';
const ARIA = { asc: 'ascending', desc: 'descending' } as const;

function Head({
  header,
  column: { label, unit, figures, pinned },
}: {
  header: Header<Features, object>;
  column: GridColumn;
}) {
  const { column } = header;
  const sorted = column.getIsSorted(),
    Arrow = sorted === 'desc' ? ArrowDown : ArrowUp;
  const name = (
    <span className="truncate" title={unit ? `${label}, ${unit}` : label}>
      {label}
      {unit && <span className="ml-1 font-normal">{unit}</span>}
    </span>
  );
  const side = figures ? 'justify-end' : '';
  return (
    <div
      role="columnheader"
      {...(column.getCanSort() ? { 'aria-sort': sorted ? ARIA[sorted] : ('none' as const) } : {})}
      className={`${pinned ? 'sticky left-0 z-1 bg-paper' : 'relative'} flex min-w-0`}
    >
      {column.getCanSort() ? (
        <button
          type="button"
          onClick={column.getToggleSortingHandler()}
          className={`${HEAD} ${side} hover:text-ink ${sorted ? 'text-ink' : ''}`}
        >
          {name}
          {sorted && <Arrow size={12} className="shrink-0" />}
        </button>
      ) : (
        <span className={`${HEAD} ${side}`}>{name}</span>
      )}
      {column.getCanResize() && (
        <span
          aria-hidden="true"
          title="Drag to change the width"
          className="absolute inset-y-1 right-[-3px] z-10 w-[6px] cursor-col-resize touch-none hover:bg-tide"
          onMouseDown={header.getResizeHandler()}
          onTouchStart={header.getResizeHandler()}
        />
      )}
    </div>
  );
}
