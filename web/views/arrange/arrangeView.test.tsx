/** The stage as a whole: shape, smoothing, pins and what could follow. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { Toaster } from 'sonner';
import type { ListContents, ListEntryRow, ListLine } from '@early-set/core/api/types';
import { endAudition } from '../../audition/player.ts';
import { forget } from '../../data/remembered.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { listContentsOf, sheetRow } from '../../testing/rows.ts';
import { serve, show, tell, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { DEFAULT_WEIGHTS } from '@early-set/core/arrange/order';
import { fakeWorkers, type FakeWorker } from '../../testing/smoothWorker.ts';
import { ArrangeView } from './ArrangeView.tsx';

fakeAudio();
sizedPage();

const LIST = 'f0000000-0000-4000-8000-000000000001',
  CRATE = 'f0000000-0000-4000-8000-000000000002';
/** Energies of the entries a, b, c …, out of order. */
const ENERGIES: Record<string, number> = { a: 90, b: 30, c: 60, d: 75, e: 45 };
const row = (name: string, id: number, energy: number, artist = `Artist ${name}`) =>
  sheetRow(id, {
    title: `Title ${name}`,
    artist: [artist],
    bpm: 122,
    key: 'A minor',
    energy,
    durationSeconds: 60,
    fileState: 'here',
    analysisState: 'done',
    path: `${name}.mp3`,
  });
const entry = (name: string): ListEntryRow => ({
  entryId: name,
  kind: 'track',
  data: pinned.has(name) ? { pinned: true } : {},
  ...row(name, name.charCodeAt(0), ENERGIES[name] ?? 50),
});
const OTHERS = [row('near', 201, 62), row('far', 202, 5), row('held', 'a'.charCodeAt(0), 90)];

let order: string[];
let pinned: Set<string>;
let shape: string | null;
let sent: Sent[];
/** Tracks are answered when this is over. */
let held: Promise<void>;
let workers: FakeWorker[];
const applied = { changeSetId: 1, title: 'Done', done: 1, conflicts: [] };
const contents = (): ListContents => ({ ...listContentsOf(LIST, order.map(entry), { shape }), total: 0 });
const line = (id: string, name: string, kind: ListLine['kind']): ListLine => ({
  ...contents().info,
  id,
  name,
  kind,
  tracks: order.length,
  durationSeconds: 300,
  updatedAt: '2030-01-01T00:00:00Z',
});

