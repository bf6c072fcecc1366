/** Backups: what is said of each, what is asked before one is restored or removed, when and where they go. */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { BackupLine, BackupsHere, RestoreProgress } from '@early-set/core/api/backups';
import type { RunProgress } from '@early-set/core/api/types';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';

const openAnew = jest.fn();
jest.unstable_mockModule('../../data/openAnew.ts', () => ({ openAnew }));
const { BackupsView } = await import('./BackupsView.tsx');

sizedPage();
const backup = (day: number, more: Partial<BackupLine> = {}): BackupLine => ({
  ...{ id: `202611${day}T040000Z-schedule`, madeAt: `2026-11-${day}T04:00:00Z`, reason: 'schedule', bytes: 2_600_000 },
  ...{ tracks: 96, lists: 21, changes: 4, files: 25, verifiedAt: `2026-11-${day}T04:01:00Z`, trouble: null },
  ...{ keptAs: ['day'], newer: false },
  ...more,
});
let runs: Partial<RunProgress>[];
let here: BackupsHere, sent: Sent[], restoring: (() => RestoreProgress | null) | null;
beforeEach(() => {
  openAnew.mockClear();
  restoring = null;
  runs = [];
  here = {
    ...{ folder: '/data/backups', trouble: null, sameDrive: false, freeBytes: 5e10, nextAt: '2026-12-01T04:00:00Z' },
    ...{ restored: null, canRestore: true },
    backups: [backup(30), backup(29, { keptAs: null }), backup(28, { trouble: 'a.jpg is not there any more' })],
  };
  ({ sent } = serve({
    '/backups/restoring/cancel': {},
    '/backups/restoring': () => (restoring ? restoring() : null),
    '/backups/settings': () => here,
    [`/backups/${here.backups[0]!.id}`]: () => here,
    [`/backups/${here.backups[1]!.id}`]: () => here,
    '/backups': () => here,
    '/settings': DEFAULT_SETTINGS,
    '/runs': () => runs,
    '/overview': { tracks: 120 },
    '/places': [],
  }));
});
afterEach(cleanup);

const choose = async (day: number): Promise<HTMLElement> => {
  show(<BackupsView />);
  const row = await waitFor(() => {
    const found = document.querySelector<HTMLElement>(`[data-backup^="202611${day}"]`);
    expect(found).not.toBeNull();
    return found!;
  });
  fireEvent.pointerDown(row, { button: 0 });
  fireEvent.click(row);
  return screen.findByRole('complementary', { name: 'Backup' });
};

test('each says what it holds, whether it can be restored, and why it stays', async () => {
  show(<BackupsView />);
  const grid = await screen.findByRole('grid', { name: /Backups/ });
  await waitFor(() => expect(within(grid).getAllByRole('row')).toHaveLength(4));
  expect(grid.textContent).toContain('96 tracks, 21 lists, 4 changes');
  expect(grid.textContent).toContain('Last of its day');
  expect(grid.textContent).toContain('Goes with the next');
  expect(grid.textContent).toContain('Cannot be restored');
  expect(screen.getByRole('alert').textContent).toContain('a.jpg is not there any more');
});

test('what stands in the way is said', async () => {
  here = { ...here, trouble: 'The folder for backups is not there: /media/x', backups: [] };
  show(<BackupsView />);
  expect((await screen.findByRole('alert')).textContent).toContain('/media/x');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Back up now' }).disabled).toBe(true);
  expect(screen.getByText('No backup yet')).not.toBeNull();
});

test('one that is being made shows how far it is; one that failed says why, and is tried again', async () => {
  const run = {
    id: 7,
    kind: 'backup',
    title: 'Backup',
    total: 0,
    done: 0,
    failed: 0,
    current: 'The database',
    rate: null,
  };
  runs = [{ ...run, secondsLeft: null, state: 'running' } as Partial<RunProgress>];
  const { unmount } = show(<BackupsView />);
  expect((await screen.findByRole('region', { name: 'Running' })).textContent).toContain('The database');
  unmount();
  runs = [{ ...run, state: 'failed', reason: 'The drive of /x is full', canRetry: true } as Partial<RunProgress>];
  show(<BackupsView />);
  await screen.findByText('Backup: The drive of /x is full');
  expect(screen.getByRole('button', { name: 'Try again' })).not.toBeNull();
});

