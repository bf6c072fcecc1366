/**
 * Rows as tiles, so many side by side as there is room for: the same choosing, keys, dragging and menu as the grid.
 * Only the lines in sight are drawn.
 */
import { useDraggable } from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';
import { RightClick, type MenuItem } from '../Menu.tsx';
import { useSize } from '../useSize.ts';
import { isChosen, type Chosen, type How } from './choice.ts';
import { chooseProps } from './GridRow.tsx';

export interface WallProps<Row> {
  /** Its element's id, by which it is given the focus. */
  id: string;
  label: string;
  count: number;
  /** undefined while it is on its way. */
  row: (index: number) => Row | undefined;
  idOf: (row: Row) => number;
  data: (row: Row) => Record<`data-${string}`, string | number>;
  /** Pixels that a tile has at the least, its margin included; what is left over is shared by those side by side. */
  width: number;
  /** Pixels that it is higher than wide. */
  below: number;
  tile: (row: Row, width: number) => ReactNode;
  /** What a tile is called by assistive technology. */
  name: (row: Row) => string;
  chosen: Chosen;
  onChoose: (index: number, how: How) => void;
  onOpen: (index: number) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  menu: MenuItem[];
  /** Told which rows are in sight. */
  look?: (first: number, last: number) => void;
  /** Told how many stand side by side, which the arrow keys have to know. */
  onAcross: (across: number) => void;
}

export function Wall<Row>(props: WallProps<Row>) {
  const { id, label, count, row: rowAt, idOf, chosen, look, onAcross, menu } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [inside, size] = useSize<HTMLDivElement>();
  const across = Math.max(1, Math.floor(size.width / props.width));
  const width = Math.max(props.width, Math.floor(size.width / across)),
    height = width + props.below;
  useEffect(() => onAcross(across), [onAcross, across]);
  const lines = useVirtualizer({
    count: Math.ceil(count / across),
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 2,
  });
  useEffect(() => lines.measure(), [lines, height]);
  const items = lines.getVirtualItems();
  const first = (items[0]?.index ?? 0) * across,
    last = Math.min(count, ((items.at(-1)?.index ?? 0) + 1) * across) - 1;
  useEffect(() => look?.(first, Math.max(first, last)), [look, first, last]);
  const { focus } = chosen;
  useEffect(() => {
    if (focus !== null) lines.scrollToIndex(Math.floor(focus / across), { align: 'auto' });
  }, [focus, across, lines]);
  const focused = focus === null ? undefined : rowAt(focus);
  return (
    <RightClick items={menu}>
      <div
        id={id}
        ref={scroller}
        tabIndex={0}
        role="listbox"
        aria-label={label}
        aria-multiselectable="true"
        {...(focused ? { 'aria-activedescendant': `${id}-${idOf(focused)}` } : {})}
        onKeyDown={props.onKey}
        className="h-full overflow-auto bg-sheet px-3 focus-visible:outline-1! focus-visible:outline-offset-[-1px]! focus-visible:outline-tide-deep!"
      >
        <div ref={inside} className="relative" style={{ height: lines.getTotalSize() }}>
          {items.map((line) => (
            <div
              key={line.key}
              role="presentation"
              className="absolute inset-x-0 flex"
              style={{ top: line.start, height }}
            >
              {Array.from({ length: Math.min(across, count - line.index * across) }, (_, i) => {
                const index = line.index * across + i,
                  row = rowAt(index);
                return row === undefined ? (
                  <span key={index} data-blank="true" style={{ width }} />
                ) : (
                  <Tile {...props} width={width} key={index} row={row} index={index} />
                );
              })}
            </div>
          ))}
        </div>
      </div>
    </RightClick>
  );
}

function Tile<Row>({
  row,
  index,
  ...props
}: Omit<WallProps<Row>, 'row'> & {
  row: Row;
  index: number;
}) {
  const own = props.idOf(row),
    chosen = isChosen(props.chosen, own);
  const { setNodeRef, listeners } = useDraggable({ id: `row-${own}`, data: { rowId: own, index } });
  return (
    <div
      ref={setNodeRef}
      id={`${props.id}-${own}`}
      role="option"
      aria-label={props.name(row)}
      aria-selected={chosen}
      aria-setsize={props.count}
      aria-posinset={index + 1}
      {...props.data(row)}
      {...chooseProps(chosen, (how) => props.onChoose(index, how), listeners?.onPointerDown as never)}
      onDoubleClick={() => props.onOpen(index)}
      className={`shrink-0 cursor-default p-2 select-none ${chosen ? 'bg-chosen' : 'hover:bg-paper'} ${props.chosen.focus === index ? 'in-hand' : ''}`}
      style={{ width: props.width, height: props.width + props.below }}
    >
      {props.tile(row, props.width)}
    </div>
  );
}
