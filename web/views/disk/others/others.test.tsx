import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { OtherFile, Others } from '@early-set/core/api/disk';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { OthersView } from './OthersView.tsx';

sizedPage();
const line = (path: string, reason: string, size: number, more: Partial<OtherFile> = {}): OtherFile => ({
  what: 'file',
  rootId: 1,
  root: 'Music',
  away: false,
  path,
  reason,
  size,
  modifiedMs: Date.UTC(2030, 0, 2),
  ...more,
});
let answer: Others, sent: Sent[];
const serveAll = (): Sent[] =>
  serve({
    '/disk/others/put-aside': { changeSetId: 5, title: 'Put aside', done: 1, conflicts: [] },
    '/disk/others': () => answer,
    '/disk/quarantine': { files: [], bytes: 0 },
    '/disk/places': { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null },
    '/disk/not-found': { lines: [], away: [] },
    '/disk/duplicates': { groups: [], parted: [], waiting: 0, earlier: 0 },
    '/disk/space': { top: { key: '', bytes: 0, children: [] }, listIds: [] },
    '/settings': DEFAULT_SETTINGS,
    '/roots': [],
  }).sent;
beforeEach(() => {
  answer = {
    lines: [
      line('Inbox/b.part', 'An unfinished download', 3_000_000),
      line('Inbox/a.txt', 'Text, not music', 500),
      line('Old', 'An empty folder', 0, { what: 'folder' }),
    ],
    more: false,
  };
  sent = serveAll();
});
afterEach(cleanup);
const rows = (): (string | null)[] =>
  [...document.querySelectorAll('[data-other]')].map((r) => r.getAttribute('data-other'));
const choose = (path: string, keys: { ctrlKey?: boolean } = {}): void => {
  const row = document.querySelector(`[data-other="${path}"]`)!;
  fireEvent.pointerDown(row, { button: 0, ...keys });
  fireEvent.click(row, keys);
};
const open = async (): Promise<void> => {
  show(<OthersView />);
  await waitFor(() => expect(rows()).toHaveLength(answer.lines.length));
};

test('is counted, sorted, and shown by what it is', async () => {
  await open();
  expect(screen.getByTestId('others-count').textContent).toBe('2 files and 1 empty folder · 2.9 MB');
  expect(rows()).toEqual(['Inbox/a.txt', 'Inbox/b.part', 'Old']);
  fireEvent.click(within(screen.getByRole('columnheader', { name: /Size/ })).getByRole('button'));
  await waitFor(() => expect(rows()).toEqual(['Inbox/b.part', 'Inbox/a.txt', 'Old']));
  const panel = within(screen.getByRole('complementary', { name: 'What it is' }));
  fireEvent.click(panel.getByRole('button', { name: /An unfinished download/ }));
  await waitFor(() => expect(rows()).toEqual(['Inbox/b.part']));
  fireEvent.click(panel.getByRole('button', { name: /Everything/ }));
  await waitFor(() => expect(rows()).toHaveLength(3));
});

test('what is chosen is put aside, by button and by key', async () => {
  await open();
  expect(screen.queryByRole('button', { name: /quarantine$/ })).toBeNull();
  choose('Inbox/a.txt');
  choose('Old', { ctrlKey: true });
  fireEvent.click(await screen.findByRole('button', { name: 'Put 1 file into quarantine, remove 1 empty folder' }));
  const refs = ['Inbox/a.txt', 'Old'].map((path) => ({ rootId: 1, path }));
  await waitFor(() => expect(sent).toEqual([{ path: '/disk/others/put-aside', body: { refs } }]));
  choose('Old');
  await screen.findByRole('button', { name: 'Remove 1 folder' });
  fireEvent.keyDown(screen.getByRole('grid', { name: 'What is not music' }), { key: 'Delete' });
  await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/disk/others/put-aside', body: { refs: refs.slice(1) } }));
});

test('nothing, and a server that does not answer, say so', async () => {
  answer = { lines: [], more: false };
  show(<OthersView />);
  await screen.findByText('Nothing but music');
  cleanup();
  serve({
    '/disk/others': new Refusal(503, 'no-database', 'The database is not there'),
    '/settings': DEFAULT_SETTINGS,
  });
  show(<OthersView />);
  await screen.findByText('The database is not there');
});
