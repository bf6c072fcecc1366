import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ListOverview } from '@early-set/core/api/lists';
import type { ListContents, ListLine } from '@early-set/core/api/types';
import { forget } from '../../data/remembered.ts';
import { listLine, sheetRow } from '../../testing/rows.ts';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { AllListsView } from './AllListsView.tsx';

const line = (id: string, name: string, more: Partial<ListLine> = {}): ListLine =>
  listLine(id, {
    kind: 'playlist',
    name,
    tracks: 2,
    durationSeconds: 300,
    updatedAt: `2030-01-0${id}T10:00:00Z`,
    ...more,
  });
const LISTS = [
  line('1', 'Boathouse', { kind: 'crate', tracks: 0 }),
  line('2', 'Late', { parentId: '1' }),
  line('3', 'Seven', { tracks: 9 }),
  line('4', 'House', { kind: 'crate', rule: '{"where":{"all":[]}}' }),
  line('5', 'Gone', { removed: true }),
];
const known = (id: string, more: Partial<ListOverview>): ListOverview => ({
  id,
  held: 4,
  missing: 0,
  floor: 0,
  playout: 0,
  dates: [],
  given: null,
  ...more,
});
const held = (id: string, ...ids: number[]): ListContents => ({
  id,
  info: LISTS.find((l) => l.id === id)!,
  total: ids.length,
  entries: ids.map((n, i) => ({
    ...sheetRow(n, { title: `Title ${n}` }),
    entryId: `${id}-${i}`,
    kind: 'track',
    data: {},
  })),
});

let sent: Sent[];
beforeEach(() => {
  forget('all-lists-sort');
  const applied = { changeSetId: 1, title: 'Done', done: 1, conflicts: [], listId: 'x' };
  ({ sent } = serve({
    '/lists/overview': [
      known('2', { floor: 4, playout: 1, dates: [{ name: 'Slipway', day: '2030-02-01' }] }),
      known('3', { floor: 3, missing: 2, given: { to: 'download of Seven.m3u8', at: '2030-01-09T10:00:00Z' } }),
    ],
    '/lists/join': applied,
    '/lists/remove': applied,
    '/lists/2/take-out': applied,
    '/lists/3/entries': applied,
    '/lists/2': held('2', 10, 11, 11, 12),
    '/lists/3': held('3', 12, 11, 13),
    '/lists': LISTS,
  }));
});
afterEach(cleanup);

const names = (): string[] =>
  [...document.querySelectorAll('[data-list]')].map(
    (r) => LISTS.find((l) => l.id === r.getAttribute('data-list'))!.name,
  );
const rowOf = (id: string): HTMLElement => document.querySelector<HTMLElement>(`[data-list="${id}"]`)!;
const press = (name: string | RegExp): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};
async function open(): Promise<void> {
  show(<AllListsView />);
  await waitFor(() => expect(names()).toHaveLength(4));
}
async function choose(...ids: string[]): Promise<void> {
  for (const [i, id] of ids.entries()) {
    fireEvent.pointerDown(rowOf(id), { button: 0, ctrlKey: i > 0 });
    fireEvent.click(rowOf(id), { ctrlKey: i > 0 });
  }
  await waitFor(() => expect(screen.getByText(`${ids.length} chosen`)).toBeTruthy());
}

describe('all lists', () => {
  test('say what they are, how ready, for which date and where given; newest first, or as sorted', async () => {
    await open();
    expect(names()).toEqual(['House', 'Seven', 'Late', 'Boathouse']);
    await within(rowOf('2')).findByText('100 %');
    expect(rowOf('2').textContent).toContain('Boathouse / Late');
    expect(rowOf('2').textContent).toContain('25 %');
    expect(rowOf('2').textContent).toContain('Slipway, 1 Feb 2030');
    expect(rowOf('3').textContent).toContain('75 %');
    expect(rowOf('4').textContent).toContain('self-filling crate');
    fireEvent.click(screen.getByRole('button', { name: /^Tracks/ }));
    expect(names()[0]).toBe('Seven');
    fireEvent.click(screen.getByRole('button', { name: /^Missing/ }));
    expect(names()[0]).toBe('Seven');
    fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'boathouse' } });
    expect(names().sort()).toEqual(['Boathouse', 'Late']);
  });

  test('several are joined in an order of their own', async () => {
    await open();
    await choose('2', '4', '3');
    press('Join…');
    expect((screen.getByLabelText('Name') as HTMLInputElement).value).toBe('House + Seven + Late');
    press('Seven up');
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Together' } });
    press('Join into a new playlist');
    await waitFor(() =>
      expect(sent.at(-1)).toEqual({
        path: '/lists/join',
        body: { kind: 'playlist', name: 'Together', listIds: ['3', '4', '2'] },
      }),
    );
  });

  test('several are removed as one change', async () => {
    await open();
    await choose('2', '3');
    fireEvent.keyDown(document.getElementById('all-lists')!, { key: 'Delete' });
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/lists/remove', body: { listIds: ['3', '2'] } }));
  });

  test('two are compared; what is only there is added, what is in both is taken out', async () => {
    await open();
    await choose('3', '2');
    press('Compare…');
    expect((await screen.findByTestId('compared')).textContent).toBe('2 tracks in both, 1 of them in another order.');
    const late = screen.getByRole('region', { name: 'Only in Late' });
    expect(within(late).getByText('Title 10')).toBeTruthy();
    expect(within(late).getByText('1 track more than once')).toBeTruthy();
    fireEvent.click(within(late).getByRole('button', { name: 'Add these to Seven' }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/lists/3/entries', body: { selection: { ids: [10] } } }));
    fireEvent.click(within(late).getByRole('button', { name: 'Take out what is in both' }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/lists/2/take-out', body: { listId: '3' } }));
  });
});
