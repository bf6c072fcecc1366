/** Where entries of lists are dragged: along one, or from one to another that lies beside it. */
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type CollisionDetection,
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';

/** Told what was dropped onto what, by their ids; whom it does not concern passes it over. */
type Drop = (active: string, over: string) => void;
type Handlers = Set<{ current: Drop }>;

/** What is under the pointer; by key, or between rows, what is nearest. */
const underPointer: CollisionDetection = (given) => {
  const hit = pointerWithin(given);
  return hit.length > 0 ? hit : closestCenter(given);
};

const Told = createContext<Handlers | null>(null);

/** One place to drag in; inside another one it is that one. */
export function ListDrops({ children }: { children: ReactNode }) {
  return useContext(Told) ? children : <OwnDrops>{children}</OwnDrops>;
}

function OwnDrops({ children }: { children: ReactNode }) {
  const [handlers] = useState<Handlers>(() => new Set());
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <Told.Provider value={handlers}>
      <DndContext
        sensors={sensors}
        collisionDetection={underPointer}
        onDragEnd={({ active, over }) => {
          if (over) for (const handler of handlers) handler.current(String(active.id), String(over.id));
        }}
      >
        {children}
      </DndContext>
    </Told.Provider>
  );
}

/** Is told of each drop in the place to drag in. */
export function useDrop(drop: Drop): void {
  const handlers = useContext(Told);
  const latest = useRef(drop);
  useEffect(() => {
    latest.current = drop;
  });
  useEffect(() => {
    handlers?.add(latest);
    return () => {
      handlers?.delete(latest);
    };
  }, [handlers]);
}
