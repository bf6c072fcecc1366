/** The sheet itself: virtual rows, headers that sort and resize, choosing by mouse and keyboard, dragging to lists. */
import { useDraggable } from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { memo, useEffect, useRef } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import type { FitReference } from '@early-set/core/arrange/fit';
import { StateMark } from '../../../ui/Marks.tsx';
import { RightClick, type MenuItem } from '../../../ui/Menu.tsx';
import { Cell } from './Cell.tsx';
import { CellEditor, type EditStep } from './CellEditor.tsx';
import { isFigure, isTypable, labelOf, type Column } from './columns.ts';
import { isChosen, type Chosen } from './selection.ts';
import type { Sheet } from './useSheet.ts';

const ROW_HEIGHT = 31,
  HEAD_HEIGHT = 28;

export interface SortState {
  id: string | null;
  descending: boolean;
}

interface Props {
  sheet: Sheet;
  columns: Column[];
  sort: SortState;
  onSort: (id: string) => void;
  onResize: (id: string, width: number) => void;
  chosen: Chosen;
  onChoose: (index: number, how: 'one' | 'toggle' | 'range') => void;
  onOpen: (index: number) => void;
  /** The cell that is being typed over. */
  editing: { index: number; column: string } | null;
  onEdit: (index: number, column: string) => void;
  onEditStep: (step: EditStep) => void;
  onKey: (e: React.KeyboardEvent) => void;
  menu: MenuItem[];
  reference: FitReference | null;
  playingId: number | null;
}

export function SheetTable(props: Props) {
  const { sheet, columns, chosen, menu } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: sheet.total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    scrollPaddingEnd: HEAD_HEIGHT,
  });
  const items = rows.getVirtualItems();
  const first = items[0]?.index ?? 0,
    last = items.at(-1)?.index ?? 0;
  const { look } = sheet;
  useEffect(() => look(first, last), [look, first, last]);
  const { focus } = chosen;
  useEffect(() => {
    if (focus !== null) rows.scrollToIndex(focus, { align: 'auto' });
  }, [focus, rows]);
  const width = columns.reduce((sum, c) => sum + c.width, 30);
  const template = `30px ${columns.map((c) => (c.id === 'title' ? `minmax(${c.width}px, 1fr)` : `${c.width}px`)).join(' ')}`;
  const focused = focus === null ? undefined : sheet.row(focus);

  return (
    <RightClick items={menu}>
      <div
        id="sheet"
        ref={scroller}
        tabIndex={0}
        role="grid"
        aria-label="Tracks"
        aria-multiselectable="true"
        aria-rowcount={sheet.total}
        aria-colcount={columns.length + 1}
        {...(focused ? { 'aria-activedescendant': `row-${focused.id}` } : {})}
        onKeyDown={props.onKey}
        className="h-full overflow-auto bg-sheet outline-1! outline-tide-deep! outline-offset-[-1px]"
      >
        <div style={{ minWidth: width }}>
          <Header {...props} template={template} />
          <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
            {items.map((item) => {
              const row = sheet.row(item.index);
              return row ? (
                <Row
                  key={item.key}
                  row={row}
                  index={item.index}
                  top={item.start}
                  template={template}
                  columns={columns}
                  chosen={isChosen(chosen, row.id)}
                  focused={focus === item.index}
                  reference={props.reference}
                  playing={props.playingId === row.id}
                  onChoose={props.onChoose}
                  onOpen={props.onOpen}
                  onEdit={props.onEdit}
                  onEditStep={props.onEditStep}
                  editColumn={props.editing?.index === item.index ? props.editing.column : null}
                />
              ) : (
                <div
                  key={item.key}
                  data-blank="true"
                  aria-hidden="true"
                  className="absolute inset-x-0 border-b border-hair"
                  style={{ top: item.start, height: ROW_HEIGHT }}
                />
              );
            })}
          </div>
        </div>
      </div>
    </RightClick>
  );
}

