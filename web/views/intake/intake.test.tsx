import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { NotTaken, RootLine, RunProgress } from '@early-set/core/api/types';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { rootLine } from '../../testing/rows.ts';
import { fakeUploads, type Upload } from '../../testing/uploads.ts';
import { droppedFiles } from './dropped.ts';
import { IntakeView } from './IntakeView.tsx';

const run = (id: number, more: Partial<RunProgress>): RunProgress => ({
  id,
  kind: 'intake',
  title: `Run ${id}`,
  state: 'done',
  reason: null,
  rootId: 1,
  stickId: null,
  total: 10,
  done: 10,
  failed: 0,
  current: null,
  report: null,
  startedAt: '2026-03-01T10:00:00Z',
  finishedAt: '2026-03-01T10:01:00Z',
  rate: null,
  secondsLeft: null,
  canRetry: false,
  ...more,
});

let uploads: Upload[];
let roots: RootLine[];
let refused: NotTaken[];
let runs: RunProgress[];
let sent: Sent[];
const answers = () => ({
  '/roots/1/not-taken': () => refused,
  '/roots/2/not-taken': [],
  '/roots/1/scan': { runId: 9 },
  '/clean/folders': [],
  '/presets': [{ id: 6, name: 'Tidy', steps: [], updatedAt: '2026-03-01T10:00:00Z' }],
  '/roots': (body: unknown) => (body === undefined ? roots : { rootId: 3 }),
  '/runs/7/failures': [{ trackId: 4, path: 'crate/broken.mp3', reason: 'The sound ends after 2 s' }],
  '/runs/7/retry': {},
  '/runs': () => runs,
  '/places/browse': (_: unknown, address: URL) => ({
    path: address.searchParams.get('path'),
    parent: address.searchParams.get('path') === '/music' ? null : '/music',
    folders: address.searchParams.get('path') === '/music' ? [{ name: 'New', path: '/music/New' }] : [],
    audioFiles: 3,
    otherFiles: 0,
  }),
  '/places': [
    { path: '/music', label: 'Music' },
    { path: '/media/stick', label: 'Stick' },
  ],
});
beforeEach(() => {
  uploads = fakeUploads();
  roots = [rootLine(1), rootLine(2)];
  refused = [];
  runs = [];
  ({ sent } = serve(answers()));
});
afterEach(cleanup);
const opened = async (): Promise<void> => {
  show(<IntakeView />);
  await waitFor(() => expect(screen.queryByText('Shelf 1')).toBeTruthy());
};
const choose = (...names: string[]): void => {
  fireEvent.change(screen.getByLabelText('Files to take in'), {
    target: { files: names.map((n) => new File(['x'], n)) },
  });
};
const later = (work: () => void): Promise<void> =>
  act(async () => {
    work();
    await Promise.resolve();
    await Promise.resolve();
  });

