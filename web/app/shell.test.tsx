import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { toast, Toaster } from 'sonner';
import type { Overview, RunProgress } from '@early-set/core/api/types';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { endAudition, audition } from '../audition/player.ts';
import { write } from '../data/remembered.ts';
import { fakeAudio } from '../testing/audio.ts';
import { Refusal, serve, show, tell, type Sent } from '../testing/server.tsx';
import { Shell } from './Shell.tsx';
import { sheetRow } from '../testing/rows.ts';

fakeAudio();
globalThis.matchMedia = (() => ({
  matches: false,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
})) as unknown as typeof matchMedia;

const overview: Overview = {
  tracks: 84,
  measured: 80,
  totalSeconds: 9000,
  unwritten: 0,
  notReady: { floor: 4, playout: 9 },
  stages: {
    today: { count: 2, level: 0.5 },
    intake: { count: 3, level: 1 },
    tracks: { count: 84, level: null },
    clean: { count: 12, level: 0.857 },
    arrange: { count: 5, level: null },
    disk: { count: 1, level: null },
    handover: { count: 2, level: 0.5 },
    changes: { count: 7, level: null },
  },
} as unknown as Overview;
const run = (more: Partial<RunProgress> = {}): RunProgress => ({
  id: 3,
  kind: 'analysis',
  title: 'Measure 40 tracks',
  state: 'running',
  reason: null,
  rootId: 1,
  stickId: null,
  total: 40,
  done: 9,
  failed: 1,
  current: 'crate/slow.flac',
  report: null,
  startedAt: '',
  finishedAt: null,
  rate: 2.5,
  secondsLeft: 12,
  canRetry: false,
  ...more,
});
const applied = (title: string, more: object = {}) => ({ changeSetId: 11, title, done: 1, conflicts: [], ...more });

let runs: RunProgress[];
let sent: Sent[];
const answers = () => ({
  '/overview': overview,
  '/runs/3/cancel': {},
  '/runs': () => runs,
  '/settings': (body: unknown) => ({ ...DEFAULT_SETTINGS, ...(body as object | undefined) }),
  '/undo': applied('Undo: Title on one track'),
});
beforeEach(() => {
  write('theme', 'day');
  runs = [];
  ({ sent } = serve(answers()));
});
afterEach(() => {
  act(() => {
    endAudition();
    toast.dismiss();
  });
  cleanup();
});
const open = async (): Promise<void> => {
  show(
    <>
      <Routes>
        <Route element={<Shell />}>
          <Route path="*" element={<input aria-label="Somewhere to type" />} />
        </Route>
      </Routes>
      <Toaster />
    </>,
    '/tracks',
  );
  await waitFor(() => expect(screen.getByRole('link', { name: 'Today: 2 ahead, 50 % done' })).toBeTruthy());
};
const press = (key: string, more: object = {}, at: Element = document.body): void => {
  fireEvent.keyDown(at, { key, ...more });
};
const undos = (): unknown[] => sent.filter((s) => s.path === '/undo').map((s) => s.body);

