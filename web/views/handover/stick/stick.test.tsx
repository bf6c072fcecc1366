import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { jest } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { DEFAULT_STICK, type StickAnswer, type StickFileLine, type StickLine } from '@early-set/core/api/stick';
import type { RunProgress } from '@early-set/core/api/types';
import { PLAYERS } from '@early-set/core/stick/player';
import { Route, Routes } from 'react-router';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { StickView } from './StickView.tsx';
import { aboutTime, reportText } from './words.ts';

sizedPage();
const stick = (more: Partial<StickLine> = {}): StickLine => ({
  id: 1,
  player: 'oystercatcher',
  playerName: 'Oystercatcher',
  isPlayout: false,
  name: 'Car stick',
  folder: '/media/CAR',
  settings: { ...DEFAULT_STICK, lists: ['a'] },
  writtenAt: null,
  report: null,
  waiting: 4,
  trouble: null,
  brokenOff: false,
  ...more,
});
const file = (path: string, more: Partial<StickFileLine> = {}): StickFileLine => ({
  path,
  trackId: 1,
  title: path,
  artist: 'Vesna Rook',
  state: 'new',
  bytes: 7_100_000,
  how: 'MP3 as it is',
  converted: false,
  levelled: false,
  cut: false,
  ...more,
});
const answer = (more: Partial<StickAnswer> = {}): StickAnswer => ({
  stickId: 1,
  token: 'abc',
  fileSystem: 'vfat',
  room: { free: 22e9, total: 32e9 },
  bytes: { comes: 30e6, stays: 8e9, goes: 2e6 },
  counts: { files: 3, write: 4, converted: 1, levelled: 0, same: 1, cut: 1, changed: 1 },
  removed: ['Slipway/09 Old.mp3'],
  left: [],
  foreign: 2,
  played: null,
  refused: [{ trackId: 9, name: 'Untitled', playoutId: 9, reason: 'It has no title' }],
  seconds: 240,
  lists: [
    { id: 'a', name: 'First hour', place: ['Slipway'], files: 3, seconds: 700, changes: 2, refused: 0 },
    { id: 'b', name: 'Openers', place: [], files: 1, seconds: 100, changes: 0, refused: 0 },
  ],
  listId: 'a',
  files: [
    file('Slipway/01 Lamp Room.mp3'),
    file('Slipway/02 Eel Grass.m4a', { how: 'FLAC to AAC 256', converted: true }),
    file('Slipway/03 Tin Shed Rain.mp3', { state: 'same', bytes: 0 }),
  ],
  preview: { path: 'Slipway - First hour.m3u8', text: '#EXTM3U' },
  ...more,
});
const hour = (id: string, at: number) => ({
  ...{ id, kind: 'hour', name: `Hour ${id}`, parentId: null, removed: false, tracks: 12, position: 0 },
  onAirAt: new Date(2026, 11, 1, at).getTime() / 1000,
});
const LISTS = [
  hour('h2', 20),
  hour('h1', 19),
  {
    id: 'a',
    kind: 'playlist',
    name: 'First hour',
    parentId: null,
    removed: false,
    tracks: 3,
    position: 0,
    onAirAt: null,
  },
];
const REPORT = { at: '2026-11-28T10:00:00Z', written: 3, removed: 1, bytes: 5e6, total: 3, seconds: 9 };

let reading: Promise<never> | null;
let sent: Sent[], line: StickLine, found: StickAnswer | Refusal, runs: Partial<RunProgress>[], asked: unknown[];
beforeEach(() => {
  [line, found, runs, asked, reading] = [stick(), answer(), [], [], null];
  sent = serve({
    '/sticks/1/look': (body: unknown) => {
      asked.push(body);
      return found;
    },
    '/sticks/1/write': { changeSetId: 7, title: 'Write to Car stick', done: 0, conflicts: [] },
    '/sticks/1/former': { changeSetId: 8, title: 'Write to Car stick', done: 0, conflicts: [] },
    '/sticks/1/verify': () => ({
      checked: 5,
      wrong: [{ path: 'a.mp3', reason: 'It has been changed there' }],
      readBack: 'medium',
    }),
    '/sticks/1/step': () => ({ step: reading ? { done: 2, total: 9 } : null }),
    '/sticks/1/played': () =>
      reading ?? {
        days: [{ day: '2026-11-28.csv', read: 8, known: 2, matched: 7 }],
        unmatched: ['News from the harbour office'],
        failed: [],
      },
    '/sticks/players': Object.values(PLAYERS),
    '/sticks/1': (body: unknown) => {
      const { settings = {} } = (body ?? {}) as Partial<StickLine>;
      return (line = { ...line, settings: { ...line.settings, ...settings } });
    },
    '/sticks': () => [line],
    '/destinations': [],
    '/runs': () => runs,
    '/lists': LISTS,
    '/dates': [],
    '/clean/folders': [],
  }).sent;
});
afterEach(cleanup);

