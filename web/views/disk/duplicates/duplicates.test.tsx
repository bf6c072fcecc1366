/** Duplicates: groups, their files side by side, an order of one's own, and the draft until it is applied. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { DuplicateFile, DuplicateGroupLine, Duplicates } from '@early-set/core/api/disk';
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { endAudition, trackInHand } from '../../../audition/player.ts';
import { fakeAudio } from '../../../testing/audio.ts';
import { Refusal, serve, show, tell, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { Toaster } from 'sonner';
import { DuplicatesView } from './DuplicatesView.tsx';

fakeAudio();
sizedPage();
const file = (trackId: number, more: Partial<DuplicateFile> = {}): DuplicateFile => ({
  trackId,
  title: 'Slack Water',
  artist: 'Odette Kassar',
  version: '',
  rootId: 1,
  root: 'Music',
  folder: 'Inbox',
  path: `Inbox/${trackId}.mp3`,
  size: 5_000_000,
  format: 'MP3',
  codec: 'MP3',
  bitrate: 320,
  sampleRate: 44_100,
  bandwidthHz: 20_000,
  durationSeconds: 100,
  lufs: -9,
  soundsReencoded: false,
  lists: [],
  cues: 0,
  lacks: [],
  filled: 9,
  addedAt: '2030-01-01T10:00:00Z',
  sections: [
    { label: 'intro', startSeconds: 0, endSeconds: 20, level: 0.5 },
    { label: 'main', startSeconds: 20, endSeconds: 100, level: 1 },
  ],
  ...more,
});
const group = (kind: DuplicateGroupLine['kind'], files: DuplicateFile[], more = {}): DuplicateGroupLine => ({
  kind,
  version: null,
  trackIds: files.map((f) => f.trackId),
  offsets: files.map(() => 0),
  files,
  ...more,
});
const lossless = file(2, { format: 'FLAC', codec: 'FLAC', path: 'Crates/2.flac', folder: 'Crates' });
const GROUPS: DuplicateGroupLine[] = [
  group('same recording', [file(1, { lists: ['Slipway'], lacks: ['Year'] }), lossless], { offsets: [0, 2] }),
  group('cut short', [file(3, { title: 'Tin Ladle' }), file(4, { durationSeconds: 60 })]),
  group('kept apart', [file(5, { title: 'Eel Grass' }), file(6)], { version: 'edit' }),
];

let answer: Duplicates, settings: DeskSettings, sent: Sent[];
beforeEach(() => {
  answer = { groups: GROUPS, parted: [], waiting: 0, earlier: 0 };
  settings = DEFAULT_SETTINGS;
  ({ sent } = serve({
    '/disk/duplicates/settle': () => {
      answer = { ...answer, groups: GROUPS.slice(1) };
      return { changeSetId: 5, title: 'Put 1 duplicate into quarantine', done: 2, conflicts: [] };
    },
    '/disk/duplicates/parted': {},
    '/disk/duplicates/look': { runId: 3 },
    '/disk/duplicates': () => answer,
    '/disk/quarantine': { files: [], bytes: 0 },
    '/disk/others': { lines: [], more: false },
    '/disk/places': { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null },
    '/disk/not-found': { lines: [], away: [] },
    '/settings': (body: unknown) => (settings = { ...settings, ...(body as Partial<DeskSettings> | undefined) }),
    '/tracks': (_: unknown, { pathname }: URL) => ({ id: Number(/\d+/.exec(pathname)![0]), values: {} }),
    '/roots': [],
    '/runs': [],
    '/analysis': { runId: 4, tracks: 3 },
    '/overview': {},
  }));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

const open = async (): Promise<HTMLElement> => {
  show(
    <>
      <DuplicatesView />
      <Toaster />
    </>,
  );
  return screen.findByRole('grid', { name: 'Groups of duplicates' });
};
const rowOf = (ids: string): HTMLElement => document.querySelector<HTMLElement>(`[data-copies="${ids}"]`)!;
const choose = (ids: string): void => {
  fireEvent.pointerDown(rowOf(ids), { button: 0 });
  fireEvent.click(rowOf(ids));
};
const card = (trackId: number): HTMLElement => document.querySelector<HTMLElement>(`[data-file="${trackId}"]`)!;
const draft = (): HTMLElement => screen.getByRole('region', { name: 'Draft of duplicates' });
const settled = (): unknown => sent.find((s) => s.path === '/disk/duplicates/settle')?.body;

describe('groups', () => {
  test('say what they are and what decided; only what is sure is in the draft', async () => {
    await open();
    expect(screen.getByTestId('duplicates-count').textContent).toBe('3 groups · 1 file would go');
    expect(rowOf('1-2').textContent).toContain('same recordingLossless before lossy');
    expect(rowOf('3-4').textContent).toContain('one is cut shortleft as they are');
    expect(rowOf('5-6').textContent).toContain('edit, kept apart');
    expect(draft().textContent).toContain('1 file to quarantine, 4.8 MB');
    expect(within(card(2)).getByText('Stays')).toBeTruthy();
    expect(within(card(1)).getByText('To quarantine')).toBeTruthy();
    expect(within(card(1)).getByText('no year').className).toContain('sodium');
    // The second begins two seconds later on the first, and so do its sections.
    const main = (id: number): string => card(id).querySelector<HTMLElement>('[data-section=main]')!.style.left;
    expect([parseFloat(main(1)), parseFloat(main(2))].map((n) => Math.round(n * 10) / 10)).toEqual([19.6, 21.6]);
  });

  test('of what is kept apart nothing can be settled', async () => {
    await open();
    choose('5-6');
    await waitFor(() => expect(within(card(5)).getByText('Kept apart')).toBeTruthy());
    expect(screen.queryByRole('button', { name: 'Not duplicates' })).toBeNull();
  });

  test('none, or not compared yet: it says what to do, and looking is begun', async () => {
    answer = { groups: [], parted: [], waiting: 7, earlier: 0 };
    show(<DuplicatesView />);
    expect(await screen.findByText('7 measured tracks not compared yet.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Look for duplicates' }));
    await waitFor(() => expect(sent.some((s) => s.path === '/disk/duplicates/look')).toBe(true));
  });

  test('cannot be read: it is said', async () => {
    serve({ '/disk/duplicates': new Refusal(503, 'no-database', 'The database is not there') });
    show(<DuplicatesView />);
    expect(await screen.findByText('The database is not there')).toBeTruthy();
  });
});

describe('the draft', () => {
  test('another file stays by hand, a group is taken in by key; what is applied is just that', async () => {
    await open();
    fireEvent.click(within(card(1)).getByRole('button', { name: 'Keep Inbox/1.mp3' }));
    await waitFor(() => expect(rowOf('1-2').textContent).toContain('by hand'));
    choose('3-4');
    fireEvent.keyDown(screen.getByRole('grid'), { key: 'Delete' });
    await waitFor(() => expect(rowOf('3-4').textContent).toContain('Longest'));
    expect(settled()).toBeUndefined();
    fireEvent.click(within(draft()).getByRole('button', { name: 'Apply' }));
    await waitFor(() => expect(settled()).toBeDefined());
    expect(settled()).toEqual({
      groups: [
        { keep: 1, go: [2] },
        { keep: 3, go: [4] },
      ],
    });
    act(() => tell({ kind: 'tracks' }));
    await waitFor(() => expect(rowOf('1-2')).toBeNull());
  });

  test('discarded, nothing goes; a group is no duplicate by word', async () => {
    await open();
    fireEvent.click(within(draft()).getByRole('button', { name: 'Discard' }));
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Draft of duplicates' })).toBeNull());
    fireEvent.click(screen.getByRole('button', { name: 'Not duplicates' }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/disk/duplicates/parted')?.body).toEqual({ trackIds: [1, 2], parted: true }),
    );
    const said = (await screen.findByText('They are no duplicates from now on')).closest('li')!;
    fireEvent.click(within(said).getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(sent.at(-1)!.body).toEqual({ trackIds: [1, 2], parted: false }));
  });

  test('what was said to be no duplicates is shown, and is one again by word', async () => {
    answer = { ...answer, groups: GROUPS.slice(1), parted: GROUPS.slice(0, 1) };
    await open();
    expect(rowOf('1-2')).toBeNull();
    fireEvent.click(screen.getByRole('radio', { name: 'Not duplicates' }));
    await waitFor(() => expect(rowOf('1-2')?.textContent).toContain('same recording'));
    expect(rowOf('3-4')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Duplicates after all' }));
    await waitFor(() => expect(sent.at(-1)!.body).toEqual({ trackIds: [1, 2], parted: false }));
    fireEvent.click(screen.getByRole('radio', { name: 'All' }));
  });

  test('tracks measured too coarsely are counted, and measured again', async () => {
    answer = { ...answer, earlier: 3 };
    await open();
    expect(screen.getByText(/3 tracks were measured by an earlier version/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Measure again' }));
    await waitFor(() =>
      expect(sent.at(-1)).toMatchObject({ path: '/analysis', body: { older: true, selection: { except: [] } } }),
    );
  });

  test('an order of one’s own decides', async () => {
    settings = { ...DEFAULT_SETTINGS, keepOrder: { criteria: ['lists and cues', 'lossless'], folders: [] } };
    await open();
    await waitFor(() => expect(rowOf('1-2').textContent).toContain('In lists, with cues'));
    expect(within(card(1)).getByText('Stays')).toBeTruthy();
  });
});

test('a preferred folder is chosen, moved and given up', async () => {
  settings = { ...DEFAULT_SETTINGS, keepOrder: { criteria: ['folder', 'lossless'], folders: [] } };
  await open();
  expect(screen.getByText(/decides nothing/)).toBeTruthy();
  const add = screen.getByLabelText('Add a preferred folder');
  expect([...add.querySelectorAll('option')].map((o) => o.textContent)).toEqual([
    'Add a folder…',
    'Music/Crates',
    'Music/Inbox',
  ]);
  fireEvent.change(add, { target: { value: 'Music/Inbox' } });
  await waitFor(() => expect(rowOf('1-2').textContent).toContain('Preferred folder'));
  expect(within(card(1)).getByText('Stays')).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Add a preferred folder'), { target: { value: 'Music/Crates' } });
  fireEvent.keyDown(screen.getByRole('button', { name: 'Move Music/Crates' }), { key: 'Home' });
  await waitFor(() => expect(settings.keepOrder.folders).toEqual(['Music/Crates', 'Music/Inbox']));
  expect(within(card(2)).getByText('Stays')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'No longer prefer Music/Crates' }));
  await waitFor(() => expect(settings.keepOrder.folders).toEqual(['Music/Inbox']));
});

test('keys pressed faster than answers come move a line on and on; what is kept is the last order', async () => {
  await open();
  const line = screen.getByRole('button', { name: 'Move Added first' });
  for (let i = 0; i < 8; i++) fireEvent.keyDown(line, { key: 'ArrowUp' });
  const first = (): string =>
    within(screen.getByRole('list', { name: 'What decides' })).getAllByRole('listitem')[0]!.textContent;
  expect(first()).toContain('Added first');
  await waitFor(() => expect(settings.keepOrder.criteria[0]).toBe('added first'));
  await act(async () => tell({ kind: 'settings' }));
  expect(first()).toContain('Added first');
  expect(settings.keepOrder.criteria.slice(1)).toEqual(DEFAULT_SETTINGS.keepOrder.criteria.slice(0, 8));
});

test('files are heard by their numbers, from the same moment', async () => {
  await open();
  fireEvent.keyDown(screen.getByRole('grid'), { key: '2' });
  await waitFor(() => expect(trackInHand()).toBe(2));
  fireEvent.keyDown(screen.getByRole('grid'), { key: '1' });
  await waitFor(() => expect(trackInHand()).toBe(1));
});
