/**
 * The one grid of the application: rows that are drawn only where they are seen, heads that sort and resize, choosing
 * by mouse and key, typing over cells, dragging, a menu. What a row is, and what its cells say, its owner knows.
 */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';
import { RightClick, type MenuItem } from '../Menu.tsx';
import { isChosen, type Chosen, type How } from './choice.ts';
import { GridHead, widthsOf, type HeadProps } from './GridHead.tsx';
import { ROW_HEIGHT } from './gridKeys.ts';
import { ScrollPlace } from './ScrollPlace.tsx';
import { DraggableRow, DroppableRow, GridRow, SortableRow, type Handle, type RowProps } from './GridRow.tsx';

export { ROW_HEIGHT };
const HEAD_HEIGHT = 28;
type Id = number | string;

export interface GridProps<Row, RowId extends Id> extends HeadProps {
  /** Its element's id, by which it is given the focus. */
  id: string;
  label: string;
  count: number;
  /** undefined while it is on its way. */
  row: (index: number) => Row | undefined;
  idOf: (row: Row) => RowId;
  /** Attributes that tests and styles find rows by. */
  data?: (row: Row) => Record<`data-${string}`, string | number>;
  /** A narrow first cell. */
  lead?: (row: Row, handle: Handle | null, index: number) => ReactNode;
  cell: (row: Row, column: string, index: number) => ReactNode;
  /** Classes of a row that is not chosen. */
  tone?: (row: Row) => string;
  chosen: Chosen<RowId>;
  /** Several rows may be chosen. */
  multiple?: boolean;
  onChoose: (index: number, how: How) => void;
  onOpen?: (index: number) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  menu?: MenuItem[];
  editing?: { index: number; column: string } | null;
  editor?: (row: Row, column: string) => ReactNode;
  /** Which cells can be typed over, and what asks for it. */
  canEdit?: (column: string) => boolean;
  onEdit?: (index: number, column: string) => void;
  /** Told which rows are in sight. */
  look?: (first: number, last: number) => void;
  /** What stands at a row, in a word, for who scrolls far. */
  placeAt?: (index: number) => string;
  /** Rows are dragged elsewhere, or along the list by a handle; or other things are dropped onto them. */
  drag?: 'elsewhere' | 'along' | 'onto';
  /** Pixels of a row. */
  rowHeight?: number;
  /** What stands between a row and the next, and how high that is. */
  between?: { height: number; content: (index: number) => ReactNode };
}

const NO_DATA = (): Record<string, never> => ({});
const NO_TONE = (): string => '';

export function Grid<Row, RowId extends Id>(props: GridProps<Row, RowId>) {
  const {
    id,
    label,
    columns,
    count,
    row: rowAt,
    idOf,
    chosen,
    look,
    between,
    menu,
    multiple = true,
    rowHeight = ROW_HEIGHT,
  } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const heightOf = (i: number): number => rowHeight + (between && i < count - 1 ? between.height : 0);
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: heightOf,
    overscan: 6,
    scrollPaddingEnd: HEAD_HEIGHT,
  });
  const items = rows.getVirtualItems();
  const first = rows.range?.startIndex ?? 0,
    last = rows.range?.endIndex ?? 0;
  useEffect(() => look?.(first, last), [look, first, last]);
  const { focus } = chosen;
  useEffect(() => {
    if (focus !== null) rows.scrollToIndex(focus, { align: 'auto' });
  }, [focus, rows]);
  const { template, least } = widthsOf(columns, props.lead !== undefined);
  const focused = focus === null ? undefined : rowAt(focus);
  const grid = (
    <div
      id={id}
      ref={scroller}
      tabIndex={0}
      role="grid"
      aria-label={label}
      aria-multiselectable={multiple}
      aria-rowcount={count + 1}
      aria-colcount={columns.length + (props.lead ? 1 : 0)}
      {...(focused ? { 'aria-activedescendant': `${id}-${idOf(focused)}` } : {})}
      onKeyDown={props.onKey}
      className="h-full overflow-auto bg-sheet focus-visible:outline-1! focus-visible:outline-offset-[-1px]! focus-visible:outline-tide-deep!"
    >
      <div style={{ minWidth: least }}>
        <GridHead {...props} template={template} lead={props.lead !== undefined} />
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {items.map(({ index, start, key }) => {
            const row = rowAt(index);
            return row === undefined ? (
              <div
                key={key}
                data-blank="true"
                aria-hidden="true"
                className="absolute inset-x-0 border-b border-hair"
                style={{ top: start, height: rowHeight }}
              />
            ) : (
              // Only what is dragged along has to stay itself; else a row that another takes the place of is drawn
              // over.
              <div
                key={props.drag === 'along' ? idOf(row) : key}
                role="presentation"
                className="absolute inset-x-0"
                style={{ top: start }}
              >
                <OneRow {...props} row={row} index={index} template={template} />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
  const whole = menu ? <RightClick items={menu}>{grid}</RightClick> : grid;
  if (!props.placeAt) return whole;
  return (
    <div className="relative h-full">
      {whole}
      <ScrollPlace
        index={Math.min(count - 1, Math.max(0, Math.round((rows.scrollOffset ?? 0) / rowHeight)))}
        count={count}
        screen={Math.ceil((rows.scrollRect?.height ?? 0) / rowHeight)}
        moving={rows.isScrolling}
        placeAt={props.placeAt}
      />
    </div>
  );
}

function OneRow<Row, RowId extends Id>(
  props: Omit<GridProps<Row, RowId>, 'row'> & { row: Row; index: number; template: string },
) {
  const { id, row, index, template, columns, idOf, chosen, data = NO_DATA, tone = NO_TONE, lead, cell } = props;
  const { editing, editor, canEdit, onChoose, onOpen, onEdit, drag, between, count } = props;
  const own = idOf(row);
  const under = between && index < count - 1 ? between.content(index) : undefined;
  const shared: RowProps = {
    under,
    id: `${id}-${own}`,
    index,
    height: props.rowHeight ?? ROW_HEIGHT,
    template,
    columns,
    data: data(row),
    tone: tone(row),
    chosen: isChosen(chosen, own),
    focused: chosen.focus === index,
    lead: lead && ((handle) => lead(row, handle, index)),
    cell: (column) => cell(row, column, index),
    editor:
      editing?.index === index && editor ? { column: editing.column, content: editor(row, editing.column) } : null,
    onChoose: (how) => onChoose(index, how),
    onOpen: onOpen && (() => onOpen(index)),
    onEdit:
      onEdit &&
      ((column) => {
        if (canEdit?.(column)) onEdit(index, column);
        else onOpen?.(index);
      }),
  };
  if (drag === 'elsewhere')
    return <DraggableRow {...shared} dragged={{ id: `row-${own}`, data: { rowId: own, index } }} />;
  if (drag === 'onto') return <DroppableRow {...shared} dropId={`row-${own}`} />;
  if (drag === 'along') return <SortableRow {...shared} sortId={String(own)} />;
  return (
    <>
      <GridRow {...shared} />
      {under}
    </>
  );
}
