/** Which rows are chosen: some ids, or everything that matches but a few. Pure, so that thousands are as quick as one. */
import type { Selection } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';

export interface Chosen {
  /** True: all that match are chosen except `ids`; false: just `ids` are. */
  all: boolean;
  ids: ReadonlySet<number>;
  /** Row index from which a Shift range extends. */
  anchor: number | null;
  /** Row index with the focus. */
  focus: number | null;
}

export const NOTHING: Chosen = { all: false, ids: new Set(), anchor: null, focus: null };

export const isChosen = (c: Chosen, id: number): boolean => c.all !== c.ids.has(id);

/** How many are chosen of `total` that match. */
export const chosenCount = (c: Chosen, total: number): number => (c.all ? Math.max(0, total - c.ids.size) : c.ids.size);

/** A plain click or arrow: only this one. */
export const chooseOne = (id: number, index: number): Chosen => ({
  all: false,
  ids: new Set([id]),
  anchor: index,
  focus: index,
});

/** Ctrl: this one more, or one less. */
export function toggleOne(c: Chosen, id: number, index: number): Chosen {
  const ids = new Set(c.ids);
  if (!ids.delete(id)) ids.add(id);
  return { ...c, ids, anchor: index, focus: index };
}

/** Shift: from the anchor to here. Ids of the rows between must be given, in order. */
export const chooseRange = (c: Chosen, ids: readonly number[], anchor: number, focus: number): Chosen => ({
  ...c,
  all: false,
  ids: new Set(ids),
  anchor,
  focus,
});

export const chooseAll = (c: Chosen): Chosen => ({ ...c, all: true, ids: new Set() });

/** As the server takes it. */
export const toSelection = (c: Chosen, where: Condition): Selection =>
  c.all ? { where, except: [...c.ids] } : { ids: [...c.ids] };
