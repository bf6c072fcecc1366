/** Rows of the sheet dragged onto a crate, a playlist, or into a new one. */
import {
  pointerWithin,
  PointerSensor,
  useSensor,
  useSensors,
  type DndContextProps,
  type DragEndEvent,
} from '@dnd-kit/core';
import { useState } from 'react';
import type { Applied, Selection } from '@early-set/core/api/types';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';

interface Dragged {
  selection: Selection;
  sort: string | null;
  descending: boolean;
}

/** @param draggedWith what goes along with a row, and in which order it is put in */
export function useDropOnLists(draggedWith: (rowId: number) => Dragged): {
  /** The row in hand while it is dragged. */
  dragging: number | null;
  context: DndContextProps;
} {
  const [dragging, setDragging] = useState<number | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const drop = ({ active, over }: DragEndEvent): void => {
    setDragging(null);
    const data = active.data.current as { rowId: number } | undefined;
    if (!over || !data) return;
    const body = draggedWith(data.rowId);
    const target = String(over.id);
    if (target.startsWith('list-')) {
      void change(post<Applied>(`/lists/${target.slice(5)}/entries`, body));
      return;
    }
    const kind = target === 'new-crate' ? 'crate' : 'playlist';
    void change(post<Applied>('/lists', { kind, name: `New ${kind}`, ...body }));
  };
  return {
    dragging,
    context: {
      sensors,
      collisionDetection: pointerWithin,
      onDragStart: ({ active }) => setDragging((active.data.current as { rowId: number }).rowId),
      onDragEnd: drop,
      onDragCancel: () => setDragging(null),
    },
  };
}
