import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { DEFAULT_WEIGHTS } from '@early-set/core/arrange/order';
import type { ListContents, ListEntryRow, ListLine } from '@early-set/core/api/types';
import { endAudition } from '../../audition/player.ts';
import { useList } from '../../data/hooks.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { Refusal, serve, show, tell, type Sent } from '../../testing/server.tsx';
import { ListInspector } from './ListInspector.tsx';
import type { Smoothing } from './useSmoothing.ts';
import { ListTable } from './ListTable.tsx';
import { reordered } from './useOrder.ts';
import { listContentsOf, sheetRow } from '../../testing/rows.ts';

fakeAudio();
const LIST = 'f0000000-0000-4000-8000-000000000001';
const entry = (name: string, i: number): ListEntryRow => ({
  entryId: name,
  kind: 'track',
  data: {},
  ...sheetRow(i + 1, {
    title: `Title ${name}`,
    artist: ['Brine Choir'],
    bpm: 120 + i,
    key: 'A minor',
    energy: 50 + i,
    lufs: -9,
    durationSeconds: 60,
    fileState: 'here',
    analysisState: 'done',
    path: `${name}.mp3`,
  }),
});
/** Nothing is being worked out. */
const IDLE: Smoothing = {
  share: null,
  draft: null,
  start: () => undefined,
  discard: () => undefined,
  apply: () => undefined,
  weights: DEFAULT_WEIGHTS,
  setWeights: () => undefined,
};
const NAMES = ['a', 'b', 'c', 'd', 'e'];
const contents = (names: readonly string[], kind: 'crate' | 'playlist' = 'playlist'): ListContents =>
  listContentsOf(
    LIST,
    names.map((n) => entry(n, NAMES.indexOf(n))),
    { kind },
  );