describe('the frame', () => {
  test('every stage says what is left, and the one in hand is marked', async () => {
    await open();
    const stages = within(screen.getByRole('navigation', { name: 'Stages' })).getAllByRole('link');
    expect(stages.map((s) => s.getAttribute('aria-label'))).toEqual([
      'Today: 2 ahead, 50 % done',
      'Intake: 3 not taken, 100 % done',
      'Tracks: 84 in all',
      'Clean: 12 with gaps, 86 % done',
      'Arrange: 5 lists',
      'Disk: 1 to look at',
      'Handover: 2 behind, 50 % done',
      'Changes: 7 this week',
    ]);
    expect(stages.filter((s) => s.getAttribute('aria-current') === 'page').map((s) => s.textContent)).toEqual([
      'Tracks84in all',
    ]);
  });

  test('what runs is seen from everywhere, with what is left, and can be cancelled', async () => {
    runs = [run({ id: 4, kind: 'intake', title: 'Read Shelf', total: 0, current: null }), run()];
    await open();
    const bar = await screen.findByRole('progressbar', { name: 'Measure 40 tracks' });
    expect(bar.getAttribute('aria-valuenow')).toBe('25');
    fireEvent.click(bar.closest('button')!);
    expect(screen.getByText(/Measuring 10 of 40, 1 failure · 2.5 a second/)).toBeTruthy();
    expect(screen.getByText('crate/slow.flac')).toBeTruthy();
    fireEvent.click(screen.getAllByRole('button', { name: 'Cancel' })[1]!);
    await waitFor(() => expect(sent.map((s) => s.path)).toEqual(['/runs/3/cancel']));
    runs = [];
    tell({ kind: 'run', runId: 3 });
    await waitFor(() => expect(screen.getByText('Nothing running')).toBeTruthy());
  });

  test('a run that copies is told in bytes', async () => {
    runs = [run({ kind: 'writing', title: 'Write files', report: { copied: 3_000_000, toCopy: 4_000_000 } })];
    await open();
    const bar = await screen.findByRole('progressbar', { name: 'Write files' });
    expect(bar.getAttribute('aria-valuenow')).toBe('75');
    expect(screen.getByText('Writing 10 of 40, 2.9 MB of 3.8 MB')).toBeTruthy();
  });

  test('day and night are remembered', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Night colours' }));
    expect(document.documentElement.dataset.theme).toBe('night');
    expect(JSON.parse(localStorage.getItem('early-set:theme')!)).toBe('night');
    fireEvent.click(screen.getByRole('button', { name: 'Day colours' }));
    expect(document.documentElement.dataset.theme).toBe('day');
  });

  test('settings count at once', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Settings' }));
    fireEvent.change(await screen.findByLabelText('When a file says something else'), { target: { value: 'replace' } });
    fireEvent.change(screen.getByLabelText('Version of new ID3 tags'), { target: { value: '3' } });
    fireEvent.change(screen.getByLabelText('Where edits go'), { target: { value: 'library' } });
    await waitFor(() =>
      expect(sent.map((s) => s.body)).toEqual([
        { changedFiles: 'replace' },
        { newId3Version: 3 },
        { editsGoTo: 'library' },
      ]),
    );
  });
});

describe('keys that count everywhere', () => {
  test('Control Z takes back, with Shift it brings back; where somebody types it is the browser’s', async () => {
    await open();
    press('z', { ctrlKey: true });
    await waitFor(() => expect(screen.getByText('Undo: Title on one track')).toBeTruthy());
    press('Z', { ctrlKey: true, shiftKey: true });
    press('z', { ctrlKey: true }, screen.getByLabelText('Somewhere to type'));
    await waitFor(() => expect(undos()).toEqual([{ redo: false }, { redo: true }]));
  });

  test('what stood in the way is said; nothing to take back is no error', async () => {
    serve({
      ...answers(),
      '/undo': applied('Undo: Genre', { conflicts: [{ item: {}, reason: 'The file says something else now' }] }),
    });
    await open();
    press('z', { metaKey: true });
    await waitFor(() => expect(screen.getByText('The file says something else now')).toBeTruthy());
    serve({ ...answers(), '/undo': new Refusal(409, 'nothing-to-do', 'There is nothing to take back') });
    press('z', { ctrlKey: true });
    await waitFor(() => expect(screen.getByText('There is nothing to take back')).toBeTruthy());
  });

  test('all actions by name: typed, chosen, done', async () => {
    await open();
    press('k', { ctrlKey: true });
    const dialog = within(await screen.findByRole('dialog', { name: 'All actions' }));
    const box = dialog.getByPlaceholderText('Type what you want to do');
    fireEvent.change(box, { target: { value: 'undo the last' } });
    await waitFor(() => expect(dialog.getAllByRole('option')).toHaveLength(1));
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() => expect(undos()).toEqual([{ redo: false }]));
    expect(screen.queryByRole('dialog')).toBeNull();
    press('?');
    expect(await screen.findByRole('dialog', { name: 'Keys' })).toBeTruthy();
  });

  test('the audition goes on from page to page: its strip, its space bar, its jumps', async () => {
    await open();
    await act(async () => {
      audition(
        sheetRow(5, { title: 'Low Water', artist: ['Keel Nine'], durationSeconds: 100, lufs: -14, truePeakDbtp: -6 }),
      );
      await Promise.resolve();
    });
    const strip = within(screen.getByRole('region', { name: 'Audition' }));
    expect(strip.getByText(/^0:00 \/ 1:40 · level-matched/)).toBeTruthy();
    press('.');
    expect(strip.getByText(/^0:30 \/ 1:40/)).toBeTruthy();
    press(',');
    expect(strip.getByText(/^0:00/)).toBeTruthy();
    press(' ');
    expect(strip.getByRole('button', { name: 'Play' })).toBeTruthy();
    press(' ', {}, screen.getByLabelText('Somewhere to type'));
    expect(strip.getByRole('button', { name: 'Play' })).toBeTruthy();
    fireEvent.click(strip.getByRole('button', { name: 'End audition' }));
    expect(screen.queryByRole('region', { name: 'Audition' })).toBeNull();
  });
});