describe('files on their way', () => {
  test('one after the other with progress; what is refused is named, the rest goes on, then the folder is read', async () => {
    await opened();
    choose('one.mp3', 'two.txt', 'three.flac');
    await waitFor(() => expect(uploads).toHaveLength(1));
    expect(screen.getByText('Taking 3 files into Shelf 1')).toBeTruthy();
    await later(() => uploads[0]!.share(0.5));
    expect(screen.getByText('1 of 3: one.mp3')).toBeTruthy();
    await later(() => uploads[0]!.arrive());
    await waitFor(() => expect(uploads).toHaveLength(2));
    await later(() => uploads[1]!.arrive(415, { error: { code: 'not-music', message: 'two.txt is not music' } }));
    await waitFor(() => expect(uploads).toHaveLength(3));
    expect(screen.getByText('two.txt is not music')).toBeTruthy();
    await later(() => uploads[2]!.arrive());
    await waitFor(() => expect(screen.getByText('2 files arrived in Shelf 1')).toBeTruthy());
    expect(sent.map((s) => s.path)).toEqual(['/roots/1/scan']);
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByText(/arrived in/)).toBeNull();
  });

  test('what is chosen while others are on their way loses none of them, and each goes where it was meant to', async () => {
    await opened();
    choose('one.mp3', 'two.mp3');
    await waitFor(() => expect(uploads).toHaveLength(1));
    fireEvent.click(screen.getByRole('button', { name: /^Shelf 2/ }));
    choose('three.mp3');
    await waitFor(() => expect(uploads).toHaveLength(2));
    await later(() => {
      uploads[0]!.arrive();
      uploads[1]!.arrive();
    });
    await waitFor(() => expect(uploads).toHaveLength(3));
    expect(uploads.map((u) => [u.path.replace(/\?.*/, ''), u.aborted])).toEqual([
      ['/api/roots/1/files', false],
      ['/api/roots/2/files', false],
      ['/api/roots/1/files', false],
    ]);
    await later(() => uploads[2]!.arrive());
    await waitFor(() => expect(screen.getByText('2 files arrived in Shelf 1')).toBeTruthy());
    expect(screen.getByText('1 file arrived in Shelf 2')).toBeTruthy();
  });

  test('cancel stops what is on its way; what arrived stays and is read', async () => {
    await opened();
    choose('one.mp3', 'two.mp3', 'three.mp3');
    await waitFor(() => expect(uploads).toHaveLength(1));
    await later(() => uploads[0]!.arrive());
    await waitFor(() => expect(uploads).toHaveLength(2));
    await later(() => {
      fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    });
    await waitFor(() => expect(screen.getByText('1 file arrived in Shelf 1, then cancelled')).toBeTruthy());
    expect([uploads.length, uploads[1]!.aborted]).toEqual([2, true]);
  });

  test('a dropped folder is walked through to its last file, in batches as browsers give them', async () => {
    const file = (name: string) => ({
      isFile: true,
      name,
      file: (done: (f: File) => void) => done(new File(['x'], name)),
    });
    const folder = (name: string, ...batches: object[][]) => ({
      isFile: false,
      name,
      createReader: () => ({ readEntries: (done: (e: object[]) => void) => done(batches.shift() ?? []) }),
    });
    const tree = folder('Set', [file('a.mp3'), folder('Inner', [file('b.mp3')])], [file('c.mp3')]);
    const found = await droppedFiles({
      items: [{ webkitGetAsEntry: () => tree }],
      files: [],
    } as unknown as DataTransfer);
    expect(found.map((f) => f.path).sort()).toEqual(['Set/Inner/b.mp3', 'Set/a.mp3', 'Set/c.mp3']);
  });
});

