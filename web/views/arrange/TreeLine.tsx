/** One crate or playlist in the tree: opened, renamed in place, dragged. */
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { ChevronDown, ChevronRight, Ellipsis, FolderSymlink, ListFilter } from 'lucide-react';
import { useRef } from 'react';
import type { ListLine } from '@early-set/core/api/types';
import { KIND_WORDS } from '../../data/kindWords.ts';
import { markColour } from '../../ui/colours.ts';
import { Menu, RightClick, type MenuItem } from '../../ui/Menu.tsx';

interface LineProps {
  list: ListLine;
  depth: number;
  /** Lists lie in it, which are shown below unless it is folded. */
  holds: boolean;
  folded: boolean;
  /** Some line has something to fold: all leave room for that. */
  gutter: boolean;
  /** Tracks in it that are looked for. */
  found: number | undefined;
  onFold: (to: boolean) => void;
  chosen: boolean;
  items: MenuItem[];
  renaming: boolean;
  onOpen: () => void;
  onRename: (name: string) => void;
  onStartRename: () => void;
}

export function Line({
  list,
  depth,
  holds,
  folded,
  gutter,
  found,
  onFold,
  chosen,
  items,
  renaming,
  onOpen,
  onRename,
  onStartRename,
}: LineProps) {
  const drag = useDraggable({ id: list.id });
  const drop = useDroppable({ id: list.id });
  const left = useRef(false);
  if (renaming) {
    return (
      <li role="treeitem" aria-level={depth + 1}>
        <input
          autoFocus
          aria-label={`Name of the ${KIND_WORDS[list.kind]}`}
          defaultValue={list.name}
          maxLength={1000}
          onFocus={(e) => {
            left.current = false;
            e.target.select();
          }}
          className="w-full rounded-xs border border-tide-deep bg-sheet px-1.5 py-1"
          onBlur={(e) => {
            if (!left.current) onRename(e.target.value.trim());
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              left.current = true;
              onRename(e.currentTarget.value.trim());
            }
            if (e.key === 'Escape') {
              left.current = true;
              onRename('');
            }
          }}
        />
      </li>
    );
  }
  const Filling = list.mirrorOf ? FolderSymlink : ListFilter;
  const under = drop.isOver && !drag.isDragging ? 'bg-chosen' : '';
  const ground = chosen ? 'bg-inverse text-inverse-ink' : under;
  return (
    <RightClick items={items}>
      <li
        ref={(node) => {
          drag.setNodeRef(node);
          drop.setNodeRef(node);
        }}
        role="treeitem"
        aria-level={depth + 1}
        aria-selected={chosen}
        {...(holds ? { 'aria-expanded': !folded } : {})}
        aria-label={list.name}
        className={`group flex items-center border-b border-line ${ground}`}
      >
        {holds && (
          <button
            type="button"
            tabIndex={-1}
            aria-label={folded ? `Unfold ${list.name}` : `Fold ${list.name}`}
            onClick={() => onFold(!folded)}
            className="w-4 shrink-0 rounded-xs p-0.5 opacity-60 hover:opacity-100"
            style={{ marginLeft: 2 + depth * 14 }}
          >
            {folded ? <ChevronRight size={12} /> : <ChevronDown size={12} />}
          </button>
        )}
        <button
          type="button"
          data-line
          {...drag.listeners}
          aria-current={chosen ? 'page' : undefined}
          onClick={onOpen}
          onDoubleClick={onStartRename}
          onKeyDown={(e) => {
            if (e.key === 'F2') onStartRename();
            if (holds && e.key === 'ArrowLeft') onFold(true);
            if (holds && e.key === 'ArrowRight') onFold(false);
          }}
          className="flex min-w-0 flex-1 items-baseline gap-2 py-1.5 pr-1 text-left font-semibold"
          style={{ paddingLeft: holds ? 2 : (gutter ? 20 : 6) + depth * 14 }}
        >
          {list.colour !== null && (
            <span
              aria-hidden
              className="size-2 shrink-0 self-center rounded-full"
              style={{ background: `var(--${markColour(list.colour)})` }}
            />
          )}
          <span className="line-clamp-2 min-w-0 flex-1 break-words" title={list.name}>
            {list.name}
          </span>
          {list.rule !== null && (
            <Filling
              size={12}
              aria-label={list.mirrorOf ? 'follows a folder' : 'fills itself'}
              className="shrink-0 self-center opacity-70"
            />
          )}
          <span className={`figures text-small font-normal ${chosen ? '' : 'text-dim'}`}>
            {list.kind === 'clock' ? '' : found === undefined ? list.tracks : `${found} of ${list.tracks}`}
          </span>
        </button>
        <Menu items={items} label={`Actions for ${list.name}`}>
          <button type="button" className="rounded-xs p-1 opacity-60 group-hover:opacity-100 focus-visible:opacity-100">
            <Ellipsis size={14} />
          </button>
        </Menu>
      </li>
    </RightClick>
  );
}
