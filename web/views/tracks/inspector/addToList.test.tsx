import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, renderHook, screen, waitFor, within } from '@testing-library/react';
import fc from 'fast-check';
import type { ListLine } from '@early-set/core/api/types';
import { forget, remembered } from '../../../data/remembered.ts';
import { listLine } from '../../../testing/rows.ts';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { AddToList } from './AddToList.tsx';
import { COLUMN_CHOICES, isTypable, useColumns } from '../sheet/columns.ts';

const list = (id: string, name: string, more: Partial<ListLine> = {}): ListLine =>
  listLine(id, { kind: 'playlist', name, tracks: 3, ...more });
// Ids look like those of the server: letters that somebody may type.
const LISTS = [
  list('dub00000-0000-4000-8000-00000000abcd', 'Warm-up'),
  list('f0000000-0000-4000-8000-000000000002', 'Dub corner', { kind: 'crate' }),
  list('f0000000-0000-4000-8000-000000000003', 'Late shift'),
  list('f0000000-0000-4000-8000-000000000004', 'Put away', { kind: 'crate', removed: true }),
  list('f0000000-0000-4000-8000-000000000005', 'Away with it', { parentId: 'f0000000-0000-4000-8000-000000000004' }),
  list('f0000000-0000-4000-8000-000000000006', 'Opening', { parentId: 'f0000000-0000-4000-8000-000000000002' }),
];
const ADDING = { selection: { ids: [1, 2] }, count: 2, sort: 'title', descending: true };

let sent: Sent[];
const closed = jest.fn();
beforeEach(() => {
  closed.mockClear();
  forget('recent-lists');
  ({ sent } = serve({
    '/lists': (body: unknown) =>
      body ? { changeSetId: 1, title: 'Made', done: 1, conflicts: [], listId: 'new' } : LISTS,
  }));
});
afterEach(cleanup);
const open = async (): Promise<HTMLElement> => {
  show(<AddToList adding={ADDING} onClose={closed} />);
  await waitFor(() => expect(screen.getByText('Dub corner')).toBeTruthy());
  return screen.getByPlaceholderText('Name of a list, there or new');
};
const options = (): string[] =>
  within(screen.getByRole('dialog'))
    .getAllByRole('option')
    .map((o) => o.textContent!);
const type = async (box: HTMLElement, text: string): Promise<void> => {
  fireEvent.change(box, { target: { value: text } });
  await act(() => Promise.resolve());
};

describe('adding to a list', () => {
  test('lists that are put away are not offered; a new one always is', async () => {
    await open();
    expect(screen.getByRole('dialog', { name: 'Add 2 tracks to' })).toBeTruthy();
    expect(options()).toEqual([
      'Warm-upplaylist3',
      'Dub cornercrate3',
      'Late shiftplaylist3',
      'Dub corner / Openingplaylist3',
      'New playlist, named after what it holds',
      'New crate, named after what it holds',
    ]);
  });

  test('a part of a name and Enter adds to the list of that name, in the order of the sheet', async () => {
    const box = await open();
    await type(box, 'dub');
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() =>
      expect(sent).toEqual([
        {
          path: `/lists/${LISTS[1]!.id}/entries`,
          body: { selection: { ids: [1, 2] }, sort: 'title', descending: true },
        },
      ]),
    );
    expect(closed).toHaveBeenCalledTimes(1);
    expect(remembered('recent-lists', [])).toEqual([LISTS[1]!.id]);
  });

  test('or replaces what is in it, which says how many go', async () => {
    const box = await open();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Replace what is in the list' }));
    expect(options().some((o) => /\d go$/.test(o ?? ''))).toBe(true);
    await type(box, 'dub');
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() => expect(sent.map((s) => s.path)).toEqual([`/lists/${LISTS[1]!.id}/replace`]));
  });

  test('a list inside a crate is found by both names', async () => {
    const box = await open();
    await type(box, 'corner open');
    expect(options()[0]).toBe('Dub corner / Openingplaylist3');
  });

  test('letters that are only in an id find nothing', async () => {
    const box = await open();
    await type(box, 'abcd');
    expect(options()).toEqual(['New playlist“abcd”', 'New crate“abcd”']);
  });

  test('a name that is not there becomes a new playlist, or a crate', async () => {
    const box = await open();
    await type(box, 'Harbour night');
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() =>
      expect(sent.at(-1)).toEqual({
        path: '/lists',
        body: { kind: 'playlist', name: 'Harbour night', selection: { ids: [1, 2] }, sort: 'title', descending: true },
      }),
    );
    await waitFor(() => expect(remembered('recent-lists', [])).toEqual(['new']));
  });

  test('the lists used last come first next time', async () => {
    await open();
    fireEvent.click(screen.getByText('Late shift'));
    cleanup();
    await open();
    expect(options()[0]).toBe('Late shiftplaylist3');
  });

  test('a list that could not be made is not remembered', async () => {
    serve({ '/lists': (body: unknown) => (body ? new Refusal(409, 'full', 'No more lists') : LISTS) });
    await open();
    await act(async () => {
      fireEvent.click(screen.getByText(/^New crate/));
      await Promise.resolve();
    });
    expect(remembered('recent-lists', [])).toEqual([]);
  });
});

describe('columns', () => {
  beforeEach(() => forget('columns'));

  test('whatever is shown, hidden, moved and widened: each column is there once, and wide enough to be seen', () => {
    const ids = COLUMN_CHOICES.map((c) => c.id),
      id = fc.constantFrom(...ids);
    const acts = fc.array(
      fc.oneof(
        fc.record({ what: fc.constant('show' as const), id, on: fc.boolean() }),
        fc.record({ what: fc.constant('move' as const), id, to: id }),
        fc.record({ what: fc.constant('resize' as const), id, width: fc.integer({ min: -50, max: 5000 }) }),
      ),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(acts, (all) => {
        forget('columns');
        const { result } = renderHook(() => useColumns());
        for (const a of all) {
          act(() => {
            const there = result.current.columns.some((c) => c.id === a.id);
            if (a.what === 'show') {
              if (there !== a.on) result.current.show(a.id, a.on);
            } else if (a.what === 'move') result.current.move(a.id, a.to);
            else result.current.resize(a.id, a.width);
          });
        }
        const now = result.current.columns.map((c) => c.id);
        expect(new Set(now).size).toBe(now.length);
        for (const c of result.current.columns) expect(c.width >= 40 && c.width <= 700).toBe(true);
        cleanup();
      }),
      { numRuns: 60 },
    );
  });

  test('one that is moved stands where the other stood', () => {
    const { result } = renderHook(() => useColumns());
    const at = (i: number): string => result.current.columns[i]!.id;
    const [a, b, c] = [at(0), at(1), at(2)];
    act(() => result.current.move(a, c));
    expect([at(0), at(1), at(2)]).toEqual([b, c, a]);
    act(() => result.current.move(a, b));
    expect([at(0), at(1), at(2)]).toEqual([a, b, c]);
  });

  test('what is measured or worked out is not typed over in the sheet', () => {
    expect(['title', 'artist', 'genre', 'year', 'bpm', 'key'].every(isTypable)).toBe(true);
    expect(['fit', 'toTarget', 'path', 'cues', 'durationSeconds', 'lufs'].some(isTypable)).toBe(false);
  });
});
