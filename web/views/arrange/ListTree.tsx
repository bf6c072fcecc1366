/** Crates and playlists: make, rename, move, duplicate, put away and bring back. */
import { DndContext, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core';
import { ClipboardPaste, FolderSymlink, ListFilterPlus, Plus } from 'lucide-react';
import { useMemo, useRef, useState, type ReactNode } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import type { Applied, ListLine } from '@early-set/core/api/types';
import { useCommands, useFindKey } from '../../commands/commands.ts';
import { keyOf } from '../../commands/keys.ts';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { LIST_KINDS } from '@early-set/core/changes/snapshot';
import { change, several } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { useListsHolding } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { type MenuItem } from '../../ui/Menu.tsx';
import { isPutAway, mayHold, positionBetween, treeLines } from '../../data/listTree.ts';
import { PasteDialog } from './paste/PasteDialog.tsx';
import { MirrorDialog, type MirrorAsk } from '../filling/mirror/MirrorDialog.tsx';
import { RuleDialog, type RuleAsk } from '../filling/RuleDialog.tsx';
import { KIND_WORDS } from '../../data/kindWords.ts';
import { NEW_CLOCK } from '../hours/newClock.ts';
import { MakeHoursDialog } from '../hours/MakeHoursDialog.tsx';
import { Line } from './TreeLine.tsx';

const HEADS: Record<ListLine['kind'], string> = {
  crate: 'Crates',
  playlist: 'Playlists',
  hour: 'Hours',
  clock: 'Format clocks',
};
const NONE_YET: Record<ListLine['kind'], string> = {
  crate: 'No crates yet',
  playlist: 'No playlists yet',
  hour: 'No hours yet',
  clock: 'No format clocks yet',
};
const NOTHING_FOLDED: string[] = [];
const NEW_MIRROR: MirrorAsk = { listId: null, name: '', settings: null };
const NEW_RULE: RuleAsk = { listId: null, name: 'New crate', rule: { where: EVERYTHING } };

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
  const [renaming, setRenaming] = useState<string | null>(null);
  const [showRemoved, setShowRemoved] = useState(false);
  const [pasting, setPasting] = useState(false);
  const [ask, setAsk] = useState<RuleAsk | null>(null);
  const [mirror, setMirror] = useState<MirrorAsk | null>(null);
  const [hours, setHours] = useState<{ clockId: string | null } | null>(null);
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
  const removed = lists.filter((l) => l.removed);
  const clocks = lists.filter((l) => l.kind === 'clock' && !isPutAway(l, lists));

  const make = (kind: 'crate' | 'playlist', parentId: string | null = null): void => {
    void change(
      post<Applied & { listId: string }>('/lists', {
        kind,
        name: kind === 'crate' ? 'New crate' : 'New playlist',
        parentId,
      }),
    ).then((made) => {
      if (made) {
        void navigate(`/arrange/${made.listId}`);
        setRenaming(made.listId);
      }
    });
  };
  const makeClock = (): void => {
    void change(post<Applied & { listId: string }>('/clocks', NEW_CLOCK)).then((made) => {
      if (made) {
        void navigate(`/arrange/${made.listId}`);
        setRenaming(made.listId);
      }
    });
  };
  const makers: Record<ListLine['kind'], () => void> = {
    crate: () => make('crate'),
    playlist: () => make('playlist'),
    hour: () => setHours({ clockId: null }),
    clock: makeClock,
  };
  const edit = (id: string, wish: Partial<ListLine>): void => {
    void change(patch<Applied>(`/lists/${id}`, wish));
  };
  const step = (list: ListLine, by: -1 | 1): void => {
    const siblings = treeLines(lists, list.kind)
      .map((l) => l.list)
      .filter((l) => l.parentId === list.parentId);
    const at = siblings.findIndex((l) => l.id === list.id);
    const [before, after] = by < 0 ? [siblings[at - 2], siblings[at - 1]] : [siblings[at + 1], siblings[at + 2]];
    if (by < 0 ? after : before) edit(list.id, { position: positionBetween(before?.position, after?.position) });
  };
  const itemsFor = (list: ListLine): MenuItem[] => [
    { label: 'Rename', keys: keyOf('arrange', 'rename').keys[0]!, run: () => setRenaming(list.id) },
    {
      label: 'Duplicate',
      run: () => {
        void change(post<Applied & { listId: string }>(`/lists/${list.id}/duplicate`)).then((made) => {
          if (made) void navigate(`/arrange/${made.listId}`);
        });
      },
    },
    ...(list.kind === 'crate' && list.rule === null
      ? [
          { label: 'New crate inside', run: () => make('crate', list.id) },
          { label: 'New self-filling crate inside', run: () => setAsk({ ...NEW_RULE, parentId: list.id }) },
        ]
      : []),
    ...(chosen && chosen !== list.id
      ? [{ label: 'Open beside', run: () => void navigate(`/arrange/${chosen}?beside=${list.id}`) }]
      : []),
    { label: 'Move up', run: () => step(list, -1), apart: true },
    { label: 'Move down', run: () => step(list, 1) },
    ...(list.parentId ? [{ label: 'Move out to the top', run: () => edit(list.id, { parentId: null }) }] : []),
    ...(list.kind === 'clock' ? [{ label: 'Make hours', run: () => setHours({ clockId: list.id }), apart: true }] : []),
    {
      label: `Remove ${KIND_WORDS[list.kind]}`,
      run: () => edit(list.id, { removed: true }),
      danger: true,
      apart: true,
    },
  ];
  const inHand = lists.find((l) => l.id === chosen);
  useCommands([
    { id: 'new-playlist', label: 'New playlist', group: 'Arrange', run: () => make('playlist') },
    { id: 'paste-list', label: 'Paste a list', group: 'Arrange', run: () => setPasting(true) },
    { id: 'all-lists', label: 'All lists on one page', group: 'Arrange', run: () => void navigate('/arrange/all') },
    { id: 'to-find', label: 'Tracks to find', group: 'Arrange', run: () => void navigate('/arrange/to-find') },
    { id: 'airplay', label: 'Airplay of a month', group: 'Arrange', run: () => void navigate('/arrange/airplay') },
    { id: 'new-mirror', label: 'New folder mirror', group: 'Arrange', run: () => setMirror(NEW_MIRROR) },
    { id: 'new-rule', label: 'New self-filling crate', group: 'Arrange', run: () => setAsk(NEW_RULE) },
    { id: 'make-hours', label: 'Make hours', group: 'Arrange', run: () => setHours({ clockId: null }) },
    { id: 'new-clock', label: 'New format clock', group: 'Arrange', run: makeClock },
    { id: 'new-crate', label: 'New crate', group: 'Arrange', run: () => make('crate') },
    ...(inHand
      ? itemsFor(inHand).map((i) => ({
          id: `list-${i.label}`,
          label: `${i.label}: ${inHand.name}`,
          group: 'Arrange',
          run: i.run,
        }))
      : []),
  ]);

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
            <div className="flex items-center">
              <h3 className="flex-1 text-small font-semibold text-dim">{HEADS[kind]}</h3>
              {kind === 'crate' && (
                <>
                  <HeadButton label="New folder mirror" onClick={() => setMirror(NEW_MIRROR)}>
                    <FolderSymlink size={14} />
                  </HeadButton>
                  <HeadButton label="New self-filling crate" onClick={() => setAsk(NEW_RULE)}>
                    <ListFilterPlus size={14} />
                  </HeadButton>
                </>
              )}
              {kind === 'playlist' && (
                <HeadButton
                  label="Paste a list"
                  title="Paste a list, or take one from a file"
                  onClick={() => setPasting(true)}
                >
                  <ClipboardPaste size={13} />
                </HeadButton>
              )}
              <HeadButton label={kind === 'hour' ? 'Make hours' : `New ${KIND_WORDS[kind]}`} onClick={makers[kind]}>
                <Plus size={14} />
              </HeadButton>
            </div>
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
        {removed.length > 0 && (
          <div className="mt-6 text-small">
            <button
              type="button"
              aria-expanded={showRemoved}
              onClick={() => setShowRemoved(!showRemoved)}
              className="text-left text-dim hover:text-ink"
            >
              Restore {several(removed.length, 'removed list')}…
            </button>
            {showRemoved && (
              <ul className="mt-1">
                {removed.map((l) => (
                  <li key={l.id} className="flex items-center gap-2 border-b border-line py-1">
                    <span className="min-w-0 flex-1 truncate">{l.name}</span>
                    <button
                      type="button"
                      onClick={() => edit(l.id, { removed: false })}
                      className="font-semibold text-buoy-text hover:underline"
                    >
                      Restore
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </div>
        )}
        {lists.some((l) => !l.removed && isPutAway(l, lists)) && showRemoved && (
          <p className="mt-1 text-tiny text-dim">Crates inside come back with theirs.</p>
        )}
        <PasteDialog open={pasting} onClose={() => setPasting(false)} />
        <RuleDialog ask={ask} onClose={() => setAsk(null)} />
        <MirrorDialog ask={mirror} onClose={() => setMirror(null)} />
        <MakeHoursDialog
          open={hours !== null}
          clocks={clocks}
          clockId={hours?.clockId ?? null}
          onClose={() => setHours(null)}
        />
      </aside>
    </DndContext>
  );
}

/** A small button beside the name of a part of the tree. */
function HeadButton({
  label,
  title = label,
  onClick,
  children,
}: {
  label: string;
  title?: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={title}
      onClick={onClick}
      className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
    >
      {children}
    </button>
  );
}