function Header({ columns, sort, onSort, onResize, template }: Props & { template: string }) {
  return (
    <div
      role="row"
      className="sticky top-0 z-10 grid h-[28px] items-stretch border-b border-line bg-paper text-[12.5px] font-semibold text-dim"
      style={{ gridTemplateColumns: template }}
    >
      <span role="columnheader">
        <span className="sr-only">State</span>
      </span>
      {columns.map((column) => {
        const active = sort.id === column.id;
        return (
          <div
            key={column.id}
            role="columnheader"
            aria-sort={active ? (sort.descending ? 'descending' : 'ascending') : 'none'}
            className="relative flex min-w-0"
          >
            <button
              type="button"
              onClick={() => onSort(column.id)}
              className={`flex min-w-0 flex-1 items-center gap-1 px-2 hover:text-ink ${isFigure(column.id) ? 'justify-end' : ''} ${active ? 'text-ink' : ''}`}
            >
              <span className="truncate">{labelOf(column.id)}</span>
              {active &&
                (sort.descending ? (
                  <ArrowDown size={12} className="shrink-0" />
                ) : (
                  <ArrowUp size={12} className="shrink-0" />
                ))}
            </button>
            <span
              aria-hidden="true"
              title="Drag to change the width"
              className="absolute inset-y-1 right-[-3px] z-10 w-[6px] cursor-col-resize touch-none hover:bg-tide"
              onPointerDown={(e) => {
                e.preventDefault();
                e.currentTarget.setPointerCapture(e.pointerId);
                e.currentTarget.dataset.from = `${e.clientX},${e.currentTarget.parentElement!.offsetWidth}`;
              }}
              onPointerMove={(e) => {
                const [x, w] = (e.currentTarget.dataset.from ?? '').split(',').map(Number);
                if (x !== undefined && w !== undefined && e.currentTarget.hasPointerCapture(e.pointerId))
                  onResize(column.id, w + e.clientX - x);
              }}
            />
          </div>
        );
      })}
    </div>
  );
}

interface RowProps {
  row: SheetRow;
  index: number;
  top: number;
  template: string;
  columns: Column[];
  chosen: boolean;
  focused: boolean;
  playing: boolean;
  reference: FitReference | null;
  editColumn: string | null;
  onChoose: Props['onChoose'];
  onOpen: Props['onOpen'];
  onEdit: Props['onEdit'];
  onEditStep: Props['onEditStep'];
}

const Row = memo(function Row({
  row,
  index,
  top,
  template,
  columns,
  chosen,
  focused,
  playing,
  reference,
  editColumn,
  onChoose,
  onOpen,
  onEdit,
  onEditStep,
}: RowProps) {
  const drag = useDraggable({ id: `track-${row.id}`, data: { trackId: row.id, index } });
  return (
    <div
      ref={drag.setNodeRef}
      id={`row-${row.id}`}
      role="row"
      aria-rowindex={index + 1}
      aria-selected={chosen}
      data-track={row.id}
      className={`absolute inset-x-0 grid cursor-default items-center border-b border-hair select-none ${chosen ? 'bg-chosen' : 'hover:bg-paper'} ${focused ? 'shadow-[inset_3px_0_0_var(--buoy)]' : ''}`}
      style={{ top, height: ROW_HEIGHT, gridTemplateColumns: template }}
      onPointerDown={(e) => {
        // A press on a row that is chosen may begin a drag of all of them, so it narrows to one only on release.
        const how = e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'toggle' : chosen ? null : 'one';
        if (e.button === 0 && how) onChoose(index, how);
        if (e.button === 2 && !chosen) onChoose(index, 'one');
        (drag.listeners?.onPointerDown as ((event: React.PointerEvent) => void) | undefined)?.(e);
      }}
      onClick={(e) => {
        if (chosen && !e.shiftKey && !e.ctrlKey && !e.metaKey) onChoose(index, 'one');
      }}
      onDoubleClick={() => onOpen(index)}
    >
      <span role="gridcell" className="flex justify-center">
        {playing ? (
          <span
            role="img"
            aria-label="Auditioned"
            className="h-0 w-0 border-y-[5px] border-l-[8px] border-y-transparent border-l-buoy"
          />
        ) : (
          <StateMark row={row} />
        )}
      </span>
      {columns.map((c) =>
        editColumn === c.id ? (
          <span key={c.id} role="gridcell" className="min-w-0 px-0.5">
            <CellEditor key={`${row.id} ${c.id}`} row={row} column={c.id} onStep={onEditStep} />
          </span>
        ) : (
          <span
            key={c.id}
            role="gridcell"
            onDoubleClick={(e) => {
              if (isTypable(c.id)) {
                e.stopPropagation();
                onEdit(index, c.id);
              }
            }}
            className={`min-w-0 truncate px-2 ${isFigure(c.id) ? 'figures text-right' : ''}`}
          >
            <Cell id={c.id} row={row} reference={reference} />
          </span>
        ),
      )}
    </div>
  );
});