beforeEach(() => {
  order = [...'abcde'];
  pinned = new Set();
  shape = 'rising';
  workers = fakeWorkers();
  held = Promise.resolve();
  for (const name of ['follow-from', 'follow-weights', 'list-curve']) forget(name);
  ({ sent } = serve({
    [`/lists/${LIST}/better`]: [],
    [`/lists/${LIST}/entries/order`]: (body: unknown) => {
      order = [...(body as { entryIds: string[] }).entryIds];
      return applied;
    },
    [`/lists/${LIST}/entries/pin`]: (body: unknown) => {
      for (const id of (body as { entryIds: string[] }).entryIds) pinned.add(id);
      return applied;
    },
    [`/lists/${LIST}/entries`]: (body: unknown) => {
      const { index } = body as { index: number };
      order = [...order.slice(0, index), 'z', ...order.slice(index)];
      return applied;
    },
    [`/lists/${LIST}`]: (body: unknown) => {
      if (body !== undefined) ({ shape = shape } = body as { shape?: string });
      return body === undefined ? contents() : applied;
    },
    [`/lists/${CRATE}`]: () => ({ ...contents(), id: CRATE, entries: [{ ...entry('c'), ...row('crate', 210, 40) }] }),
    '/lists': () => [line(LIST, 'Late shift', 'playlist'), line(CRATE, 'Boathouse', 'crate')],
    '/tracks': () => held.then(() => ({ total: OTHERS.length, rows: OTHERS })),
    '/overview': {},
  }));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

async function open(): Promise<HTMLElement> {
  show(
    <>
      <Routes>
        <Route path="/arrange/:listId" element={<ArrangeView />} />
      </Routes>
      <Toaster />
    </>,
    `/arrange/${LIST}`,
  );
  return screen.findByRole('grid', { name: 'Tracks of Late shift' });
}
const seen = (): string =>
  [...document.querySelectorAll('[data-entry]')].map((r) => r.getAttribute('data-entry')).join('');
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};
const choose = (name: string): void => {
  const target = document.querySelector(`[data-entry="${name}"]`)!;
  fireEvent.pointerDown(target, { button: 0 });
  fireEvent.click(target);
};

describe('smoothing the order', () => {
  test('what counts can be weighed: the draft is made anew, also where nothing is moved any more; it is remembered', async () => {
    await open();
    press('Smooth the order');
    expect(workers[0]!.request.wish.weights).toEqual(DEFAULT_WEIGHTS);
    workers[0]!.finish();
    const card = await screen.findByRole('region', { name: 'Draft of the order' });
    fireEvent.click(within(card).getByText('Counts for'));
    const slider = within(card).getByLabelText('Key');
    fireEvent.change(within(card).getByLabelText('Key'), { target: { value: '90' } });
    await waitFor(() => expect(workers).toHaveLength(2));
    expect(workers[1]!.request.wish.weights).toEqual({ ...DEFAULT_WEIGHTS, key: 90 });
    workers[1]!.tell({ order: [0, 1, 2, 3, 4] });
    await screen.findByText(/^The order is the best already/);
    // What is dragged stays under the hand.
    expect(slider.isConnected).toBe(true);
    expect(screen.getByRole('button', { name: 'Apply' })).toHaveProperty('disabled', true);
    press('Discard');
    press('Smooth the order');
    expect(workers[2]!.request.wish.weights.key).toBe(90);
    workers[2]!.finish();
    fireEvent.click(await screen.findByText('Reset'));
    await waitFor(() => expect(workers[3]?.request.wish.weights).toEqual(DEFAULT_WEIGHTS));
  });
  test('is a draft with its figures, applied as one change', async () => {
    await open();
    press('Smooth the order');
    expect(screen.getByRole('progressbar', { name: 'Progress' })).toBeTruthy();
    workers[0]!.finish();
    const draft = await screen.findByRole('region', { name: 'Draft of the order' });
    expect(seen()).toBe('becda');
    expect(draft.textContent).toContain('3 tracks moved');
    expect(draft.textContent).toMatch(/Energy off the wished shape: 24 → 1/);
    expect(within(document.querySelector('[data-entry="a"]')!).getByLabelText('Moved down')).toBeTruthy();
    expect(order.join('')).toBe('abcde');
    press('Apply');
    await waitFor(() => expect(order.join('')).toBe('becda'));
    tell({ kind: 'lists', listIds: [LIST] });
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Draft of the order' })).toBeNull());
    expect(seen()).toBe('becda');
  });
  test('leaves pinned entries where they are, and may be for the chosen ones only', async () => {
    pinned = new Set(['a']);
    const grid = await open();
    press('Smooth the order');
    expect(workers[0]!.request.pinned).toEqual([0]);
    workers[0]!.finish();
    await screen.findByText('3 tracks moved, 1 pinned stay');
    expect(seen()).toBe('abecd');
    press('Discard');
    expect(seen()).toBe('abcde');
    choose('b');
    fireEvent.keyDown(grid, { key: 'ArrowDown', shiftKey: true });
    fireEvent.contextMenu(document.querySelector('[data-entry="b"]')!);
    fireEvent.click(await screen.findByRole('menuitem', { name: 'Smooth the order of these' }));
    expect(workers[1]!.request.pinned).toEqual([0, 3, 4]);
  });
  test('can be cancelled, says when there is nothing better and when it broke off', async () => {
    await open();
    press('Smooth the order');
    workers[0]!.tell({ share: 0.5 });
    press('Cancel');
    expect(workers[0]!.ended).toBe(true);
    expect(screen.queryByRole('progressbar', { name: 'Progress' })).toBeNull();
    press('Smooth the order');
    workers[1]!.tell({ order: [0, 1, 2, 3, 4] });
    expect(await screen.findByText('No better order was found')).toBeTruthy();
    press('Smooth the order');
    workers[2]!.fail();
    expect(await screen.findByText('Working out the order broke off; nothing was changed')).toBeTruthy();
  });
  test('is begun anew when the list changes meanwhile', async () => {
    await open();
    press('Smooth the order');
    order = [...'abcd'];
    tell({ kind: 'lists', listIds: [LIST] });
    await waitFor(() => expect(workers).toHaveLength(2));
    expect([workers[0]!.ended, workers[1]!.request.entries.length]).toEqual([true, 4]);
    workers[1]!.finish();
    await screen.findByRole('region', { name: 'Draft of the order' });
    expect(seen()).toBe('bcda');
  });
  test('a draft is made anew when the same entries are pinned otherwise', async () => {
    await open();
    press('Smooth the order');
    workers[0]!.finish();
    await screen.findByRole('region', { name: 'Draft of the order' });
    pinned = new Set(['a']);
    tell({ kind: 'lists', listIds: [LIST] });
    await waitFor(() => expect(workers).toHaveLength(2));
    workers[1]!.finish();
    await screen.findByText('3 tracks moved, 1 pinned stay');
  });
  test('a draft is gone when the list is another one', async () => {
    await open();
    press('Smooth the order');
    workers[0]!.finish();
    await screen.findByRole('region', { name: 'Draft of the order' });
    order = [...'abcd'];
    tell({ kind: 'lists', listIds: [LIST] });
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Draft of the order' })).toBeNull());
    expect(seen()).toBe('abcd');
  });
});

describe('the shape', () => {
  const points = (): Element[] => [...document.querySelectorAll('[data-at]')];
  test('is drawn entry by entry; a click on one has it in hand', async () => {
    await open();
    expect(points()).toHaveLength(5);
    fireEvent.click(points()[2]!);
    expect(document.querySelector('[data-entry="c"]')!.getAttribute('aria-selected')).toBe('true');
    expect(screen.getByRole('region', { name: 'Shape of the set' }).textContent).toContain('Energy 60, wished 59');
    fireEvent.click(screen.getByRole('radio', { name: 'Key' }));
    expect(screen.getByRole('region', { name: 'Shape of the set' }).textContent).toContain('A minor');
  });
  test('a wished one is chosen by name, or drawn by its points', async () => {
    await open();
    fireEvent.keyDown(screen.getByRole('button', { name: 'Wished shape: rising' }), { key: 'Enter' });
    fireEvent.click(await screen.findByRole('menuitem', { name: 'Two waves' }));
    await waitFor(() => expect(shape).toBe('two waves'));
    tell({ kind: 'lists', listIds: [LIST] });
    await screen.findByRole('button', { name: 'Wished shape: two waves' });
    const sliders = screen.getAllByRole('slider', { name: /^Wished energy/ });
    fireEvent.keyDown(sliders[1]!, { key: 'ArrowUp' });
    await waitFor(() => expect(shape).toBe('0 35, 0.32 77, 0.52 50, 0.85 90, 1 70'));
    fireEvent.keyDown(sliders[2]!, { key: 'Delete' });
    await waitFor(() => expect(shape).toBe('0 35, 0.32 75, 0.85 90, 1 70'));
    fireEvent.pointerDown(sliders[0]!, { pointerId: 1 });
    fireEvent.pointerMove(sliders[0]!, { pointerId: 1, clientX: 0, clientY: 10 });
    fireEvent.pointerUp(sliders[0]!, { pointerId: 1 });
    await waitFor(() => expect(shape).toMatch(/^0 100, 0.32 75/));
  });
});

test('a list is sorted by a field and keeps that order; what is pinned stays', async () => {
  pinned = new Set(['b']);
  await open();
  fireEvent.keyDown(screen.getByRole('button', { name: 'Sort by' }), { key: 'Enter' });
  fireEvent.click(await screen.findByRole('menuitem', { name: 'Energy' }));
  await waitFor(() => expect(order.join('')).toBe('ebcda'));
  expect(sent.at(-1)!.body).toMatchObject({ by: 'sorting' });
});

test('I pins what is chosen', async () => {
  const grid = await open();
  choose('d');
  fireEvent.keyDown(grid, { key: 'i' });
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ entryIds: ['d'], pinned: true }));
  tell({ kind: 'lists', listIds: [LIST] });
  expect(await within(document.querySelector('[data-entry="d"]')!).findByLabelText('Pinned')).toBeTruthy();
});