const open = async (): Promise<void> => {
  show(
    <Routes>
      <Route path="/handover/stick/:stickId" element={<StickView />} />
    </Routes>,
    '/handover/stick/1',
  );
  await screen.findByRole('heading', { name: 'Car stick' });
};
const patched = (): unknown[] => sent.filter((s) => s.path === '/sticks/1').map((s) => s.body);

test('what will be there, how it is made, and what it does to the room', async () => {
  await open();
  const rows = await screen.findAllByRole('row');
  expect(
    rows.slice(1).map((r) =>
      within(r)
        .getAllByRole('gridcell')
        .map((c) => c.textContent),
    ),
  ).toEqual([
    ['01 Lamp Room.mp3', 'Vesna Rook', 'MP3 as it is', '6.8 MB'],
    ['02 Eel Grass.m4a', 'Vesna Rook', 'FLAC to AAC 256', '6.8 MB'],
    ['03 Tin Shed Rain.mp3', 'Vesna Rook', 'is there, the same', '–'],
  ]);
  expect(screen.getByTestId('stick-room').textContent).toContain('29 MB comes, 4 files, 1 converted');
  expect(screen.getByTestId('stick-where').textContent).toBe('Oystercatcher, vfat, 20 GB of 30 GB free');
  const draft = screen.getByRole('region', { name: 'Draft' });
  expect(draft.textContent).toContain('4 files, 29 MB, about 4 min');
  expect(draft.textContent).toContain('1 file will be removed. 2 files of others untouched. 1 file that somebody');
  fireEvent.change(screen.getByLabelText('List'), { target: { value: 'b' } });
  await waitFor(() => expect(asked).toContainEqual({ listId: 'b' }));
});

test('it is written as it was looked at', async () => {
  await open();
  fireEvent.click(await screen.findByRole('button', { name: 'Write to Car stick' }));
  await waitFor(() => expect(sent).toContainEqual({ path: '/sticks/1/write', body: { token: 'abc' } }));
});

test('what cannot go there, and what will be removed, is shown by name', async () => {
  await open();
  const cannot = (await screen.findByText('1 track cannot go there')).parentElement!;
  fireEvent.click(within(cannot).getByRole('button'));
  expect((await screen.findByRole('dialog')).textContent).toContain('UntitledIt has no title');
  fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
  fireEvent.click(within(screen.getByText('1 file will be removed').parentElement!).getByRole('button'));
  expect((await screen.findByRole('dialog')).textContent).toContain('Slipway/09 Old.mp3');
});

test('names, formats and loudness are kept as they are set', async () => {
  await open();
  const names = await screen.findByLabelText(/Folders and names/);
  fireEvent.change(names, { target: { value: '{{ title }}' } });
  fireEvent.keyDown(names, { key: 'Enter' });
  const to = screen.getByLabelText<HTMLSelectElement>('To');
  fireEvent.change(to, { target: { value: 'mp3' } });
  await waitFor(() => expect(to.value).toBe('mp3'));
  // The next one builds on it before the server has answered.
  fireEvent.click(screen.getByLabelText('Level the loudness'));
  await waitFor(() => expect(patched()).toHaveLength(3));
  expect(patched()).toEqual([
    { settings: { names: '{{ title }}' } },
    { settings: { convert: { when: 'needed', format: 'mp3', kbps: 256, lufs: null } } },
    { settings: { convert: { when: 'needed', format: 'mp3', kbps: 256, lufs: -14 } } },
  ]);
  const kept = screen.getByLabelText<HTMLTextAreaElement>(/Folders and names/);
  fireEvent.change(kept, { target: { value: 'x' } });
  fireEvent.keyDown(kept, { key: 'Escape' });
  expect(kept.value).toBe('{{ title }}');
});

