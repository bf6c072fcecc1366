import { expect, jest, test } from '@jest/globals';
import { act, renderHook, waitFor } from '@testing-library/react';
import { serve } from '../../../testing/server.tsx';
import { sheetRow } from '../../../testing/rows.ts';
import type { Sheet } from './useSheet.ts';
import { useSheetChoice } from './useSheetChoice.ts';

const idAt = (index: number): number => index + 100;
const sheet = (loading: boolean, loaded: boolean): Sheet => ({
  total: 50,
  // While the rows of another order are on their way, those of the one before stand there.
  row: (index) => (loaded ? sheetRow(loading ? 999 - index : idAt(index)) : undefined),
  look: jest.fn(),
  watch: () => () => undefined,
  pages: () => new Map(),
  loading,
  error: null,
});
const ids = (choice: ReturnType<typeof useSheetChoice>): number[] => [...choice.chosen.ids];

test.each([
  ['not loaded', false, false],
  ['those of another order', true, true],
])('keys pressed while the rows are %s lose no step, and choose the rows that come', async (_name, loading, loaded) => {
  serve({
    '/tracks': (_body: unknown, address: URL) => {
      const offset = Number(address.searchParams.get('offset')),
        limit = Number(address.searchParams.get('limit'));
      return { total: 50, rows: Array.from({ length: limit }, (_, i) => sheetRow(idAt(offset + i))) };
    },
  });
  const { result } = renderHook(() => useSheetChoice('where=1', sheet(loading, loaded)));
  act(() => result.current.choose({ all: false, ids: new Set(), anchor: null, focus: null }));
  act(() => result.current.chooseAt(3, 'one'));
  expect(result.current.chosen.focus).toBe(3);
  act(() => result.current.chooseAt(4, 'range'));
  act(() => result.current.chooseAt(5, 'range'));
  expect(result.current.chosen.focus).toBe(5);
  await waitFor(() => expect(ids(result.current)).toEqual([3, 4, 5].map(idAt)));
  act(() => result.current.chooseAt(0, 'one'));
  await waitFor(() => expect(ids(result.current)).toEqual([idAt(0)]));
});

test('where the rows are there it is done at once, and Ctrl adds and takes', () => {
  const { result } = renderHook(() => useSheetChoice('where=1', sheet(false, true)));
  act(() => result.current.chooseAt(1, 'one'));
  act(() => result.current.chooseAt(4, 'toggle'));
  expect(ids(result.current)).toEqual([1, 4].map(idAt));
  act(() => result.current.chooseAt(1, 'toggle'));
  expect(ids(result.current)).toEqual([idAt(4)]);
});
