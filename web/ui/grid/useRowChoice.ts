/** What is chosen among rows that move: focus and anchor are kept by row, not by place. */
import { useState } from 'react';
import { chooseOne, chooseRange, NOTHING, toggleOne, type Chosen, type How } from './choice.ts';

interface State {
  ids: ReadonlySet<string>;
  focus: string | null;
  anchor: string | null;
}
const NOBODY: State = { ids: new Set(), focus: null, anchor: null };

export interface RowChoice {
  chosen: Chosen<string>;
  choose: (index: number, how: How) => void;
  /** Only this row; none where it is null. */
  chooseId: (id: string | null) => void;
  all: () => void;
  none: () => void;
  /** Ids of what is chosen, in the order of the rows. */
  picked: string[];
}

export function useRowChoice(ids: readonly string[]): RowChoice {
  const [state, setState] = useState<State>(NOBODY);
  const placeOf = (id: string | null): number | null => {
    const at = id === null ? -1 : ids.indexOf(id);
    return at < 0 ? null : at;
  };
  const chosen: Chosen<string> = {
    ...NOTHING,
    ids: state.ids,
    focus: placeOf(state.focus),
    anchor: placeOf(state.anchor),
  };
  const set = (next: Chosen<string>): void => {
    const idAt = (i: number | null): string | null => (i === null ? null : (ids[i] ?? null));
    setState({ ids: next.ids, focus: idAt(next.focus), anchor: idAt(next.anchor) });
  };
  return {
    chosen,
    choose(index, how) {
      const id = ids[index],
        { anchor } = chosen;
      if (id === undefined) return;
      if (how === 'range' && anchor !== null) {
        const between = ids.slice(Math.min(anchor, index), Math.max(anchor, index) + 1);
        set(chooseRange(chosen, between, anchor, index));
      } else if (how === 'toggle') set({ ...toggleOne(chosen, id, index), focus: index });
      else set(chooseOne(id, index));
    },
    chooseId: (id) => setState({ ids: new Set(id ? [id] : []), focus: id, anchor: id }),
    all: () => setState({ ...state, ids: new Set(ids) }),
    none: () => setState({ ...state, ids: new Set() }),
    picked: ids.filter((id) => state.ids.has(id)),
  };
}
