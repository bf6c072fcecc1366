/** One row of a grid, that may be dragged elsewhere or along its own list. */
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { ButtonHTMLAttributes, CSSProperties, ReactNode, Ref } from 'react';
import type { How } from './choice.ts';
import type { GridColumn } from './GridHead.tsx';
import { WholeTexts } from './WholeTexts.tsx';

/** What a button needs to be the handle by which a row is dragged along its list. */
export type Handle = ButtonHTMLAttributes<HTMLButtonElement> & { ref: Ref<HTMLButtonElement> };

export interface RowProps {
  id: string;
  index: number;
  /** Pixels. */
  height: number;
  template: string;
  columns: readonly GridColumn[];
  /** What tests and styles find it by. */
  data: Record<`data-${string}`, string | number>;
  tone: string;
  chosen: boolean;
  focused: boolean;
  /** The narrow first cell. */
  lead: ((handle: Handle | null) => ReactNode) | undefined;
  cell: (column: string) => ReactNode;
  /** The column that is being typed over, and what with. */
  editor: { column: string; content: ReactNode } | null;
  onChoose: (how: How) => void;
  onOpen?: (() => void) | undefined;
  onEdit?: ((column: string) => void) | undefined;
  /** Told of a press before it may become a drag. */
  onPress?: ((e: React.PointerEvent) => void) | undefined;
  nodeRef?: (node: HTMLElement | null) => void;
  style?: CSSProperties;
  handle?: Handle | null;
  /** What stands between this row and the next. */
  under?: ReactNode;
}

const CELL = 'min-w-0 truncate px-2';
/** Over what scrolls beneath it, in the colour of its row. */
const PINNED = 'sticky left-0 z-1 bg-inherit';
const FOCUSED = 'in-hand';

const howOf = (e: React.MouseEvent): How => (e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'toggle' : 'one');

/** What a row or tile needs to be chosen by the mouse; `onPress` hears of a press before it may become a drag. */
export const chooseProps = (
  chosen: boolean,
  onChoose: (how: How) => void,
  onPress?: ((e: React.PointerEvent) => void) | undefined,
) => ({
  onPointerDown: (e: React.PointerEvent) => {
    // A press on a row that is chosen may begin a drag of all of them, so it narrows to one only on release.
    const how = howOf(e);
    if (e.button === 0 && !(chosen && how === 'one')) onChoose(how);
    if (e.button === 2 && !chosen) onChoose('one');
    onPress?.(e);
  },
  onClick: (e: React.MouseEvent) => {
    if (howOf(e) === 'one') onChoose('one');
  },
});

const ROW = 'grid cursor-default items-center border-hair select-none';

export function GridRow(props: RowProps) {
  const { id, index, height, template, columns, data, tone, chosen, focused, lead, cell, editor } = props;
  const { onChoose, onOpen, onEdit, onPress, nodeRef, style, handle = null, under } = props;
  const ground = chosen ? 'bg-chosen' : tone || `hover:bg-paper ${columns[0]?.pinned ? 'bg-sheet' : ''}`;
  return (
    <div
      ref={nodeRef}
      id={id}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={chosen}
      {...data}
      className={`${ROW} ${under ? '' : 'border-b'} ${ground} ${focused ? FOCUSED : ''}`}
      style={{ height, gridTemplateColumns: template, ...style }}
      {...chooseProps(chosen, onChoose, onPress)}
      onDoubleClick={onOpen}
    >
      {lead && (
        <span role="gridcell" className="flex h-full items-center justify-center">
          {lead(handle)}
        </span>
      )}
      {focused && !editor && <WholeTexts rowId={id} />}
      {columns.map((c) =>
        editor?.column === c.id ? (
          <span key={c.id} role="gridcell" className="min-w-0 px-0.5">
            {editor.content}
          </span>
        ) : (
          <span
            key={c.id}
            role="gridcell"
            onDoubleClick={(e) => {
              if (!onEdit) return;
              e.stopPropagation();
              onEdit(c.id);
            }}
            className={`${CELL} ${c.figures ? 'figures text-right' : ''} ${c.pinned ? PINNED : ''} ${c.className ?? ''}`}
          >
            {cell(c.id)}
          </span>
        ),
      )}
    </div>
  );
}

/** A row that is dragged to somewhere else. */
export function DraggableRow({ dragged, ...props }: RowProps & { dragged: { id: string; data: object } }) {
  const { setNodeRef, listeners } = useDraggable(dragged);
  return (
    <GridRow
      {...props}
      nodeRef={setNodeRef}
      onPress={listeners?.onPointerDown as ((event: React.PointerEvent) => void) | undefined}
    />
  );
}

/** A row that other things are dropped onto. */
export function DroppableRow({ dropId, ...props }: RowProps & { dropId: string }) {
  const { setNodeRef, isOver } = useDroppable({ id: dropId });
  return <GridRow {...props} nodeRef={setNodeRef} {...(isOver ? { chosen: false, tone: 'bg-tide/50' } : {})} />;
}

/** A row that is dragged along its list, with what stands between it and the next. */
export function SortableRow({ sortId, ...props }: RowProps & { sortId: string }) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: sortId,
  });
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={isDragging ? 'relative z-10 opacity-80' : ''}
    >
      <GridRow {...props} handle={{ ref: setActivatorNodeRef, ...attributes, ...listeners }} />
      {props.under}
    </div>
  );
}
