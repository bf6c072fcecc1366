/** While tracks are dragged, the left column shows where they can be dropped. */
import { useDroppable } from '@dnd-kit/core';
import { useLists } from '../../../data/hooks.ts';
import { filledByHand, pathOf } from '../../../data/listTree.ts';
import { ListName } from '../inspector/AddToList.tsx';

export function DropLists() {
  const { data: lists = [] } = useLists();
  const open = filledByHand(lists);
  return (
    <aside aria-label="Drop on a list" className="h-full overflow-y-auto bg-fog px-3.5 pt-3">
      <h3 className="heading mb-2 text-[16px]">Drop onto a list</h3>
      <ul>
        <Target id="new-playlist" label="A new playlist" />
        <Target id="new-crate" label="A new crate" />
        {open.map((l) => (
          <Target key={l.id} id={`list-${l.id}`} label={l.name} path={pathOf(l, lists)} count={l.tracks} />
        ))}
      </ul>
    </aside>
  );
}

function Target({ id, label, path = '', count }: { id: string; label: string; path?: string; count?: number }) {
  const { setNodeRef, isOver } = useDroppable({ id });
  return (
    <li
      ref={setNodeRef}
      className={`flex items-center gap-2 border-b border-line px-1.5 py-2 font-medium ${isOver ? 'bg-buoy text-[#0b171c]' : ''}`}
    >
      <ListName name={label} path={path} />
      {count !== undefined && <span className="figures text-small">{count}</span>}
    </li>
  );
}