describe('choosing a folder', () => {
  test('down into it and up again, then taken in', async () => {
    await opened();
    fireEvent.click(screen.getByRole('button', { name: 'Choose a folder' }));
    const dialog = await screen.findByRole('dialog');
    fireEvent.click(await within(dialog).findByRole('button', { name: 'New' }));
    await waitFor(() => expect(within(dialog).getByText('No folders inside.')).toBeTruthy());
    fireEvent.click(within(dialog).getByRole('button', { name: 'One folder up' }));
    fireEvent.click(await within(dialog).findByRole('button', { name: 'New' }));
    fireEvent.click(within(dialog).getByRole('checkbox', { name: /Measure tempo/ }));
    await waitFor(() => expect(within(dialog).getByText('No folders inside.')).toBeTruthy());
    fireEvent.click(within(dialog).getByRole('button', { name: 'Take in this folder' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent).toEqual([{ path: '/roots', body: { path: '/music/New', measure: false } }]);
  });

  test('a path can be typed; of a folder that is there a scan is offered, of folders inside it is said what becomes', async () => {
    await opened();
    fireEvent.click(screen.getByRole('button', { name: 'Choose a folder' }));
    const dialog = await screen.findByRole('dialog');
    const typed = async (path: string): Promise<void> => {
      const box = await within(dialog).findByRole('textbox', { name: /^Path/ });
      fireEvent.change(box, { target: { value: path } });
      fireEvent.keyDown(box, { key: 'Enter' });
    };
    await typed('/music');
    expect(await within(dialog).findByText(/become part of it, with lists and history/)).toBeTruthy();
    await typed('/music/2');
    fireEvent.click(await within(dialog).findByRole('button', { name: 'Scan again' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.at(-1)!.path).toBe('/roots/2/scan');
    expect(screen.getByRole('button', { name: /^Shelf 2/ }).getAttribute('aria-pressed')).toBe('true');
  });

  test('a folder that cannot be read says why', async () => {
    serve({ ...answers(), '/places/browse': new Refusal(403, 'outside', 'This folder may not be read') });
    await opened();
    fireEvent.click(screen.getByRole('button', { name: 'Choose a folder' }));
    expect(await screen.findByText('This folder may not be read')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take in this folder' }).disabled).toBe(true);
  });

  test('with no folder yet, the page says what to do first', async () => {
    roots = [];
    show(<IntakeView />);
    await waitFor(() => expect(screen.getByText('No folder taken in yet')).toBeTruthy());
    expect(screen.queryByLabelText('Files to take in')).toBeNull();
  });
});

describe('a drive that is not there', () => {
  test('is said, with what can be done: another place, or the files are gone', async () => {
    roots = [rootLine(1, { awaySince: '2026-03-02T10:00:00Z', tracks: 12 })];
    ({ sent } = serve({ ...answers(), '/roots/1/path': { runId: 9 } }));
    await opened();
    expect(screen.getByText('Drive not there')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'The files are gone' }));
    await waitFor(() => expect(sent).toEqual([{ path: '/roots/1/scan', body: { lossAccepted: true } }]));
    fireEvent.click(screen.getByRole('button', { name: 'It is somewhere else…' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByText('Where is Shelf 1 now?')).toBeTruthy();
    fireEvent.click(await within(dialog).findByRole('button', { name: 'New' }));
    await waitFor(() => expect(within(dialog).getByText('No folders inside.')).toBeTruthy());
    fireEvent.click(within(dialog).getByRole('button', { name: 'It is this folder' }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/roots/1/path', body: { path: '/music/New' } }));
  });
  test('what is counted leads to just those tracks', async () => {
    roots = [rootLine(1, { missing: 3 })];
    await opened();
    const link = screen.getByText('3').closest('a')!;
    const also = JSON.parse(new URL(link.href).searchParams.get('also')!) as { where: object };
    expect(also.where).toEqual({
      all: [
        { inFolder: { rootId: 1, path: '' }, below: true },
        { field: 'fileState', test: 'one of', values: ['missing'] },
      ],
    });
  });
});

describe('what happened', () => {
  test('what was not taken is listed with its reason', async () => {
    refused = [
      { path: 'a/cover.jpg', code: 'not-music', reason: 'A picture', fileSize: 2048 },
      { path: 'a/half.mp3', code: 'broken', reason: 'The file ends too early', fileSize: 100 },
    ];
    await opened();
    await waitFor(() => expect(screen.getByText('2 files of Shelf 1 not taken')).toBeTruthy());
    expect(screen.getByText('The file ends too early')).toBeTruthy();
  });

  test('the report of a scan opens: each figure leads to its tracks, what was not taken is named', async () => {
    runs = [
      run(8, { report: { found: 9, taken: 3, changed: 0, returned: 0, missing: 1, notTaken: 2, newlyRefused: 1 } }),
    ];
    ({ sent } = serve({
      '/runs/8/scan': {
        id: 8,
        title: 'Scan Shelf 1',
        root: 'Shelf 1',
        startedAt: runs[0]!.startedAt,
        seconds: 1.5,
        found: 9,
        parts: { taken: { tracks: 3, here: 2 }, missing: { tracks: 1, here: 1 } },
        since: { measured: 1, waiting: 0, failed: 1, duplicates: 1 },
        notTaken: 2,
        newlyRefused: 1,
        newFiles: {
          cleaned: { preset: 'Tidy', tracks: 2, changeSetId: 41, asked: 1, left: [] },
          put: { files: 3, changeSetId: 42 },
        },
        refused: [{ path: 'a/half.mp3', reason: 'The file ends too early' }],
      },
      ...answers(),
    }));
    await opened();
    const whereOf = (link: HTMLElement): unknown =>
      (JSON.parse(new URL((link as HTMLAnchorElement).href).searchParams.get('also')!) as { where: unknown }).where;
    expect(whereOf(await screen.findByRole('link', { name: '3 taken' }))).toEqual({ ofScan: 8, as: 'taken' });
    fireEvent.click(screen.getByRole('button', { name: 'Report' }));
    const dialog = await screen.findByRole('dialog');
    await within(dialog).findByText('1 not in the library any more');
    expect(dialog.textContent).toContain('took 1.5 s, 9 files looked at');
    expect(whereOf(within(dialog).getByRole('link', { name: '1 of them duplicates' }))).toEqual({
      all: [
        { ofScan: 8, as: 'taken' },
        { field: 'duplicate', test: 'is', value: true },
      ],
    });
    expect(within(dialog).getByText('The file ends too early')).toBeTruthy();
    const cleaned = within(dialog).getByRole('link', { name: '2 Cleaned with Tidy' }) as HTMLAnchorElement;
    expect(new URL(cleaned.href).search).toBe('?set=41');
    expect(within(dialog).getByText('questions about 1 track left open')).toBeTruthy();
    const moved = within(dialog).getByRole('link', { name: '3 Moved by the naming rules' }) as HTMLAnchorElement;
    expect(new URL(moved.href).search).toBe('?set=42');
  });
  test('runs of before are asked for, once there are no more the button goes', async () => {
    runs = [run(8, { kind: 'analysis', done: 2 })];
    const earlier = [[run(5, { kind: 'analysis', done: 1, title: 'Long ago' })], []];
    const answer = (_: unknown, address: URL): RunProgress[] =>
      address.searchParams.has('before') ? earlier.shift()! : runs;
    ({ sent } = serve({ ...answers(), '/runs': answer }));
    await opened();
    fireEvent.click(await screen.findByRole('button', { name: 'Show earlier' }));
    await screen.findByText('Long ago');
    fireEvent.click(screen.getByRole('button', { name: 'Show earlier' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Show earlier' })).toBeNull());
  });

  test('runs say what they did; what failed can be seen and tried again', async () => {
    runs = [
      run(8, { report: { taken: 3, changed: 1, returned: 0, missing: 2, notTaken: 0, differs: 2 } }),
      run(7, { kind: 'analysis', done: 9, failed: 1, canRetry: true }),
      run(6, {
        kind: 'writing',
        done: 4,
        failed: 1,
        state: 'cancelled',
        report: { reasons: [{ reason: 'The file is read-only', files: 1 }] },
      }),
    ];
    await opened();
    await waitFor(() => expect(screen.getByText('3 taken, 1 changed, 2 missing')).toBeTruthy());
    expect(screen.getByText(/2 files say something else/).getAttribute('href')).toBe('/tracks?needs=unwritten');
    expect(screen.getByText('cancelled')).toBeTruthy();
    expect(screen.getByText('The file is read-only')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'What failed' }));
    await waitFor(() => expect(screen.getByText('The sound ends after 2 s')).toBeTruthy());
    fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
    await waitFor(() => expect(sent.map((s) => s.path)).toEqual(['/runs/7/retry']));
  });
});

describe('archives', () => {
  const listing = { files: 2, bytes: 9_000_000, into: 'New/Set', trouble: null as string | null };
  beforeEach(() => {
    refused = [{ path: 'New/Set.zip', code: 'not-music', reason: 'An archive; unpack it first', fileSize: 9_000_000 }];
  });
  const looked = async (answer: object): Promise<HTMLElement> => {
    ({ sent } = serve({
      '/roots/1/archive': (body: unknown) => (body === undefined ? answer : { runId: 4 }),
      ...answers(),
    }));
    await opened();
    fireEvent.click(screen.getByText('Shelf 1'));
    fireEvent.click(await screen.findByRole('button', { name: 'Look into New/Set.zip' }));
    return screen.findByRole('dialog', { name: 'Set.zip' });
  };

  test('what is in one, what stays in it and why; unpacked beside it', async () => {
    const entries = [
      { name: 'a.mp3', size: 4_500_000, why: null },
      { name: 'b.mp3', size: 4_500_000, why: 'Protected by a password' },
    ];
    const dialog = await looked({ ...listing, entries });
    await within(dialog).findByText(/2 files, 8.6 MB, into a folder “Set”/);
    expect(within(dialog).getByText('Protected by a password')).toBeTruthy();
    const folder = within(dialog).getByRole('combobox', { name: 'Folder in it' }) as HTMLInputElement;
    expect(folder.value).toBe('New');
    fireEvent.change(folder, { target: { value: 'Karaoke' } });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Unpack 2 files' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.find((s) => s.path === '/roots/1/archive')?.body).toEqual({
      path: 'New/Set.zip',
      into: { rootId: 1, path: 'Karaoke' },
    });
  });

  test('one without music cannot be unpacked, and says why', async () => {
    const dialog = await looked({ ...listing, files: 0, entries: [], trouble: 'There is no music in it' });
    await within(dialog).findByText('Nothing can be unpacked: there is no music in it.');
    expect(within(dialog).getByRole('button', { name: 'Unpack' })).toHaveProperty('disabled', true);
  });
});
