/** What can be done to the lists of the tree, by menu, key and command; with the dialogs it opens. */
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { Applied, ListLine } from '@early-set/core/api/types';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { useCommands } from '../../commands/commands.ts';
import { keyOf } from '../../commands/keys.ts';
import { change } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { KIND_WORDS } from '../../data/kindWords.ts';
import { isPutAway, positionBetween, treeLines } from '../../data/listTree.ts';
import { type MenuItem } from '../../ui/Menu.tsx';
import { MirrorDialog, type MirrorAsk } from '../filling/mirror/MirrorDialog.tsx';
import { RuleDialog, type RuleAsk } from '../filling/RuleDialog.tsx';
import { MakeHoursDialog } from '../hours/MakeHoursDialog.tsx';
import { NEW_CLOCK } from '../hours/newClock.ts';
import { saveFrom } from '../../ui/saveFile.ts';
import { PutDialog } from '../put/PutDialog.tsx';
import { PasteDialog } from './paste/PasteDialog.tsx';
import type { Makers } from './TreeHead.tsx';

const NEW_MIRROR: MirrorAsk = { listId: null, name: '', settings: null };
const NEW_RULE: RuleAsk = { listId: null, name: 'New crate', rule: { where: EVERYTHING } };

export interface TreeActions {
  makers: Makers;
  edit: (id: string, wish: Partial<ListLine>) => void;
  itemsFor: (list: ListLine) => MenuItem[];
  /** The list whose name is being typed. */
  renaming: string | null;
  setRenaming: (id: string | null) => void;
  dialogs: ReactNode;
}

export function useTreeActions(lists: ListLine[], chosen: string | null): TreeActions {
  const navigate = useNavigate();
  const [renaming, setRenaming] = useState<string | null>(null);
  const [pasting, setPasting] = useState(false);
  const [ask, setAsk] = useState<RuleAsk | null>(null);
  const [mirror, setMirror] = useState<MirrorAsk | null>(null);
  const [putting, setPutting] = useState<ListLine | null>(null);
  const [hours, setHours] = useState<{ clockId: string | null } | null>(null);
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
  const makers: Makers = {
    make: {
      crate: () => make('crate'),
      playlist: () => make('playlist'),
      hour: () => setHours({ clockId: null }),
      clock: makeClock,
    },
    mirror: () => setMirror(NEW_MIRROR),
    rule: () => setAsk(NEW_RULE),
    paste: () => setPasting(true),
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
    ...(list.kind === 'crate' || list.kind === 'playlist'
      ? [
          { label: 'Move or copy its files…', run: () => setPutting(list), apart: true },
          { label: 'Download with its files', run: () => saveFrom(`/api/lists/${list.id}/files`) },
        ]
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

  const dialogs = (
    <>
      <PutDialog
        selection={putting && { where: { inLists: [putting.id] }, except: [] }}
        whose={putting ? `the ${KIND_WORDS[putting.kind]} ${putting.name}` : ''}
        onClose={() => setPutting(null)}
      />
      <PasteDialog open={pasting} onClose={() => setPasting(false)} />
      <RuleDialog ask={ask} onClose={() => setAsk(null)} />
      <MirrorDialog ask={mirror} onClose={() => setMirror(null)} />
      <MakeHoursDialog
        open={hours !== null}
        clocks={clocks}
        clockId={hours?.clockId ?? null}
        onClose={() => setHours(null)}
      />
    </>
  );
  return { makers, edit, itemsFor, renaming, setRenaming, dialogs };
}
