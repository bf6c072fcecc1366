import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import fc from 'fast-check';
import type { SheetRow } from '@early-set/core/api/types';
import { tableActions } from '../../../commands/commands.ts';
import { serve, tell } from '../../../testing/server.tsx';
import {
  chooseAll,
  chooseOne,
  chooseRange,
  chosenCount,
  isChosen,
  NOTHING,
  toggleOne,
  type Chosen,
} from '../../../ui/grid/choice.ts';
import { gridKeys, type GridKeys } from '../../../ui/grid/gridKeys.ts';
import { toSelection } from './selectionOf.ts';
import { PAGE, useSheet } from './useSheet.ts';
import { sheetRow } from '../../../testing/rows.ts';

afterEach(cleanup);

describe('pages of the sheet', () => {
  const TOTAL = 1000;
  /** A server whose answers are given by the test, each with the state of the library at the time of asking. */
  function library() {
    const state = { word: 'old', asked: [] as number[], questions: 0, hold: false, waiting: [] as (() => void)[] };
    serve({
      '/tracks': (_: unknown, address: URL) => {
        const offset = Number(address.searchParams.get('offset')),
          limit = Number(address.searchParams.get('limit')),
          { word } = state;
        for (let page = offset / PAGE; page < (offset + limit) / PAGE; page++) state.asked.push(page);
        state.questions++;
        const rows: SheetRow[] = Array.from({ length: Math.min(limit, TOTAL - offset) }, (_, i) =>
          sheetRow(offset + i + 1, { title: `${word} ${address.searchParams.get('sort') ?? ''}${offset + i}` }),
        );
        const answer = { total: TOTAL, rows };
        return state.hold
          ? new Promise((done) => {
              state.waiting.push(() => done(answer));
            })
          : answer;
      },
    });
    return state;
  }
  const answer = (state: ReturnType<typeof library>): Promise<void> =>
    act(async () => {
      for (const give of state.waiting.splice(0)) give();
      await Promise.resolve();
    });

  test('what is in sight is asked for, and a little beyond; far pages when they are looked at', async () => {
    const state = library();
    const { result } = renderHook(() => useSheet('where=1'));
    await waitFor(() => expect(result.current.row(74)?.values.title).toBe('old 74'));
    expect(result.current.total).toBe(TOTAL);
    await waitFor(() => expect(state.asked).toEqual([0, 1, 2]));
    expect(result.current.row(700)).toBeUndefined();
    act(() => result.current.look(690, 720));
    await waitFor(() => expect(result.current.row(700)?.values.title).toBe('old 700'));
    await waitFor(() => expect(state.asked).toEqual([0, 1, 2, 9, 7, 8, 10, 11]));
    act(() => result.current.look(990, 999));
    await waitFor(() => expect(result.current.row(999)).toBeDefined());
    expect(Math.max(...state.asked)).toBe(13);
  });

  test('a change while pages are on their way is not missed', async () => {
    const state = library();
    state.hold = true;
    const { result } = renderHook(() => useSheet('where=1'));
    state.word = 'new';
    tell({ kind: 'tracks' });
    await act(
      () =>
        new Promise((done) => {
          setTimeout(done, 300);
        }),
    );
    await answer(state);
    state.hold = false;
    await waitFor(() => expect(state.waiting).toHaveLength(1));
    await answer(state);
    await waitFor(() => expect(result.current.row(0)?.values.title).toBe('new 0'));
  });

  test('while a scroll bar moves, few questions are on their way; where it comes to rest is asked for', async () => {
    const state = library();
    const { result } = renderHook(() => useSheet('where=1'));
    await waitFor(() => expect(state.asked).toEqual([0, 1, 2]));
    state.hold = true;
    for (const page of [3, 6, 9, 11, 12]) act(() => result.current.look(page * PAGE + 30, page * PAGE + 50));
    expect(state.asked.slice(3)).toEqual([3, 6]);
    await answer(state);
    await waitFor(() => expect(state.asked).toContain(12));
    await answer(state);
    await waitFor(() => expect(result.current.row(12 * PAGE + 40)?.values.title).toBe(`old ${12 * PAGE + 40}`));
  });

  test('rows in sight that lie on two pages are one question', async () => {
    const state = library();
    const { result } = renderHook(() => useSheet('where=1'));
    await waitFor(() => expect(state.asked).toEqual([0, 1, 2]));
    const before = state.questions;
    act(() => result.current.look(4 * PAGE - 10, 4 * PAGE + 10));
    await waitFor(() => expect(result.current.row(4 * PAGE)).toBeDefined());
    expect(result.current.row(4 * PAGE - 1)?.values.title).toBe(`old ${4 * PAGE - 1}`);
    expect([state.questions - before, state.asked.slice(3)]).toEqual([1, [3, 4]]);
  });

  test('a page that could not be had is asked for again once the eye moves', async () => {
    let broken = true;
    serve({
      '/tracks': () => {
        if (broken) throw new Error('away');
        return { total: 1, rows: [sheetRow(1, { title: 'here' })] };
      },
    });
    const { result } = renderHook(() => useSheet('where=1'));
    await waitFor(() => expect(result.current.error).not.toBeNull());
    broken = false;
    act(() => result.current.look(0, 10));
    await waitFor(() => expect(result.current.row(0)?.values.title).toBe('here'));
    expect(result.current.error).toBeNull();
  });

  test('after a change, what is out of sight is not shown as it was', async () => {
    const state = library();
    const { result } = renderHook(() => useSheet('where=1'));
    await waitFor(() => expect(result.current.row(0)).toBeDefined());
    act(() => result.current.look(900, 930));
    await waitFor(() => expect(result.current.row(900)).toBeDefined());
    state.word = 'new';
    tell({ kind: 'tracks' });
    await waitFor(() => expect(result.current.row(900)?.values.title).toBe('new 900'));
    expect(result.current.row(0)).toBeUndefined();
    act(() => result.current.look(0, 30));
    await waitFor(() => expect(result.current.row(0)?.values.title).toBe('new 0'));
  });

  test('another query keeps the rows until its own are there', async () => {
    library();
    const { result, rerender } = renderHook(({ query }) => useSheet(query), { initialProps: { query: 'where=1' } });
    await waitFor(() => expect(result.current.row(0)).toBeDefined());
    rerender({ query: 'where=1&sort=title' });
    expect([result.current.loading, result.current.row(0)?.values.title]).toEqual([true, 'old 0']);
    await waitFor(() => expect(result.current.row(0)?.values.title).toBe('old title0'));
    expect(result.current.loading).toBe(false);
  });
});