test('while it is written it says how far it is, and can be called off', async () => {
  runs = [
    {
      // Another one that is called the same.
      ...{ id: 4, stickId: 7, kind: 'writing', state: 'running', title: 'Write files: Write to Car stick' },
      report: { copied: 1, toCopy: 2 },
    },
    {
      ...{ id: 5, stickId: 1, kind: 'writing', state: 'running', title: 'Write files: Write to Car stick' },
      report: { copied: 1_048_576, toCopy: 2_097_152 },
    },
  ];
  await open();
  expect(await screen.findByText('1.0 MB of 2.0 MB written')).toBeDefined();
  const draft = screen.getByRole('region', { name: 'Draft' });
  fireEvent.click(within(draft).getByRole('button', { name: 'Cancel' }));
  await waitFor(() => expect(sent.map((s) => s.path)).toContain('/runs/5/cancel'));
});

test('where it broke off it goes on, or back to what was there', async () => {
  line = stick({
    brokenOff: true,
    report: { ...REPORT, total: 9, failed: [], stopped: 'full', readBack: 'memory' },
  });
  await open();
  expect(await screen.findByRole('button', { name: 'Go on writing' })).toBeDefined();
  expect(screen.getByTestId('stick-report').textContent).toContain('there was no more room): 6 files not written');
  fireEvent.click(screen.getByRole('button', { name: 'Go back' }));
  await waitFor(() => expect(sent.map((s) => s.path)).toContain('/sticks/1/former'));
});

