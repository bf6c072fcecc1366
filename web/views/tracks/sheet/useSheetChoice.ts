/** What is chosen in the sheet, by mouse and by key, also where rows are not loaded yet. */
import { useCallback, useEffect, useState } from 'react';
import type { SheetPage } from '@early-set/core/api/types';
import { complain } from '../../../data/actions.ts';
import { get } from '../../../data/api.ts';
import { chooseOne, chooseRange, NOTHING, toggleOne, type Chosen } from '../../../ui/grid/choice.ts';
import type { Sheet } from './useSheet.ts';

export interface SheetChoice {
  chosen: Chosen;
  choose: (next: Chosen) => void;
  chooseAt: (index: number, how: 'one' | 'toggle' | 'range') => void;
}

const PAGE_ROWS = 500;

interface State {
  query: string;
  chosen: Chosen;
}
/** What was chosen when the sheet was last seen, for coming back to it. */
let kept: State | null = null;

/** @param query what the sheet shows, as the server is asked */
export function useSheetChoice(query: string, sheet: Sheet): SheetChoice {
  const [state, setState] = useState<State>(() => kept ?? { query, chosen: NOTHING });
  useEffect(() => {
    kept = state;
  }, [state]);
  const choose = useCallback((next: Chosen) => setState({ query, chosen: next }), [query]);
  const chosen = chosenFor(state, query);

  /** Rows from one place to another, asked for where they are not loaded. */
  const idsBetween = async (from: number, to: number): Promise<number[]> => {
    const ids: number[] = [];
    for (let offset = from; offset <= to; offset += PAGE_ROWS) {
      const limit = Math.min(PAGE_ROWS, to - offset + 1);
      const { rows } = await get<SheetPage>(`/tracks?${query}&offset=${offset}&limit=${limit}`);
      ids.push(...rows.map((r) => r.id));
    }
    return ids;
  };
  const chooseAt: SheetChoice['chooseAt'] = (index, how) => {
    const row = sheet.row(index),
      { anchor } = chosen;
    // The focus goes there at once, so that keys held down lose no step; which rows those are is asked for.
    const later = (from: number, to: number, begin: Chosen, made: (now: Chosen, ids: number[]) => Chosen): void => {
      choose({ ...begin, focus: index });
      idsBetween(from, to).then(
        (ids) =>
          setState((now) =>
            now.query === query && now.chosen.focus === index && ids.length > 0
              ? { query, chosen: made(now.chosen, ids) }
              : now,
          ),
        complain,
      );
    };
    if (how === 'range' && anchor !== null) {
      const from = Math.min(anchor, index),
        to = Math.max(anchor, index);
      const there = Array.from({ length: to - from + 1 }, (_, i) => sheet.row(from + i)?.id);
      const loaded = !sheet.loading && there.every((id): id is number => id !== undefined);
      if (loaded) choose(chooseRange(chosen, there as number[], anchor, index));
      else later(from, to, chosen, (now, ids) => chooseRange(now, ids, anchor, index));
    } else if (row && !sheet.loading)
      choose(how === 'toggle' ? toggleOne(chosen, row.id, index) : chooseOne(row.id, index));
    else later(index, index, { ...NOTHING, anchor: index }, (_, [id]) => chooseOne(id!, index));
  };
  return { chosen, choose, chooseAt };
}

/** Another filter shows other rows; what was chosen by position is let go, chosen ids stay. */
function chosenFor(state: State, query: string): Chosen {
  if (state.query === query) return state.chosen;
  return state.chosen.all ? NOTHING : { ...state.chosen, anchor: null, focus: null };
}