describe('choosing', () => {
  const TOTAL = 40;
  type Act = { kind: 'one' | 'toggle' | 'range'; at: number } | { kind: 'all' };
  const acts = fc.array(
    fc.oneof(
      fc.record({ kind: fc.constantFrom('one' as const, 'toggle' as const, 'range' as const), at: fc.nat(TOTAL - 1) }),
      fc.constant({ kind: 'all' as const }),
    ),
    { maxLength: 30 },
  );
  const id = (index: number): number => index + 100;
  const run = (all: readonly Act[]): { chosen: Chosen; model: Set<number> } => {
    let chosen: Chosen = NOTHING,
      model = new Set<number>();
    for (const a of all) {
      if (a.kind === 'all') {
        chosen = chooseAll(chosen);
        model = new Set(Array.from({ length: TOTAL }, (_, i) => id(i)));
        continue;
      }
      if (a.kind === 'range' && chosen.anchor !== null) {
        const from = Math.min(chosen.anchor, a.at),
          ids = Array.from({ length: Math.abs(chosen.anchor - a.at) + 1 }, (_, i) => id(from + i));
        chosen = chooseRange(chosen, ids, chosen.anchor, a.at);
        model = new Set(ids);
      } else if (a.kind === 'toggle') {
        chosen = toggleOne(chosen, id(a.at), a.at);
        if (!model.delete(id(a.at))) model.add(id(a.at));
      } else {
        chosen = chooseOne(id(a.at), a.at);
        model = new Set([id(a.at)]);
      }
    }
    return { chosen, model };
  };

  test('whatever is clicked in whatever order, the same rows are chosen as one would count by hand', () => {
    fc.assert(
      fc.property(acts, (all) => {
        const { chosen, model } = run(all);
        for (let i = 0; i < TOTAL; i++) expect(isChosen(chosen, id(i))).toBe(model.has(id(i)));
        expect(chosenCount(chosen, TOTAL)).toBe(model.size);
      }),
    );
  });

  test('everything but a few is told to the server as just that', () => {
    const where = { field: 'genre', test: 'one of' as const, values: ['Dub'] };
    expect(toSelection(toggleOne(chooseAll(NOTHING), 7, 3), where)).toEqual({ where, except: [7] });
    expect(toSelection(chooseOne(7, 3), where)).toEqual({ ids: [7] });
  });
});

