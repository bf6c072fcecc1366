/** Another collection looked through: its lists, its tracks, a basket by mouse and key, and what is asked for. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { TakeLook, TakeQuestion, TakeRow } from '@early-set/core/api/take';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { TakeView } from './TakeView.tsx';

sizedPage();
const row = (id: string, title: string, more: Partial<TakeRow> = {}): TakeRow => ({
  id,
  values: { title, artist: ['Keel Nine'], durationSeconds: 200, bpm: 124, cues: '[{"at":1},{"at":2}]' },
  path: `/media/old/${title}.mp3`,
  state: 'new',
  here: null,
  ...more,
});
const ROWS = [
  row('a', 'Eel Grass'),
  row('b', 'Kelp Line'),
  row('c', 'Lamp Room', { state: 'here', here: { trackId: 7, name: 'Lamp Room (Dub)' } }),
  row('d', 'Gone', { state: 'not found' }),
];
const LOOK: TakeLook = {
  ...{ source: 'destination:3', name: 'Plover', what: 'performance program', onThisMachine: true },
  ...{ listKind: 'playlist', counts: { new: 2, here: 1, 'not found': 1 }, more: 0, problems: [], inComments: 5 },
  basket: { tracks: 0, fresh: 0 },
  lists: [
    { id: 'l2', name: 'Opening', place: ['Gigs'], tracks: 1, fresh: 0 },
    { id: 'l1', name: 'After ten', place: ['Gigs', '2026'], tracks: 3, fresh: 2 },
  ],
  rows: ROWS,
};
let look: TakeLook | Refusal, sent: Sent[];
beforeEach(() => {
  localStorage.clear();
  look = LOOK;
  ({ sent } = serve({
    '/take/look': (body: unknown) => {
      if (look instanceof Refusal) return look;
      const { state, basket } = body as TakeQuestion;
      const tracks = basket.tracks.length + 3 * basket.lists.length;
      const rows = look.rows.filter((r) => state === null || r.state === state);
      return { ...look, rows, basket: { tracks, fresh: tracks } };
    },
    '/take': { runId: 9 },
    '/roots': [
      { id: 1, path: '/music', label: 'Music', purpose: 'library', awaySince: null },
      { id: 2, path: '/given', label: 'Given', purpose: 'destination', awaySince: null },
    ],
    '/presets': [{ id: 4, name: 'Promo out', steps: [] }],
    '/clean/folders': [],
    '/settings': { naming: { rules: [], options: {} } },
  }));
});
afterEach(cleanup);
const open = async (): Promise<HTMLElement> => {
  show(<TakeView />, '/intake/from?source=destination%3A3');
  return screen.findByRole('grid', { name: 'Tracks of Plover' });
};
const asked = (path: string): Record<string, unknown> =>
  sent.findLast((s) => s.path === path)?.body as Record<string, unknown>;
const choose = (name: string): void => {
  const found = document.querySelector<HTMLElement>(`[data-track="${name}"]`)!;
  fireEvent.pointerDown(found, { button: 0 });
  fireEvent.click(found);
};

test('what is new is shown first; lists stand in their places, with what is new in them', async () => {
  const grid = await open();
  expect(within(grid).getByText('Eel Grass')).toBeTruthy();
  expect(within(grid).queryByText('Lamp Room')).toBeNull();
  const lists = screen.getByRole('complementary', { name: 'Lists there' });
  expect([...lists.querySelectorAll('li')].map((li) => li.textContent)).toEqual([
    'All tracks4',
    'Gigs',
    '2026',
    'After ten2 new3',
    'Opening1',
  ]);
  fireEvent.click(within(lists).getByRole('button', { name: 'After ten 2 new 3' }));
  await waitFor(() => expect(asked('/take/look')).toMatchObject({ list: 'l1', state: 'new' }));
  fireEvent.click(screen.getByRole('button', { name: /In the library 1/ }));
  expect(await within(grid).findByText('as Lamp Room (Dub)')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: /Not found 1/ }));
  expect(await within(grid).findByText('file not found')).toBeTruthy();
  fireEvent.click(
    within(grid)
      .getByRole('columnheader', { name: /Artist/ })
      .querySelector('button') ?? grid,
  );
  await waitFor(() => expect(asked('/take/look').sort).toEqual({ field: 'artist', descending: false }));
});

test('chosen by key, with a whole list: the basket is kept, counted, and taken as it is asked for', async () => {
  const grid = await open();
  expect(screen.getByRole('button', { name: 'Take' })).toHaveProperty('disabled', true);
  choose('Kelp Line');
  fireEvent.keyDown(grid, { key: 'b' });
  fireEvent.click(screen.getByRole('button', { name: 'Put the list After ten into the basket' }));
  const basket = screen.getByRole('complementary', { name: 'Basket' });
  expect(within(basket).getByText('Kelp Line')).toBeTruthy();
  cleanup();
  await open();
  expect(screen.queryByRole('option', { name: 'Given' })).toBeNull();
  fireEvent.click(screen.getByRole('checkbox', { name: /Energy and moods out of comments/ }));
  fireEvent.change(screen.getByLabelText('Clean new tracks with'), { target: { value: '4' } });
  fireEvent.change(screen.getByLabelText('Put them into the crate'), { target: { value: 'For Saturday' } });
  fireEvent.click(await screen.findByRole('button', { name: 'Take 4 tracks' }));
  await waitFor(() =>
    expect(asked('/take')).toEqual({
      ...{ source: 'destination:3', tracks: ['b'], lists: ['l1'], over: 'replace', fromComments: true },
      copy: { rootId: 1, into: 'From Plover', names: 'own' },
      ...{ presetId: 4, crate: 'For Saturday' },
    }),
  );
});

test('left where they lie; taken out of the basket again', async () => {
  const grid = await open();
  choose('Kelp Line');
  fireEvent.keyDown(grid, { key: 'b' });
  choose('Eel Grass');
  fireEvent.click(screen.getByRole('button', { name: /Into the basket/ }));
  fireEvent.click(screen.getByRole('button', { name: 'Take Kelp Line out of the basket' }));
  fireEvent.click(screen.getByRole('radio', { name: 'Leave them there' }));
  fireEvent.click(await screen.findByRole('button', { name: 'Take 1 track' }));
  await waitFor(() => expect(asked('/take')).toMatchObject({ tracks: ['a'], copy: null }));
});

test('the pool has no files here; what cannot be read says why', async () => {
  look = { ...LOOK, name: 'Knot Pool', onThisMachine: false, lists: [], inComments: 0 };
  show(<TakeView />, '/intake/from?source=destination%3A3');
  await screen.findByRole('grid', { name: 'Tracks of Knot Pool' });
  expect(screen.queryByRole('radio', { name: 'Leave them there' })).toBeNull();
  expect(screen.getByText('It has no lists.')).toBeTruthy();
  cleanup();
  look = new Refusal(502, 'pool', 'The pool is down');
  show(<TakeView />, '/intake/from?source=pool');
  expect((await screen.findByRole('alert')).textContent).toBe('The pool is down');
});
