/** The order of a list as it was last asked to be: moves one after the other build on each other. */
import { useRef, useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { applyEdit } from '@early-set/core/changes/kinds/editList';
import type { ListState } from '@early-set/core/changes/snapshot';
import { moveEntries } from '@early-set/core/changes/lists';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useList } from '../../data/hooks.ts';

/** Entries in a new order, as the server will make it; null where nothing would move. */
export function reordered(
  list: ListContents,
  entries: readonly ListEntryRow[],
  moving: readonly string[],
  behind: string | null,
): string[] | null {
  const state: ListState = {
    info: list.info,
    entries: entries.map(({ entryId, kind, id, data }) => ({ id: entryId, kind, trackId: id || null, data })),
  };
  const [item] = moveEntries(list.id, state, moving, behind);
  return item ? applyEdit(state, item.edit)!.entries.map((e) => e.id) : null;
}

export function useOrder(list: ListContents): {
  entries: ListEntryRow[];
  move: (ids: string[], behind: string | null) => void;
} {
  const { mutate } = useList(list.id);
  const [asked, setAsked] = useState<string[] | null>(null);
  const underWay = useRef(0);
  const entries = asked ? inOrder(list.entries, asked) : list.entries;
  const move = (ids: string[], behind: string | null): void => {
    const order = reordered(list, entries, ids, behind);
    if (!order) return;
    setAsked(order);
    underWay.current++;
    void change(post<Applied>(`/lists/${list.id}/entries/move`, { entryIds: ids, behind })).finally(async () => {
      underWay.current--;
      if (underWay.current > 0) return;
      await mutate();
      if (underWay.current === 0) setAsked(null);
    });
  };
  return { entries, move };
}

/** What has been added meanwhile comes last. */
export function inOrder(entries: readonly ListEntryRow[], order: readonly string[]): ListEntryRow[] {
  const place = new Map(order.map((id, i) => [id, i]));
  return [...entries].sort((a, b) => (place.get(a.entryId) ?? Infinity) - (place.get(b.entryId) ?? Infinity) || 0);
}
