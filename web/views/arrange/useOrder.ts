/** The order of a list as it was last asked to be: moves one after the other build on each other. */
import { useRef, useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useList } from '../../data/hooks.ts';

/** Ids in a new order: some of them behind another one, or at the top. */
export function reordered(ids: readonly string[], moving: readonly string[], behind: string | null): string[] {
  const rest = ids.filter((id) => !moving.includes(id));
  const at = behind === null ? 0 : rest.indexOf(behind) + 1;
  return [...rest.slice(0, at), ...moving, ...rest.slice(at)];
}

export function useOrder(list: ListContents): { entries: ListEntryRow[]; move: (ids: string[], behind: string | null) => void } {
  const { mutate } = useList(list.id);
  const [asked, setAsked] = useState<string[] | null>(null);
  const underWay = useRef(0);
  const entries = asked ? inOrder(list.entries, asked) : list.entries;
  const move = (ids: string[], behind: string | null): void => {
    if (ids.length === 0) return;
    setAsked(reordered(entries.map((e) => e.entryId), ids, behind));
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
function inOrder(entries: readonly ListEntryRow[], order: readonly string[]): ListEntryRow[] {
  const place = new Map(order.map((id, i) => [id, i]));
  return [...entries].sort((a, b) => (place.get(a.entryId) ?? Infinity) - (place.get(b.entryId) ?? Infinity) || 0);
}