const ELEMENT = {} as HTMLElement;

describe('keys of the sheet', () => {
  const keys = (more: Partial<GridKeys> = {}) => {
    const calls: string[] = [];
    const say = (name: string) => () => {
      calls.push(name);
    };
    const does = (name: string) => ({ run: say(name) });
    const press = gridKeys({
      count: 100,
      focus: 10,
      pageRows: 18,
      choose: (i, how) => calls.push(`${how} ${i}`),
      all: say('all'),
      none: say('none'),
      ...tableActions('tracks', {
        audition: does('audition'),
        add: does('add'),
        hearLater: does('later'),
        open: does('open'),
        edit: does('edit'),
        fit: does('fit'),
        rate: does('rate'),
      }),
      ...more,
    });
    const prevented = jest.fn();
    return {
      calls,
      prevented,
      press: (key: string, held: object = {}) =>
        press({
          target: ELEMENT,
          currentTarget: ELEMENT,
          key,
          ctrlKey: false,
          metaKey: false,
          altKey: false,
          shiftKey: false,
          preventDefault: prevented,
          stopPropagation: () => undefined,
          ...held,
        } as unknown as React.KeyboardEvent<HTMLElement>),
    };
  };

  test.each([
    ['ArrowDown', 'one 11'],
    ['ArrowUp', 'one 9'],
    ['PageDown', 'one 28'],
    ['PageUp', 'one 0'],
    ['Home', 'one 0'],
    ['End', 'one 99'],
    ['Enter', 'open'],
    [' ', 'audition'],
    ['Escape', 'none'],
    ['a', 'add'],
    ['E', 'edit'],
    ['f', 'fit'],
    ['l', 'later'],
    ['m', 'rate'],
  ])('%s: %s', (key, what) => {
    const { calls, press } = keys();
    press(key);
    expect(calls).toEqual([what]);
  });

  test('Shift extends, Control and A is everything, other keys with Control and Alt are left to the browser', () => {
    const { calls, press, prevented } = keys();
    press('ArrowDown', { shiftKey: true });
    press('a', { ctrlKey: true });
    expect(prevented).toHaveBeenCalledTimes(2);
    press('f', { ctrlKey: true });
    press('l', { altKey: true });
    press('q');
    expect(prevented).toHaveBeenCalledTimes(2);
    expect(calls).toEqual(['range 11', 'all']);
  });

  test('without a place the first row is it; without rows nothing happens', () => {
    const { calls, press } = keys({ focus: null });
    press('ArrowUp');
    expect(calls).toEqual(['one 0']);
    const none = keys({ count: 0, focus: null });
    none.press('End');
    expect(none.calls).toEqual([]);
  });
});
