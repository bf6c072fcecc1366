/** Lines in an order of one's own: each has a handle that is dragged, or moved with the arrow keys. */
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { createContext, useContext, useState, type CSSProperties, type KeyboardEvent, type ReactNode } from 'react';

interface Order {
  ids: readonly string[];
  move: (from: string, to: string) => void;
  tell: (words: string) => void;
}

const Orders = createContext<Order | null>(null);

interface Props {
  ids: readonly string[];
  /** One line goes to the place of another. */
  onMove: (from: string, to: string) => void;
  children: ReactNode;
}

export function Reorder({ ids, onMove, children }: Props) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const [told, tell] = useState('');
  return (
    <Orders.Provider value={{ ids, move: onMove, tell }}>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && over.id !== active.id) onMove(String(active.id), String(over.id));
        }}
      >
        <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
          {children}
        </SortableContext>
      </DndContext>
      <span role="status" className="sr-only">
        {told}
      </span>
    </Orders.Provider>
  );
}

/** Where the keys take a line of a list with so many; null where they mean nothing. */
const TARGETS: Record<string, (at: number, count: number) => number> = {
  ArrowUp: (at) => at - 1,
  ArrowDown: (at) => at + 1,
  Home: () => 0,
  End: (_, count) => count - 1,
};

export interface ReorderLine {
  ref: (node: HTMLElement | null) => void;
  style: CSSProperties;
  isDragging: boolean;
  handle: ReactNode;
}

/** @param name what the handle moves, in words */
export function useReorderLine(id: string, name: string): ReorderLine {
  const order = useContext(Orders)!;
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  const onKeyDown = (event: KeyboardEvent): void => {
    const at = order.ids.indexOf(id);
    const target = TARGETS[event.key]?.(at, order.ids.length);
    if (target === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    const other = order.ids[target];
    if (other === undefined || other === id) return;
    order.move(id, other);
    order.tell(`${name}: ${target + 1} of ${order.ids.length}`);
  };
  return {
    ref: setNodeRef,
    style: { transform: CSS.Translate.toString(transform), transition },
    isDragging,
    handle: (
      <button
        type="button"
        aria-label={`Move ${name}`}
        title="Drag, or move with the arrow keys"
        className="cursor-grab touch-none p-0.5 text-tide-deep hover:text-ink"
        {...listeners}
        onKeyDown={onKeyDown}
      >
        <GripVertical size={13} />
      </button>
    ),
  };
}