let order: string[];
let sent: Sent[];
let open: (() => void)[];
let better: { entryId: string; trackId: number; words: string }[];
const applied = { changeSetId: 1, title: 'Moved', done: 1, conflicts: [] };
beforeEach(() => {
  order = [...NAMES];
  open = [];
  better = [];
  ({ sent } = serve({
    [`/lists/${LIST}/entries/move`]: (body: unknown) =>
      new Promise((done) => {
        const { entryIds, behind } = body as { entryIds: string[]; behind: string | null };
        open.push(() => {
          order = reordered(contents(order), contents(order).entries, entryIds, behind)!;
          done(applied);
        });
      }),
    [`/lists/${LIST}/better`]: () => better,
    [`/lists/${LIST}/entries/better`]: applied,
    [`/lists/${LIST}/entries/remove`]: applied,
    [`/lists/${LIST}/export`]: {
      fileName: 'Late shift.m3u8',
      text: '#EXTM3U\n#EXTINF:60,Brine Choir - Title a\n/music/a.mp3\n',
      missing: ['c.mp3'],
    },
    [`/lists/${LIST}`]: () => contents(order),
    '/roots': [
      { id: 4, path: '/music', label: 'Music', measure: true, scannedAt: null, tracks: 5, missing: 0, notTaken: 0 },
    ],
  }));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

/** As the stage shows it: with what the server says. */
function Kept() {
  const { data } = useList(LIST);
  return data ? <ListTable smoothing={IDLE} list={data} /> : null;
}
const table = (kind?: 'crate'): HTMLElement => {
  show(<ListTable smoothing={IDLE} list={contents(NAMES, kind)} />);
  return screen.getByRole('grid');
};
const seen = (): string =>
  [...document.querySelectorAll('[data-entry]')].map((row) => row.getAttribute('data-entry')).join('');
const chosen = (): string =>
  [...document.querySelectorAll('[data-entry][aria-selected="true"]')]
    .map((row) => row.getAttribute('data-entry'))
    .join('');
const line = (name: string): Element => document.querySelector(`[data-entry="${name}"]`)!;
const click = (to: Element, more: object = {}): void => {
  fireEvent.pointerDown(to, { button: 0, ...more });
  fireEvent.click(to, more);
};
const key = (to: HTMLElement, name: string, more: object = {}): void => {
  fireEvent.keyDown(to, { key: name, ...more });
};

describe('order', () => {
  test('steps pressed faster than the server answers build on each other', async () => {
    show(<Kept />);
    const grid = await screen.findByRole('grid');
    click(line('a'));
    key(grid, 'ArrowDown', { altKey: true });
    expect(seen()).toBe('bacde');
    key(grid, 'ArrowDown', { altKey: true });
    key(grid, 'ArrowDown', { altKey: true });
    expect(seen()).toBe('bcdae');
    expect(sent.map((s) => s.body)).toEqual(['b', 'c', 'd'].map((behind) => ({ entryIds: ['a'], behind })));
    await act(async () => {
      for (const answer of open) answer();
      await Promise.resolve();
    });
    await waitFor(() => expect(order.join('')).toBe('bcdae'));
    expect(seen()).toBe('bcdae');
    order = ['e', 'd', 'c', 'b', 'a'];
    tell({ kind: 'lists', listIds: [LIST] });
    await waitFor(() => expect(seen()).toBe('edcba'));
  });

  test('several move together and stay together; the ends are ends', () => {
    const grid = table();
    click(line('b'));
    click(line('d'), { ctrlKey: true });
    key(grid, 'ArrowUp', { altKey: true });
    expect(seen()).toBe('bdace');
    key(grid, 'ArrowUp', { altKey: true });
    expect(sent).toHaveLength(1);
    click(line('e'));
    key(grid, 'ArrowDown', { altKey: true });
    expect(sent).toHaveLength(1);
  });

  test('what the server does not take goes back to where it was', async () => {
    serve({
      [`/lists/${LIST}/entries/move`]: new Refusal(409, 'conflict', 'The list has changed meanwhile'),
      [`/lists/${LIST}/better`]: [],
      [`/lists/${LIST}`]: () => contents(order),
    });
    const grid = table();
    click(line('a'));
    await act(async () => {
      key(grid, 'ArrowDown', { altKey: true });
      await Promise.resolve();
    });
    await waitFor(() => expect(seen()).toBe('abcde'));
  });

  test('a crate has no order: Alt and arrows only go along', () => {
    const grid = table('crate');
    click(line('a'));
    key(grid, 'ArrowDown', { altKey: true });
    expect([sent, chosen(), seen()]).toEqual([[], 'b', 'abcde']);
  });

  test('moved behind one of themselves they come behind the one before; where they stand already, nothing is asked', () => {
    const list = contents(NAMES);
    expect(reordered(list, list.entries, ['b', 'd'], 'd')).toEqual(['a', 'c', 'b', 'd', 'e']);
    expect(reordered(list, list.entries, ['c'], null)).toEqual(['c', 'a', 'b', 'd', 'e']);
    expect(reordered(list, list.entries, ['c'], 'b')).toBeNull();
  });
});

describe('choosing and taking out', () => {
  test('arrows, Shift, Control, all and none', () => {
    const grid = table();
    click(line('b'));
    key(grid, 'ArrowDown', { shiftKey: true });
    expect(chosen()).toBe('bc');
    click(line('e'), { shiftKey: true });
    expect(chosen()).toBe('bcde');
    click(line('c'), { ctrlKey: true });
    expect(chosen()).toBe('bde');
    key(grid, 'a', { ctrlKey: true });
    expect(chosen()).toBe('abcde');
    key(grid, 'Escape');
    expect(chosen()).toBe('');
    key(grid, 'End');
    expect(chosen()).toBe('e');
    key(grid, 'Home');
    expect(chosen()).toBe('a');
  });

  test('what is taken out leaves the next one chosen', () => {
    const grid = table();
    click(line('b'));
    click(line('c'), { ctrlKey: true });
    key(grid, 'Delete');
    expect(sent.map((s) => s.body)).toEqual([{ entryIds: ['b', 'c'] }]);
    expect(chosen()).toBe('d');
  });

  test('the menu offers the better file of what is chosen, where there is one', async () => {
    better = [
      { entryId: 'b', trackId: 90, words: 'FLAC, lossless' },
      { entryId: 'd', trackId: 91, words: 'MP3, 320 instead of 128 kbit/s' },
    ];
    table();
    click(line('b'));
    fireEvent.contextMenu(line('b'));
    fireEvent.click(await screen.findByRole('menuitem', { name: 'Replace by the better file (FLAC, lossless)' }));
    expect(sent).toEqual([{ path: `/lists/${LIST}/entries/better`, body: { entryIds: ['b'] } }]);
    click(line('a'));
    fireEvent.contextMenu(line('a'));
    expect(await screen.findByRole('menuitem', { name: 'Move to the top' })).toBeTruthy();
    expect(screen.queryByRole('menuitem', { name: /better/ })).toBeNull();
  });

  test('starts are times of day, what lies between neighbours is said', () => {
    table();
    expect(within(line('a') as HTMLElement).getByText('20:00')).toBeTruthy();
    expect(within(line('c') as HTMLElement).getByText('20:02')).toBeTruthy();
    expect(screen.getByTestId('list-length').textContent).toContain('5 tracks · 5:00 · ends 20:05');
    expect(screen.getAllByText(/same key/i).length).toBe(4);
  });

  test('an empty list says how tracks come in', () => {
    show(<ListTable smoothing={IDLE} list={contents([])} />);
    expect(screen.getByText('This playlist is empty')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Export…' }).disabled).toBe(true);
  });

  test('the file is seen before it is made, with what will not play', async () => {
    table();
    fireEvent.click(screen.getByRole('button', { name: 'Export…' }));
    await waitFor(() => expect(screen.getByLabelText('Preview').textContent).toContain('Brine Choir - Title a'));
    expect(screen.getByText(/1 track in it cannot be found on disk/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('File'), { target: { value: 'xspf' } });
    await waitFor(() =>
      expect(sent.filter((s) => s.path.endsWith('/export')).map((s) => (s.body as { format: string }).format)).toEqual([
        'm3u8',
        'xspf',
      ]),
    );
  });
});

describe('about a list', () => {
  const own = (kind: 'crate' | 'playlist'): ListLine[] => [
    { ...contents(NAMES, kind).info, id: LIST, tracks: 5, durationSeconds: 300, updatedAt: '' },
    { ...contents([], 'crate').info, name: 'Warm', id: 'other', tracks: 0, durationSeconds: 0, updatedAt: '' },
  ];

  test.each([
    ['19', '19:00'],
    ['7.30', '07:30'],
    ['2145', '21:45'],
  ])('a start typed as %s is %s', async (typed, time) => {
    const { sent: asked } = serve({ [`/lists/${LIST}`]: applied });
    show(<ListInspector smoothing={IDLE} list={contents(NAMES)} lists={own('playlist')} />);
    const box = screen.getByLabelText('Starts at');
    fireEvent.change(box, { target: { value: typed } });
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() => expect(asked).toEqual([{ path: `/lists/${LIST}`, body: { startsAt: time } }]));
  });

  test('what is no time is put back', () => {
    show(<ListInspector smoothing={IDLE} list={contents(NAMES)} lists={own('playlist')} />);
    const box = screen.getByLabelText<HTMLInputElement>('Starts at');
    fireEvent.change(box, { target: { value: '27:99' } });
    fireEvent.blur(box);
    expect([box.value, sent]).toEqual(['20:00', []]);
  });

  test('what keeps it from being played is counted; a crate can lie in another', async () => {
    const { sent: asked } = serve({ [`/lists/${LIST}`]: applied });
    const list = contents(NAMES, 'crate');
    list.entries[0]!.values.fileState = 'missing';
    list.entries[1]!.values.analysisState = 'waiting';
    show(<ListInspector smoothing={IDLE} list={list} lists={own('crate')} />);
    expect(screen.getByText(/1 missing file/)).toBeTruthy();
    expect(screen.getByText('1 track not measured yet.')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Lies in'), { target: { value: 'other' } });
    await waitFor(() => expect(asked).toEqual([{ path: `/lists/${LIST}`, body: { parentId: 'other' } }]));
  });
});