test('a list is given a colour and a note', async () => {
  await open();
  fireEvent.change(screen.getByLabelText('Colour'), { target: { value: 'tide' } });
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ colour: 'tide' }));
  const note = screen.getByLabelText('Note');
  fireEvent.change(note, { target: { value: 'never mind' } });
  fireEvent.keyDown(note, { key: 'Escape' });
  expect((note as HTMLTextAreaElement).value).toBe('');
  fireEvent.change(note, { target: { value: ' starts cold ' } });
  fireEvent.blur(note);
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ note: 'starts cold' }));
});

describe('what could follow', () => {
  const lines = (): string[] =>
    within(screen.getByRole('list', { name: 'Tracks that could follow' }))
      .queryAllByRole('button', { name: /add it$/ })
      .map((b) => /Title (\w+)/.exec(b.getAttribute('aria-label')!)![1]!);
  test('is ranked for the place behind the entry in hand; what is in the list is left out', async () => {
    await open();
    choose('c');
    expect(await screen.findByText('After Title c, before Title d, on the way to energy 65.')).toBeTruthy();
    await waitFor(() => expect(lines()).toEqual(['near', 'far']));
  });
  test('Enter puts one in behind the entry in hand, and it is in hand then', async () => {
    await open();
    choose('b');
    await waitFor(() => expect(lines()).toHaveLength(2));
    fireEvent.keyDown(document.body, { key: 'f' });
    const first = screen.getByRole('button', { name: /^Title near/ });
    await waitFor(() => expect(document.activeElement).toBe(first));
    fireEvent.keyDown(first, { key: 'ArrowDown' });
    fireEvent.keyDown(document.activeElement!, { key: 'Enter' });
    await waitFor(() => expect(sent.at(-1)!.body).toEqual({ selection: { ids: [202] }, index: 2, once: true }));
    expect(order.join('')).toBe('abzcde');
  });
  test('asked for by key while they are being looked for, they have the focus as soon as they are there', async () => {
    let go!: () => void;
    held = new Promise((resolve) => (go = resolve));
    await open();
    expect(lines()).toEqual([]);
    fireEvent.keyDown(document.body, { key: 'f' });
    go();
    await waitFor(() => expect(document.activeElement?.getAttribute('data-follower')).toMatch(/^20\d$/));
  });
  test('while those of the place before are shown, the focus waits for those of this one', async () => {
    await open();
    choose('b');
    await waitFor(() => expect(lines()).toHaveLength(2));
    let go!: () => void;
    held = new Promise((resolve) => (go = resolve));
    choose('d');
    await screen.findByText(/^After Title d/);
    fireEvent.keyDown(document.body, { key: 'f' });
    expect(lines()).toHaveLength(2);
    expect(document.activeElement?.hasAttribute('data-follower')).toBe(false);
    go();
    await waitFor(() => expect(document.activeElement?.hasAttribute('data-follower')).toBe(true));
  });
  test('so many minutes are filled behind the entry in hand, as one change', async () => {
    await open();
    choose('b');
    await waitFor(() => expect(lines()).toHaveLength(2));
    fireEvent.change(screen.getByLabelText('Up to energy'), { target: { value: '4' } });
    press('Fill here');
    await screen.findByText(/^Nothing here fits/);
    fireEvent.change(screen.getByLabelText('Up to energy'), { target: { value: '' } });
    fireEvent.change(screen.getByLabelText('Minutes to fill'), { target: { value: '2' } });
    press('Fill here');
    await waitFor(() => expect(sent.at(-1)!.body).toMatchObject({ index: 2 }));
    const { ids } = (sent.at(-1)!.body as { selection: { ids: number[] } }).selection;
    expect([...ids].sort()).toEqual([201, 202]);
  });
  test('may come from a crate, and what counts can be changed and reset', async () => {
    await open();
    fireEvent.change(await screen.findByRole('combobox', { name: 'From' }), { target: { value: CRATE } });
    await waitFor(() => expect(lines()).toEqual(['crate']));
    fireEvent.change(screen.getByRole('slider', { name: 'Tempo' }), { target: { value: '0' } });
    press('Reset');
    expect((screen.getByRole('slider', { name: 'Tempo' }) as HTMLInputElement).value).toBe('80');
  });
});