test('verified, what is not as written is named', async () => {
  line = stick({ report: { ...REPORT, failed: [], stopped: null, readBack: 'medium' } });
  await open();
  await screen.findAllByRole('row');
  fireEvent.click(screen.getByRole('button', { name: 'Verify' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('1 file not as written');
  expect(dialog.textContent).toContain('a.mp3It has been changed there');
});

test('removing it says what is forgotten, and asks first', async () => {
  await open();
  fireEvent.click(await screen.findByRole('button', { name: 'Remove…' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('All files on it stay');
  const removed = (): number =>
    (globalThis.fetch as jest.Mock<typeof fetch>).mock.calls.filter(([, init]) => init?.method === 'DELETE').length;
  fireEvent.click(within(dialog).getByRole('button', { name: 'Cancel' }));
  expect(removed()).toBe(0);
  fireEvent.click(screen.getByRole('button', { name: 'Remove…' }));
  fireEvent.click(within(await screen.findByRole('dialog')).getByRole('button', { name: 'Remove' }));
  await waitFor(() => expect(removed()).toBe(1));
});

test('tracks that were chosen by hand can be left out again', async () => {
  line = stick({ settings: { ...DEFAULT_STICK, tracks: [4, 5] } });
  await open();
  fireEvent.click(await screen.findByRole('button', { name: '1 choice…' }));
  fireEvent.click(await screen.findByLabelText('2 tracks chosen on Tracks'));
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(patched()).toEqual([{ settings: { lists: [], dates: [], tracks: [], folders: [] } }]));
});

test('a template that cannot be used, and a stick that is not plugged in, are said', async () => {
  found = new Refusal(400, 'bad-template', 'The rule cannot be used: output not closed');
  await open();
  expect((await screen.findByRole('alert')).textContent).toContain('output not closed');
  cleanup();
  line = stick({ trouble: 'Nothing is plugged in at /media/CAR' });
  await open();
  expect(await screen.findByRole('heading', { name: 'Car stick is not plugged in' })).toBeDefined();
});

test('words of time and reports', () => {
  expect([5, 90, 7200].map(aboutTime)).toEqual(['less than a minute', 'about 2 min', 'about 2.0 h']);
  const text = reportText({ ...REPORT, failed: [{ path: 'a', reason: 'b' }], stopped: null, readBack: 'memory' });
  expect(text).toContain('3 files written, 4.8 MB, 1 file removed. 1 file could not be written.');
  expect(text).toMatch(/not surely from the drive itself\. Safe to remove\.$/);
});

describe('a playout system', () => {
  const TURNSTONE = { player: 'turnstone', playerName: 'Turnstone', isPlayout: true, name: 'Car stick' };
  const item = (id: string, title: string, more: Partial<StickFileLine> = {}): StickFileLine =>
    file(`drop/${id}.wav`, { title, how: 'FLAC to WAV', converted: true, levelled: true, ...more });
  const refused = (trackId: number, name: string, reason: string, mend: 'Sound' | 'Clean') => ({
    ...{ trackId, name, playoutId: trackId, reason, mend },
  });
  beforeEach(() => {
    line = stick(TURNSTONE);
    found = answer({
      lists: [{ id: 'a', name: 'Tue 1 Dec, 19:00', place: [], files: 2, seconds: 700, changes: 1, refused: 2 }],
      files: [item('000007', 'Lamp Room'), item('000008', 'Eel Grass', { state: 'same', bytes: 0 })],
      refused: [
        refused(3, 'Signal Box', 'It has no segue point', 'Sound'),
        refused(4, 'Groyne Nine', 'It has no segue point', 'Sound'),
        refused(4, 'Groyne Nine', 'It has no artist', 'Clean'),
      ],
      played: { days: 3, fresh: 1 },
      preview: { path: 'logs/2026-12-01 1900.csv', text: 'time,id' },
    });
  });

  test('items by ID and title; what it asks for; nothing of folders, names and formats to choose', async () => {
    await open();
    const rows = await screen.findAllByRole('row');
    expect(
      within(rows[1]!)
        .getAllByRole('gridcell')
        .map((c) => c.textContent),
    ).toEqual([...['000007.wav', 'Lamp Room', 'Vesna Rook', 'FLAC to WAV, levelled', '6.8 MB']]);
    const asks = screen.getByRole('complementary', { name: 'What it asks for' });
    expect(asks.textContent).toContain('FormatWAV, 48 kHzLoudness−23.0 LUFSTrue peak at most−1.0 dBTP');
    expect(screen.getByTestId('list-refused').textContent).toContain('2 tracks of this list would be refused');
    expect(screen.queryByText('Folders and names')).toBeNull();
  });

  test('reasons of refusals, the most frequent first, each with its tracks and where they are mended', async () => {
    await open();
    const takes = await screen.findByRole('region', { name: 'What it takes' });
    expect(takes.textContent).toMatch(/2 tracks would be refused.*2: It has no segue point.*1: It has no artist/);
    const [first, second] = within(takes).getAllByRole('button', { name: 'Show…' });
    fireEvent.click(first!);
    const links = (): (string | null)[] =>
      within(screen.getByRole('dialog'))
        .getAllByRole('link')
        .map((l) => l.getAttribute('href'));
    expect(links().slice(0, 2)).toEqual(['/tracks/3/sound', '/tracks/4/sound']);
    expect(decodeURIComponent(links()[2]!)).toContain('"any":[{"field":"playoutId"');
    fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
    fireEvent.click(second!);
    await waitFor(() => expect(links()).toHaveLength(1));
    expect(decodeURIComponent(links()[0]!)).toContain('"low":4,"high":4');
  });

  test('what was played is read, and what is no track here is told; all days can be read again', async () => {
    await open();
    fireEvent.click(await screen.findByRole('button', { name: 'Read what was played' }));
    const dialog = await screen.findByRole('dialog');
    expect(dialog.textContent).toContain('8 lines of 1 day read');
    expect(dialog.textContent).toContain('7 tracks counted as played, 2 known from before, 1 not in the library');
    expect(dialog.textContent).toContain('News from the harbour office');
    expect(sent.at(-1)).toMatchObject({ path: '/sticks/1/played', body: { all: false } });
    found = answer({ played: { days: 3, fresh: 0 } });
    fireEvent.keyDown(dialog, { key: 'Escape' });
    fireEvent.click(screen.getByRole('button', { name: 'Refresh' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Read all days again' }));
    await waitFor(() => expect(sent.at(-1)).toMatchObject({ path: '/sticks/1/played', body: { all: true } }));
  });

  test('while days are read it says how many, and can be cancelled', async () => {
    reading = new Promise(() => undefined);
    await open();
    fireEvent.click(await screen.findByRole('button', { name: 'Read what was played' }));
    await screen.findByText('2 days of 9 read');
    fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    await screen.findByRole('button', { name: 'Read what was played' });
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  test('hours are chosen, by themselves or with their day; other lists stay chosen', async () => {
    await open();
    fireEvent.click(await screen.findByRole('button', { name: '1 choice…' }));
    const dialog = await screen.findByRole('dialog');
    const check = (name: RegExp): HTMLElement => within(dialog).getByRole('checkbox', { name });
    fireEvent.click(check(/^Tuesday 1 December/));
    fireEvent.click(check(/^20:00/));
    expect([check(/^19:00/), check(/^Tuesday/)].map((c) => (c as HTMLInputElement).checked)).toEqual([true, false]);
    fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(patched()).toMatchObject([{ settings: { lists: ['h1', 'a'] } }]));
  });

  test('a folder that is not there is said so', async () => {
    line = stick({ ...TURNSTONE, trouble: 'There is no folder /srv/turnstone' });
    await open();
    expect(screen.getByRole('heading', { name: 'Car stick is not there' })).toBeTruthy();
  });
});
