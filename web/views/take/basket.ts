/** What has been chosen of a collection to be taken: tracks, and whole lists. Kept while one looks further. */
import type { TakeList, TakeRow } from '@early-set/core/api/take';
import { useRemembered } from '../../data/remembered.ts';
import { nameOfRow } from './words.ts';

export interface Basket {
  tracks: { id: string; name: string }[];
  lists: { id: string; name: string; tracks: number }[];
}
const EMPTY: Basket = { tracks: [], lists: [] };

export interface BasketHand extends Basket {
  /** Puts rows in; those that are in it stay. */
  add: (rows: readonly TakeRow[]) => void;
  addList: (list: TakeList) => void;
  remove: (what: 'tracks' | 'lists', ids: readonly string[]) => void;
  clear: () => void;
}

export function useBasket(source: string): BasketHand {
  const [all, setAll] = useRemembered<Record<string, Basket>>('baskets', {});
  const now = all[source] ?? EMPTY;
  const set = (next: Basket): void => {
    const others = Object.entries(all).filter(([key]) => key !== source);
    setAll(Object.fromEntries(next.tracks.length + next.lists.length > 0 ? [...others, [source, next]] : others));
  };
  return {
    ...now,
    add(rows) {
      const has = new Set(now.tracks.map((t) => t.id));
      const more = rows.filter((r) => !has.has(r.id)).map((r) => ({ id: r.id, name: nameOfRow(r) }));
      set({ ...now, tracks: [...now.tracks, ...more] });
    },
    addList({ id, name, tracks }) {
      if (!now.lists.some((l) => l.id === id)) set({ ...now, lists: [...now.lists, { id, name, tracks }] });
    },
    remove(what, ids) {
      const gone = new Set(ids);
      set({
        tracks: what === 'tracks' ? now.tracks.filter((t) => !gone.has(t.id)) : now.tracks,
        lists: what === 'lists' ? now.lists.filter((l) => !gone.has(l.id)) : now.lists,
      });
    },
    clear: () => set(EMPTY),
  };
}