test('restoring says what it does, then follows it, and opens the page anew', async () => {
  here = { ...here, restored: { id: 'w', at: '2026-11-29T12:00:00Z', reason: null, before: null } };
  await choose(30);
  fireEvent.click(screen.getByRole('button', { name: 'Restore…' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('96 tracks instead of 120');
  expect(dialog.textContent).toContain('Music files are not touched');
  let step = 'Restoring the database',
    canCancel = true;
  restoring = () => ({ id: 'x', step, canCancel });
  fireEvent.click(within(dialog).getByRole('button', { name: 'Back up, then restore' }));
  await screen.findByText('Restoring the database…');
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  await waitFor(() =>
    expect(globalThis.fetch).toHaveBeenCalledWith('/api/backups/restoring/cancel', expect.anything()),
  );
  step = 'Finishing';
  canCancel = false;
  await screen.findByText('Finishing…');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Cancel' }).disabled).toBe(true);
  expect(openAnew).not.toHaveBeenCalled();
  // It answers again; that an earlier one was restored says nothing of this one.
  restoring = null;
  here = { ...here, restored: { id: 'x', at: '2026-11-30T12:00:00Z', reason: null, before: null } };
  await waitFor(() => expect(openAnew).toHaveBeenCalled());
});

test('one that is bad or of a newer version cannot be restored; removing asks', async () => {
  here.backups[0] = backup(30, { newer: true });
  await choose(30);
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Restore…' }).disabled).toBe(true);
  fireEvent.click(screen.getByRole('button', { name: 'Remove…' }));
  const dialog = await screen.findByRole('dialog');
  here = { ...here, backups: here.backups.slice(1) };
  fireEvent.click(within(dialog).getByRole('button', { name: 'Remove this backup' }));
  await waitFor(() => expect(document.querySelectorAll('[data-backup]')).toHaveLength(2));
});

test('the time of day and how long they stay are kept as they are typed; what cannot be is brought back', async () => {
  show(<BackupsView />);
  const time = await screen.findByLabelText<HTMLInputElement>('Time of day');
  fireEvent.change(time, { target: { value: 'noon' } });
  fireEvent.blur(time);
  expect(time.value).toBe('04:00');
  fireEvent.change(time, { target: { value: '6.30' } });
  fireEvent.blur(time);
  await waitFor(() => expect(sent.at(-1)?.body).toMatchObject({ at: '06:30', on: true }));
  const weeks = screen.getByLabelText('How many weeks');
  fireEvent.change(weeks, { target: { value: '8' } });
  fireEvent.keyDown(weeks, { key: 'Enter' });
  await waitFor(() => expect(sent.at(-1)?.body).toMatchObject({ keep: { days: 7, weeks: 8, months: 12 } }));
});

test('a folder that is refused is not taken, and said', async () => {
  serve({
    '/backups/settings': new Refusal(409, 'inside-root', 'This folder lies in Music'),
    '/backups': () => here,
    '/settings': DEFAULT_SETTINGS,
    '/runs': [],
    '/places/browse': { path: '/music', parent: null, folders: [], lists: [], audioFiles: 3, otherFiles: 0 },
    '/places': [{ path: '/music', label: 'Music' }],
  });
  show(<BackupsView />);
  fireEvent.click(await screen.findByRole('button', { name: 'Another folder…' }));
  const use = await screen.findByRole('button', { name: 'Use this folder' });
  await waitFor(() => expect((use as HTMLButtonElement).disabled).toBe(false));
  fireEvent.click(use);
  await waitFor(() => expect(globalThis.fetch).toHaveBeenCalledWith('/api/backups/settings', expect.anything()));
  expect(screen.getByRole('dialog')).not.toBeNull();
});
