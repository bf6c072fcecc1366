/** The Disk stage: what is not found, what was found for it, and the draft until it is applied. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { FoundFile, FoundLine, NotFound, NotFoundLine } from '@early-set/core/api/disk';
import { endAudition } from '../../audition/player.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { Refusal, serve, show, tell, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { DiskView } from './DiskView.tsx';

fakeAudio();
sizedPage();
const lost = (trackId: number, title: string, more: Partial<NotFoundLine> = {}): NotFoundLine => ({
  trackId,
  title,
  artist: 'Keel Nine',
  version: '',
  rootId: 1,
  root: 'Music',
  path: `House/${title}.mp3`,
  since: '2030-01-01T10:00:00Z',
  size: 5_000_000,
  lists: [],
  date: null,
  ...more,
});
const file = (trackId: number, path: string, more: Partial<FoundFile> = {}): FoundFile => ({
  trackId,
  rootId: 1,
  root: 'Music',
  path,
  by: 'same sound, byte for byte',
  sure: 1,
  offsetSeconds: 0,
  ...more,
});
const LOST: NotFound = {
  lines: [
    lost(1, 'Slack Water', { lists: ['Late'], date: { name: 'Slipway', day: '2030-02-01' } }),
    lost(2, 'Tin Ladle', { lists: ['Early'] }),
    lost(3, 'Grey Harbour'),
  ],
  away: [{ rootId: 2, root: 'Stick', path: '/media/stick', since: '2030-01-01T10:00:00Z' }],
};
const FOUND: FoundLine[] = [
  { trackId: 1, found: file(11, 'Elsewhere/Slack Water.mp3'), candidates: [file(12, 'Copy/sw.mp3')], others: [] },
  {
    trackId: 2,
    found: file(13, 'New/tin.mp3', { by: 'sound', sure: 0.95, offsetSeconds: -2 }),
    candidates: [],
    others: [{ trackId: 14, path: 'New/tin (dub).mp3', why: 'another recording' }],
  },
  { trackId: 3, found: null, candidates: [], others: [] },
];

let answer: NotFound, runs: object[], sent: Sent[];
beforeEach(() => {
  answer = LOST;
  runs = [];
  ({ sent } = serve({
    '/disk/duplicates': { groups: [], parted: [], waiting: 0, earlier: 0 },
    '/disk/quarantine': { files: [], bytes: 0 },
    '/disk/others': { lines: [], more: false },
    '/disk/places': { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null },
    '/disk/not-found': () => answer,
    '/disk/find-again': FOUND,
    '/disk/path-map': { below: 3, lines: FOUND.slice(0, 1) },
    '/disk/relink': () => {
      answer = { lines: LOST.lines.slice(2), away: [] };
      return { changeSetId: 5, title: 'Find 2 tracks again', done: 4, conflicts: [] };
    },
    '/tracks': { id: 11, values: {} },
    '/roots': (body: unknown) =>
      body === undefined ? [{ id: 1, path: '/music', label: 'Music', tracks: 40 }] : { rootId: 3, runId: 7 },
    '/runs': () => runs,
    '/places/browse': { path: '/drive', parent: null, folders: [], audioFiles: 3 },
    '/places': [{ path: '/drive', label: 'Drive' }],
    '/overview': {},
  }));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

const open = async (): Promise<HTMLElement> => {
  show(<DiskView />);
  return screen.findByRole('grid', { name: 'Missing files' });
};
const rowOf = (trackId: number): HTMLElement => document.querySelector<HTMLElement>(`[data-lost="${trackId}"]`)!;
const choose = (trackId: number): void => {
  fireEvent.pointerDown(rowOf(trackId), { button: 0 });
  fireEvent.click(rowOf(trackId));
};
const find = async (): Promise<HTMLElement> => {
  fireEvent.click(screen.getByRole('button', { name: 'Find again' }));
  return screen.findByRole('region', { name: 'Draft of what was found' });
};
const pairs = (): unknown => sent.find((s) => s.path === '/disk/relink')?.body;

describe('what is not found', () => {
  test('is listed with where it matters, and which drives are not there', async () => {
    await open();
    expect(screen.getByTestId('not-found-count').textContent).toBe('3 files · 2 in lists');
    expect(rowOf(1).textContent).toContain('Slipway, 1 Feb');
    expect(rowOf(2).textContent).toContain('Early');
    expect(screen.getByText('its drive is not there since 2030-01-01')).toBeTruthy();
    choose(1);
    expect((await screen.findByRole('region', { name: 'Track in hand' })).textContent).toContain(
      'House/Slack Water.mp3',
    );
  });
  test('where they were is told by folder, with since when; a press shows only those', async () => {
    answer = { ...answer, lines: answer.lines.map((l, i) => (i === 2 ? { ...l, path: 'Old/Eel.mp3' } : l)) };
    await open();
    const folders = within(screen.getByRole('region', { name: 'Where they were' }));
    const shown = (): number => document.querySelectorAll('[data-lost]').length;
    fireEvent.click(folders.getByRole('button', { name: /House/ }));
    await waitFor(() => expect(shown()).toBe(2));
    expect(rowOf(answer.lines[2]!.trackId)).toBeNull();
    expect(folders.getByRole('button', { name: /House/ }).textContent).toContain('since ');
    fireEvent.click(folders.getByRole('button', { name: /Everything/ }));
    await waitFor(() => expect(shown()).toBe(3));
  });
  test('nothing: it says so, and nothing can be begun', async () => {
    answer = { lines: [], away: [] };
    show(<DiskView />);
    expect(await screen.findByText('Every file is where it should be')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Find again' }).disabled).toBe(true);
  });
  test('cannot be read: it is said', async () => {
    serve({ '/disk/not-found': new Refusal(503, 'no-database', 'The database is not there') });
    show(<DiskView />);
    expect(await screen.findByText('The database is not there')).toBeTruthy();
  });
});

describe('what was found', () => {
  test('is a draft: by what, how sure, what looks like it and is not; nothing is sent until it is applied', async () => {
    await open();
    const draft = await find();
    expect(draft.textContent).toContain('2 tracks found again');
    expect(rowOf(3).textContent).toContain('nothing');
    choose(2);
    const panel = await screen.findByRole('region', { name: 'Track in hand' });
    expect(panel.textContent).toContain('sound, 95 % confidence; begins 2.0 s earlier, cues move along');
    expect(panel.textContent).toContain('New/tin (dub).mp3another recording');
    expect(pairs()).toBeUndefined();
    fireEvent.click(within(draft).getByRole('button', { name: 'Apply' }));
    await waitFor(() => expect(pairs()).toBeDefined());
    act(() => tell({ kind: 'tracks' }));
    await waitFor(() => expect(rowOf(1)).toBeNull(), { timeout: 4000 });
    expect(pairs()).toEqual({
      pairs: [
        { trackId: 1, otherId: 11, offsetSeconds: 0 },
        { trackId: 2, otherId: 13, offsetSeconds: -2 },
      ],
    });
    expect(screen.queryByRole('region', { name: 'Draft of what was found' })).toBeNull();
  });
  test('another candidate is taken instead, or none; one left out comes back by the same key', async () => {
    const grid = await open();
    const draft = await find();
    choose(1);
    const panel = await screen.findByRole('region', { name: 'Track in hand' });
    fireEvent.click(within(panel).getByRole('radio', { name: /Copy\/sw\.mp3/ }));
    expect(rowOf(1).textContent).toContain('Copy/sw.mp3');
    fireEvent.click(within(panel).getByRole('radio', { name: 'None of these' }));
    expect(rowOf(1).textContent).toContain('left as missing');
    expect(draft.textContent).toContain('1 track found again');
    choose(2);
    fireEvent.keyDown(grid, { key: 'Delete' });
    expect(draft.textContent).toContain('No file was found');
    expect(within(draft).getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(true);
    fireEvent.keyDown(grid, { key: 'Delete' });
    expect(rowOf(2).textContent).toContain('New/tin.mp3');
  });
  test('is discarded', async () => {
    await open();
    fireEvent.click(within(await find()).getByRole('button', { name: 'Discard' }));
    expect(rowOf(1).textContent).not.toContain('Elsewhere');
    expect(pairs()).toBeUndefined();
  });
});

test('a path map is learned from where one file lies now, or two, tried out, and becomes the draft', async () => {
  answer = { ...LOST, lines: [...LOST.lines, lost(4, 'Other', { path: 'Techno/Other.mp3' })] };
  await open();
  choose(1);
  fireEvent.click(screen.getByRole('button', { name: 'Path map…' }));
  const dialog = await screen.findByRole('dialog', { name: 'Path map' });
  await waitFor(() => expect(within(dialog).getByLabelText<HTMLInputElement>('Old folder').value).toBe('/music/House'));
  fireEvent.change(within(dialog).getByLabelText('Or from one file'), {
    target: { value: 'D:\\Sorted\\House\\Slack Water.mp3' },
  });
  expect(within(dialog).getByLabelText<HTMLInputElement>('Old folder').value).toBe('/music');
  expect(within(dialog).getByLabelText<HTMLInputElement>('New folder').value).toBe('D:/Sorted');
  expect(await within(dialog).findByText('1 of 3 files would be found')).toBeTruthy();
  expect(sent.at(-1)).toEqual({ path: '/disk/path-map', body: { from: '/music', to: 'D:/Sorted' } });
  const another = within(dialog).getByLabelText('And from another');
  expect(another.getAttribute('placeholder')).toBe('where Other.mp3 lies now');
  fireEvent.change(another, { target: { value: 'D:\\Else\\Other.mp3' } });
  expect(within(dialog).getByRole('alert').textContent).toBe('No one map leads both files there.');
  fireEvent.change(another, { target: { value: 'D:\\Sorted\\Techno\\Other.mp3' } });
  expect(within(dialog).queryByRole('alert')).toBeNull();
  fireEvent.click(within(dialog).getByRole('button', { name: 'Use this path map' }));
  await waitFor(() => expect(rowOf(1).textContent).toContain('Elsewhere/Slack Water.mp3'));
});

test('a folder that is not in the library is taken in, and looked through once it has been read', async () => {
  await open();
  fireEvent.click(screen.getByRole('button', { name: 'Look in a folder…' }));
  const dialog = await screen.findByRole('dialog', { name: 'Choose a folder' });
  await waitFor(() => expect(within(dialog).getByText('No folders inside.')).toBeTruthy());
  fireEvent.click(within(dialog).getByRole('button', { name: 'Take in this folder' }));
  expect(await screen.findByText('Reading the folder…')).toBeTruthy();
  expect(sent.some((s) => s.path === '/disk/find-again')).toBe(false);
  runs = [{ id: 7, kind: 'intake', rootId: 3, state: 'done' }];
  tell({ kind: 'run', runId: 7 });
  await waitFor(() => expect(rowOf(1).textContent).toContain('Elsewhere/Slack Water.mp3'));
});
