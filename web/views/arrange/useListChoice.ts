/** What is chosen in a list, and moving, removing and auditioning it by key. */
import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import type { BetterFile } from '@early-set/core/api/lists';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import type { KeyOf } from '../../commands/keys.ts';
import { toggleAudition, useFollow } from '../../audition/player.ts';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useBetterFiles } from '../../data/hooks.ts';
import type { Chosen, How } from '../../ui/grid/choice.ts';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import type { MenuItem } from '../../ui/Menu.tsx';
import type { Smoothing } from './useSmoothing.ts';

export interface ListChoice {
  chosen: Chosen<string>;
  choose: (index: number, how: How) => void;
  /** Entries that are dragged with this one. */
  draggedWith: (entryId: string) => string[];
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  /** Plays an entry, or pauses it. */
  audition: (index: number) => void;
  menu: MenuItem[];
}

/** Only where there is one. */
function betterItem(better: readonly BetterFile[], run: () => void): MenuItem[] {
  const [first] = better;
  if (!first) return [];
  const label = better.length === 1 ? `better file (${first.words})` : `better files (${better.length})`;
  return [{ label: `Replace by the ${label}`, run }];
}

export function useListChoice(
  list: ListContents,
  entries: readonly ListEntryRow[],
  move: (ids: string[], behind: string | null) => void,
  smoothing: Pick<Smoothing, 'start' | 'draft'>,
): ListChoice {
  const ordered = list.info.kind === 'playlist';
  const { chosen, choose, chooseId, all, none: chooseNone, picked } = useRowChoice(entries.map((e) => e.entryId));
  const none = picked.length === 0;
  const inHand = chosen.focus === null ? undefined : entries[chosen.focus];

  const step = (by: -1 | 1): void => {
    if (none || !ordered) return;
    const first = entries.findIndex((e) => e.entryId === picked[0]),
      last = entries.findIndex((e) => e.entryId === picked.at(-1));
    const target = by < 0 ? first - 2 : last + 1;
    if ((by < 0 && first === 0) || target >= entries.length) return;
    move(picked, target < 0 ? null : entries[target]!.entryId);
  };
  const remove = (): void => {
    if (none) return;
    const left = (e: ListEntryRow): boolean => !chosen.ids.has(e.entryId);
    const next = entries.find((e, i) => i > (chosen.focus ?? -1) && left(e)) ?? entries.find(left);
    void change(post<Applied>(`/lists/${list.id}/entries/remove`, { entryIds: picked }));
    chooseId(next?.entryId ?? null);
  };
  const isPinned = none ? false : entries.every((e) => !chosen.ids.has(e.entryId) || e.data.pinned === true);
  const pin = (): void => {
    if (none) return;
    void change(post<Applied>(`/lists/${list.id}/entries/pin`, { entryIds: picked, pinned: !isPinned }));
  };
  const latest = useRef(entries);
  useEffect(() => {
    latest.current = entries;
  });
  const name = `list ${list.id}`;
  /** Pauses, notes and the like are passed over. */
  const audition = (index = chosen.focus): void => {
    const entry = index === null ? undefined : entries[index];
    const tracks = entries.filter((e) => e.id > 0);
    toggleAudition(entry && entry.id > 0 ? entry : null, {
      name,
      at: tracks.findIndex((e) => e === entry),
      rowAt: (i) => latest.current.filter((e) => e.id > 0)[i],
    });
  };
  useFollow(name, (at) => {
    const entry = latest.current.filter((e) => e.id > 0)[at];
    if (entry) choose(latest.current.indexOf(entry), 'one');
  });
  const keys: KeyActions<'arrange'> = {
    audition: { run: () => audition(), disabled: !inHand || inHand.id === 0 },
    ...(ordered ? { up: { run: () => step(-1), disabled: none }, down: { run: () => step(1), disabled: none } } : {}),
    ...(ordered ? { pin: { run: pin, disabled: none, label: isPinned ? 'Unpin' : 'Pin to its place' } } : {}),
    remove: { run: remove, disabled: none || list.info.rule !== null, label: `Remove from the ${list.info.kind}` },
  };
  useKeys('arrange', keys);
  const onKey = gridKeys({
    count: entries.length,
    focus: chosen.focus,
    choose,
    all,
    none: chooseNone,
    ...tableActions('arrange', keys),
  });
  const item = (id: KeyOf<'arrange'>): MenuItem[] => (keys[id] ? [menuItem('arrange', id, keys[id])] : []);
  const smoothThese: MenuItem = {
    label: 'Smooth the order of these',
    run: () => smoothing.start(picked),
    disabled: picked.length < 2,
  };
  const navigate = useNavigate();
  const splitHere: MenuItem = {
    label: 'Split the list before this',
    run: () => {
      if (!inHand) return;
      const asked = post<Applied & { listId: string }>(`/lists/${list.id}/split`, { entryId: inHand.entryId });
      void change(asked).then((made) => made && void navigate(`/arrange/${made.listId}`));
    },
    disabled: !inHand || chosen.focus === 0,
  };
  const toReserve: MenuItem = {
    label: 'Move to the reserve',
    run: () => void change(post<Applied>(`/lists/${list.id}/entries/reserve`, { entryIds: picked })),
    disabled: none,
  };
  const { data: better } = useBetterFiles(list.id, picked);
  const takeBetter = betterItem(
    (better ?? []).filter((b) => chosen.ids.has(b.entryId)),
    () => void change(post<Applied>(`/lists/${list.id}/entries/better`, { entryIds: picked })),
  );
  const toTop: MenuItem = { label: 'Move to the top', run: () => move(picked, null), disabled: none };
  return {
    chosen,
    choose,
    draggedWith: (entryId) => (chosen.ids.has(entryId) ? picked : [entryId]),
    onKey,
    audition,
    menu: [
      ...item('audition'),
      ...item('up').map((i) => ({ ...i, apart: true })),
      ...item('down'),
      ...(ordered ? [toTop] : []),
      ...item('pin').map((i) => ({ ...i, apart: true })),
      ...(ordered ? [smoothThese, splitHere] : []),
      ...(ordered && list.info.reserveId ? [toReserve] : []),
      ...takeBetter,
      ...item('remove').map((i) => ({ ...i, danger: true, apart: true })),
    ],
  };
}
