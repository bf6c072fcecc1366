/** What is chosen in a list, and moving, removing and auditioning it by key. */
import { useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { toggleAudition } from '../../audition/player.ts';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import type { MenuItem } from '../../ui/Menu.tsx';

export type How = 'one' | 'toggle' | 'range';

export interface ListChoice {
  chosen: ReadonlySet<string>;
  focus: string | null;
  choose: (index: number, how: How) => void;
  /** Entries that are dragged with this one. */
  draggedWith: (entryId: string) => string[];
  onKey: (e: React.KeyboardEvent) => void;
  menu: MenuItem[];
}

/** @param show brings an entry into view */
export function useListChoice(
  list: ListContents,
  entries: readonly ListEntryRow[],
  move: (ids: string[], behind: string | null) => void,
  show: (index: number) => void,
): ListChoice {
  const ordered = list.info.kind === 'playlist';
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [focus, setFocus] = useState<string | null>(null);
  const picked = entries.filter((e) => chosen.has(e.entryId)).map((e) => e.entryId);
  const at = entries.findIndex((e) => e.entryId === focus);
  const none = picked.length === 0;

  const choose = (index: number, how: How): void => {
    const entry = entries[index];
    if (!entry) return;
    setFocus(entry.entryId);
    show(index);
    if (how === 'one' || (how === 'range' && at < 0)) {
      setChosen(new Set([entry.entryId]));
      return;
    }
    const next = new Set(chosen);
    if (how === 'range')
      for (const e of entries.slice(Math.min(at, index), Math.max(at, index) + 1)) next.add(e.entryId);
    else if (!next.delete(entry.entryId)) next.add(entry.entryId);
    setChosen(next);
  };
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
    const left = (e: ListEntryRow): boolean => !chosen.has(e.entryId);
    const next = entries.find((e, i) => i > at && left(e)) ?? entries.find(left);
    void change(post<Applied>(`/lists/${list.id}/entries/remove`, { entryIds: picked }));
    setChosen(new Set(next ? [next.entryId] : []));
    setFocus(next?.entryId ?? null);
  };
  const audition = (): void => {
    const entry = entries[at];
    toggleAudition(entry && entry.id > 0 ? entry : null);
  };
  const onKey = (e: React.KeyboardEvent): void => {
    if (e.target !== e.currentTarget) return;
    const how: How = e.shiftKey ? 'range' : 'one';
    const actions: Record<string, (() => void) | undefined> = {
      ArrowDown: () => (e.altKey && ordered ? step(1) : choose(Math.min(entries.length - 1, at + 1), how)),
      ArrowUp: () => (e.altKey && ordered ? step(-1) : choose(Math.max(0, at - 1), how)),
      Home: () => choose(0, how),
      End: () => choose(entries.length - 1, how),
      Delete: remove,
      Backspace: remove,
      ' ': audition,
      Escape: () => setChosen(new Set()),
      a: e.ctrlKey || e.metaKey ? () => setChosen(new Set(entries.map((x) => x.entryId))) : undefined,
    };
    const run = actions[e.key];
    if (!run) return;
    e.preventDefault();
    run();
  };
  const moving: MenuItem[] = [
    { label: 'Move up', keys: 'Alt ↑', run: () => step(-1), disabled: none, apart: true },
    { label: 'Move down', keys: 'Alt ↓', run: () => step(1), disabled: none },
    { label: 'Move to the top', run: () => move(picked, null), disabled: none },
  ];
  return {
    chosen,
    focus,
    choose,
    draggedWith: (entryId) => (chosen.has(entryId) ? picked : [entryId]),
    onKey,
    menu: [
      { label: 'Audition', keys: 'Space', run: audition, disabled: at < 0 || entries[at]!.id === 0 },
      ...(ordered ? moving : []),
      {
        label: `Take out of the ${list.info.kind}`,
        keys: 'Delete',
        run: remove,
        disabled: none,
        danger: true,
        apart: true,
      },
    ],
  };
}
