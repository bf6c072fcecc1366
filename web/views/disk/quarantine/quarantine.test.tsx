/** Quarantine: what lies there, restored, deleted only after asking, by age only when that is chosen. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Emptied, Quarantine, QuarantinedFile } from '@early-set/core/api/disk';
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { QuarantineView } from './QuarantineView.tsx';

sizedPage();
const file = (n: number, more: Partial<QuarantinedFile> = {}): QuarantinedFile => ({
  fileId: `f${n}`,
  trackId: n,
  title: 'Slack Water',
  artist: 'Odette Kassar',
  rootId: 1,
  root: 'Music',
  away: false,
  path: `.early-set-quarantine/f${n}/${n}.mp3`,
  from: `Inbox/${n}.mp3`,
  size: 2_000_000,
  since: '2030-01-01T10:00:00Z',
  main: false,
  reason: null,
  modifiedMs: 0,
  ...more,
});

let answer: Quarantine, settings: DeskSettings, sent: Sent[], emptied: Emptied;
beforeEach(() => {
  answer = { files: [file(1), file(2, { main: true }), file(3, { away: true, from: null })], bytes: 6_000_000 };
  settings = DEFAULT_SETTINGS;
  emptied = { files: 1, bytes: 2_000_000, left: [] };
  ({ sent } = serve({
    '/disk/quarantine/restore': { changeSetId: 5, title: 'Put 1 file back', done: 1, conflicts: [] },
    '/disk/quarantine/empty': () => emptied,
    '/disk/quarantine': () => answer,
    '/disk/others': { lines: [], more: false },
    '/disk/places': { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null },
    '/disk/not-found': { lines: [], away: [] },
    '/disk/duplicates': { groups: [], parted: [], waiting: 0, earlier: 0 },
    '/settings': (body: unknown) => (settings = { ...settings, ...(body as Partial<DeskSettings> | undefined) }),
    '/roots': [],
    '/runs': [],
    '/overview': {},
  }));
});
afterEach(cleanup);

const open = async (): Promise<HTMLElement> => {
  show(<QuarantineView />);
  return screen.findByRole('grid', { name: 'Files in quarantine' });
};
const row = (from: string): HTMLElement => document.querySelector<HTMLElement>(`[data-quarantined="${from}"]`)!;
const choose = (from: string): void => {
  fireEvent.pointerDown(row(from), { button: 0 });
  fireEvent.click(row(from));
};
const bodyOf = (path: string): unknown => sent.findLast((s) => s.path === path)?.body;

test('what lies there is told; one is restored by key, all by button', async () => {
  const grid = await open();
  expect(screen.getByTestId('quarantine-count').textContent).toBe('3 files · 5.7 MB');
  expect(grid.textContent).toContain('3.mp3');
  expect(grid.textContent).toContain('Music, drive not there');
  fireEvent.click(screen.getByRole('button', { name: 'Restore all' }));
  await waitFor(() => expect(bodyOf('/disk/quarantine/restore')).toEqual({ fileIds: null }));
  choose('Inbox/1.mp3');
  fireEvent.keyDown(grid, { key: 'Enter' });
  await waitFor(() => expect(bodyOf('/disk/quarantine/restore')).toEqual({ fileIds: ['f1'] }));
});

test('deleting asks with the sum, says what has no other file, and names what was left', async () => {
  const grid = await open();
  choose('Inbox/2.mp3');
  fireEvent.keyDown(grid, { key: 'Delete' });
  const dialog = await screen.findByRole('dialog', { name: 'Delete for good' });
  expect(dialog.textContent).toContain('1 file, 1.9 MB. This cannot be undone.');
  expect(dialog.textContent).toContain('1 track has no other file');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Cancel' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(bodyOf('/disk/quarantine/empty')).toBeUndefined();
  emptied = { files: 0, bytes: 0, left: [{ path: 'Music: Inbox/2.mp3', reason: 'The drive is read-only' }] };
  fireEvent.click(screen.getByRole('button', { name: 'Delete 1…' }));
  fireEvent.click(await screen.findByRole('button', { name: 'Delete 1 file' }));
  await waitFor(() => expect(bodyOf('/disk/quarantine/empty')).toEqual({ fileIds: ['f2'] }));
  expect((await screen.findByRole('alert')).textContent).toBe('Music: Inbox/2.mp3: The drive is read-only');
});

test('by age it is off, until somebody turns it on', async () => {
  await open();
  expect(screen.queryByLabelText('Days in quarantine')).toBeNull();
  fireEvent.click(screen.getByLabelText('Delete what is older, without asking'));
  await waitFor(() => expect(settings.quarantineDays).toBe(90));
  const days = screen.getByLabelText('Days in quarantine');
  for (const [typed, kept] of [
    ['30', 30],
    ['0', 30],
  ] as const) {
    fireEvent.change(days, { target: { value: typed } });
    fireEvent.blur(days);
    await waitFor(() => expect(settings.quarantineDays).toBe(kept));
  }
  fireEvent.click(screen.getByLabelText('Delete what is older, without asking'));
  await waitFor(() => expect(settings.quarantineDays).toBeNull());
});

test('nothing there, or not to be read: it is said', async () => {
  answer = { files: [], bytes: 0 };
  show(<QuarantineView />);
  expect(await screen.findByText('Nothing lies in quarantine')).toBeTruthy();
  cleanup();
  serve({ '/disk/quarantine': new Refusal(503, 'no-database', 'The database is not there'), '/settings': settings });
  show(<QuarantineView />);
  expect(await screen.findByText(/The database is not there/)).toBeTruthy();
});
