/** Crates and playlists: make, rename, move, duplicate, put away and bring back. */
import { DndContext, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { useMemo, useRef, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import type { ListLine } from '@early-set/core/api/types';
import { useFindKey } from '../../commands/commands.ts';
import { LIST_KINDS } from '@early-set/core/changes/snapshot';
import { useListsHolding } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { mayHold, treeLines } from '../../data/listTree.ts';
import { RemovedLists } from './RemovedLists.tsx';
import { HEADS, TreeHead } from './TreeHead.tsx';
import { Line } from './TreeLine.tsx';
import { useTreeActions } from './useTreeActions.tsx';

const NONE_YET: Record<ListLine['kind'], string> = {
  crate: 'No crates yet',
  playlist: 'No playlists yet',
  hour: 'No hours yet',
  clock: 'No format clocks yet',
};
const NOTHING_FOLDED: string[] = [];

const STEPS: Record<string, (at: number, last: number) => number> = {
  ArrowDown: (at, last) => Math.min(last, at + 1),
  ArrowUp: (at) => Math.max(0, at - 1),
  Home: () => 0,
  End: (_, last) => last,
};

/** From the line that has the focus to another one of its tree. */
function moveFocus(e: React.KeyboardEvent<HTMLElement>, step: (typeof STEPS)[string] | undefined): void {
  const lines = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-line]')],
    at = lines.indexOf(e.target as HTMLElement);
  if (!step || at < 0) return;
  e.preventDefault();
  lines[step(at, lines.length - 1)]!.focus();
}

export function ListTree({ lists, chosen }: { lists: ListLine[]; chosen: string | null }) {
  const [find, setFind] = useState('');
  const findBox = useRef<HTMLInputElement>(null);
  useFindKey(findBox, 'Find a crate or playlist');
  const { makers, edit, itemsFor, renaming, setRenaming, dialogs } = useTreeActions(lists, chosen);
  const navigate = useNavigate();
  const { search } = useLocation();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [foldedIds, setFolded] = useRemembered<string[]>('folded-lists', NOTHING_FOLDED);
  const folded = useMemo(() => new Set(foldedIds), [foldedIds]);
  const fold = (id: string, to: boolean): void =>
    setFolded(to ? [...new Set([...foldedIds, id])] : foldedIds.filter((other) => other !== id));
  const { data: holding } = useListsHolding(find);
  const found = useMemo(() => new Map(find.trim() ? holding?.map((h) => [h.id, h.tracks]) : []), [find, holding]);
  const sections = LIST_KINDS.map((kind) => ({
    kind,
    lines: treeLines(lists, kind, find, { folded, found: new Set(found.keys()) }),
  }));

  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragEnd={({ active, over }) => {
        const moving = lists.find((l) => l.id === active.id),
          target = lists.find((l) => l.id === over?.id);
        if (
          moving &&
          target &&
          moving.id !== target.id &&
          moving.parentId !== target.id &&
          mayHold(target, moving, lists)
        )
          edit(moving.id, { parentId: target.id });
      }}
    >
      <aside aria-label="Crates and playlists" className="flex h-full flex-col overflow-y-auto bg-fog px-3.5 pt-3 pb-3">
        <input
          ref={findBox}
          type="search"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          placeholder="Find by name or track"
          aria-label="Find a crate or playlist"
          className="h-[30px] shrink-0 rounded-xs border border-line bg-sheet px-2 placeholder:text-dim"
        />
        {sections.map(({ kind, lines }) => (
          <section key={kind} className="mt-3.5">
            <TreeHead kind={kind} makers={makers} />
            <ul
              {...(lines.length > 0 ? { role: 'tree' } : {})}
              aria-label={HEADS[kind]}
              onKeyDown={(e) => moveFocus(e, STEPS[e.key])}
            >
              {lines.map(({ list, depth, ...line }) => (
                <Line
                  key={list.id}
                  list={list}
                  depth={depth}
                  {...line}
                  gutter={lines.some((l) => l.holds)}
                  found={found.get(list.id)}
                  onFold={(to) => fold(list.id, to)}
                  chosen={list.id === chosen}
                  items={itemsFor(list)}
                  renaming={renaming === list.id}
                  onOpen={() => void navigate(`/arrange/${list.id}${search}`)}
                  onRename={(name) => {
                    setRenaming(null);
                    if (name && name !== list.name) edit(list.id, { name });
                  }}
                  onStartRename={() => setRenaming(list.id)}
                />
              ))}
            </ul>
            {lines.length === 0 && (
              <p className="py-1 text-small text-dim">{find ? 'None with that name or track' : NONE_YET[kind]}</p>
            )}
          </section>
        ))}
        {lists.length > 0 && (
          <Link to="/arrange/all" className="mt-3 text-small font-semibold text-buoy-text hover:underline">
            All lists on one page
          </Link>
        )}
        {lists.length > 0 && (
          <Link to="/arrange/to-find" className="mt-1 text-small font-semibold text-buoy-text hover:underline">
            To find
          </Link>
        )}
        <Link to="/arrange/airplay" className="mt-1 text-small font-semibold text-buoy-text hover:underline">
          Airplay
        </Link>
        <span className="flex-1" />
        <RemovedLists lists={lists} onRestore={(id) => edit(id, { removed: false })} />
        {dialogs}
      </aside>
    </DndContext>
  );
}
