/** Which rows are chosen: some ids, or everything but a few. Pure, so that thousands are as quick as one. */

/** A click alone, with Ctrl, with Shift; or a key alone, or with Shift. */
export type How = 'one' | 'toggle' | 'range';

export interface Chosen<Id = number> {
  /** True: all are chosen except `ids`; false: just `ids` are. */
  all: boolean;
  ids: ReadonlySet<Id>;
  /** Row index from which a Shift range extends. */
  anchor: number | null;
  /** Row index with the focus. */
  focus: number | null;
}

export const NOTHING: Chosen<never> = { all: false, ids: new Set(), anchor: null, focus: null };

export const isChosen = <Id>(c: Chosen<Id>, id: Id): boolean => c.all !== c.ids.has(id);

/** How many are chosen of `total` rows. */
export const chosenCount = <Id>(c: Chosen<Id>, total: number): number =>
  c.all ? Math.max(0, total - c.ids.size) : c.ids.size;

/** A plain click or arrow: only this one. */
export const chooseOne = <Id>(id: Id, index: number): Chosen<Id> => ({
  all: false,
  ids: new Set([id]),
  anchor: index,
  focus: index,
});

/** Ctrl: this one more, or one less. */
export function toggleOne<Id>(c: Chosen<Id>, id: Id, index: number): Chosen<Id> {
  const ids = new Set(c.ids);
  if (!ids.delete(id)) ids.add(id);
  return { ...c, ids, anchor: index, focus: index };
}

/** Shift: from the anchor to here. Ids of the rows between must be given, in order. */
export const chooseRange = <Id>(c: Chosen<Id>, ids: readonly Id[], anchor: number, focus: number): Chosen<Id> => ({
  ...c,
  all: false,
  ids: new Set(ids),
  anchor,
  focus,
});

export const chooseAll = <Id>(c: Chosen<Id>): Chosen<Id> => ({ ...c, all: true, ids: new Set() });
