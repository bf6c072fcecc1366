import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { CopiedRoot, CopyExtra, MusicCopyHere } from '@early-set/core/api/musicCopy';
import type { RunProgress } from '@early-set/core/api/types';
import { serve, show } from '../../../testing/server.tsx';
import { outcomeOf } from './LastCopy.tsx';
import { MusicCopyView } from './MusicCopyView.tsx';

afterEach(cleanup);

const root = { rootId: 1, label: 'Crates', path: '/music/crates', left: false, files: 5, bytes: 5e6 };
const extra = (n: number, state: CopyExtra['state']): CopyExtra => ({
  ...{ id: `00000000-0000-4000-8000-00000000000${n}`, rootId: 1, root: 'Crates', path: `old/${n}.mp3`, size: 1e6 },
  ...{ state, since: '2026-11-30T10:00:00Z' },
});
const HERE: MusicCopyHere = {
  settings: { folder: '/drive/Early Set music copy', daily: true, leftOut: [] },
  ...{ trouble: null, sameDrive: false, freeBytes: 9e9, roots: [root], extras: [], more: false },
};
const line: CopiedRoot = {
  ...{ rootId: 1, label: 'Crates', same: 5, copied: 0, replaced: 0, renamed: 0, setAside: 0, failed: 0, trouble: null },
};
const view = (here: Partial<MusicCopyHere>, runs: Partial<RunProgress>[] = [], more = {}) => {
  const served = serve({ ...more, '/music-copy': () => ({ ...HERE, ...here }), '/runs': () => runs });
  show(<MusicCopyView />);
  return served;
};

test('without a folder nothing can be copied; the page says what a copy is', async () => {
  view({ settings: { ...HERE.settings, folder: null } });
  expect(await screen.findByText('No copy of the music yet')).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Copy now' }).disabled).toBe(true);
});

test('a drive that is away is said, and nothing is begun', async () => {
  view({ trouble: 'The folder of the copy is not there: /drive. Is its drive connected?' });
  expect((await screen.findByRole('alert')).textContent).toContain('Is its drive connected?');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Copy now' }).disabled).toBe(true);
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Check the copy' }).disabled).toBe(true);
});

test('what is gone here is listed; it is removed after a question that names it', async () => {
  const extras = [extra(1, 'gone'), extra(2, 'gone'), extra(3, 'aside')];
  const { sent } = view({ extras }, [], { '/music-copy/remove': { changeSetId: 3, title: '', made: 2, left: [] } });
  fireEvent.click(await screen.findByRole('button', { name: 'Remove 2 from the copy…' }));
  const dialog = await screen.findByRole('dialog');
  expect(within(dialog).getByRole('list').textContent).toBe('Crates: old/1.mp3Crates: old/2.mp3');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Remove 2 files' }));
  await waitFor(() => expect(sent.map(({ path }) => path)).toEqual(['/music-copy/remove']));
  expect(sent[0]!.body).toEqual({ ids: extras.slice(0, 2).map(({ id }) => id) });
});

test('what lies in quarantine there goes for good only after being asked', async () => {
  const { sent } = view({ extras: [extra(3, 'aside')] }, [], {
    '/music-copy/empty': {
      files: 0,
      bytes: 0,
      left: [{ path: 'Crates: old/3.mp3', reason: 'The drive is read-only' }],
    },
  });
  fireEvent.click(await screen.findByRole('button', { name: 'Delete 1 for good…' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('This cannot be undone.');
  expect(sent).toEqual([]);
  fireEvent.click(within(dialog).getByRole('button', { name: 'Delete 1 file' }));
  expect((await screen.findByRole('alert')).textContent).toBe('Crates: old/3.mp3: The drive is read-only');
});

test('a folder is left out by its tick', async () => {
  const { sent } = view({}, [], { '/music-copy/settings': HERE });
  fireEvent.click(await screen.findByRole('checkbox', { name: /^Crates/ }));
  await waitFor(() => expect(sent.map(({ body }) => body)).toEqual([{ leftOut: [1] }]));
});

test('the last run says of each folder what came, and why one was passed over', async () => {
  const report = { bytes: 2e6, told: [{ path: 'Crates: a.mp3', reason: 'The file may not be read or written' }] };
  const roots = [
    { ...line, copied: 2, failed: 1 },
    { ...line, rootId: 2, label: 'Loft', trouble: 'The drive of Loft is not there' },
  ];
  view({}, [
    {
      ...{ id: 4, kind: 'musicCopy', title: 'Copy of the music', state: 'failed', failed: 1, done: 2, canRetry: false },
      ...{ startedAt: '2026-11-30T10:00:00Z', report: { ...report, roots } },
    },
  ]);
  const list = await screen.findByRole('list', { name: 'Folders' });
  expect(list.textContent).toContain('Crates2 copied, 1 not copied');
  expect(list.textContent).toContain('LoftThe drive of Loft is not there');
  expect(list.textContent).toContain('Crates: a.mp3: The file may not be read or written');
});

test('outcomes in words', () => {
  expect(outcomeOf(line)).toBe('Up to date: 5 files');
  expect(outcomeOf({ ...line, copied: 1, replaced: 2, renamed: 3, setAside: 1, failed: 1 })).toBe(
    '1 copied, 2 replaced, 3 renamed, 1 earlier set aside, 1 not copied',
  );
});
