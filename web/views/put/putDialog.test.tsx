/** Moving and copying files: what it means, what it would do, and that it is refused where it cannot be. */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { PutLook } from '@early-set/core/api/disk';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { PutDialog } from './PutDialog.tsx';

const SELECTION = { ids: [1, 2] };
let look: PutLook | Refusal, sent: Sent[];
const onClose = jest.fn();
beforeEach(() => {
  onClose.mockClear();
  look = { files: 2, numbered: 1, skipped: 0, right: 0, unnamed: 0, given: [], bytes: 0, free: 9_000_000 };
  ({ sent } = serve({
    '/disk/put/look': () => look,
    '/disk/put': { changeSetId: 4, title: 'Move 2 files to Stick/Late', done: 2, conflicts: [] },
    '/clean/folders': [{ ref: { rootId: 2, path: 'Late' }, root: 'Stick', tracks: 3 }],
    '/roots': [
      { id: 1, label: 'Music', path: '/music', awaySince: null },
      { id: 2, label: 'Stick', path: '/stick', awaySince: null },
      { id: 3, label: 'Old drive', path: '/old', awaySince: '2030-01-01T00:00:00Z' },
    ],
  }));
  show(<PutDialog selection={SELECTION} whose="2 tracks" onClose={onClose} />);
});
afterEach(cleanup);
const asked = (path: string): object | undefined => sent.findLast((s) => s.path === path)?.body as object | undefined;

test('it says what it would do, and does just that', async () => {
  expect(await screen.findByText('2 files to move; 1 name taken there, numbered.')).toBeTruthy();
  // A drive that is not there takes nothing.
  expect(screen.queryByRole('option', { name: 'Old drive' })).toBeNull();
  fireEvent.change(screen.getByLabelText('Library folder'), { target: { value: '2' } });
  fireEvent.change(screen.getByLabelText('Folder in it'), { target: { value: 'Late' } });
  look = { files: 1, numbered: 0, skipped: 1, right: 0, unnamed: 0, given: [], bytes: 5_000_000, free: 9_000_000 };
  fireEvent.change(screen.getByLabelText('Where a name is taken'), { target: { value: 'skip' } });
  fireEvent.click(screen.getByRole('radio', { name: 'Copy' }));
  expect(screen.getByText(/The tracks keep their files/)).toBeTruthy();
  expect(
    await screen.findByText('1 file to copy; 4.8 MB to write; 8.6 MB free; 1 file left, since the name is taken.'),
  ).toBeTruthy();
  const wish = {
    selection: SELECTION,
    mode: 'copy',
    taken: 'skip',
    names: 'own',
    below: '',
    into: { rootId: 2, path: 'Late' },
  };
  expect(asked('/disk/put/look')).toEqual(wish);
  expect(asked('/disk/put')).toBeUndefined();
  fireEvent.click(screen.getByRole('button', { name: 'Copy 1 file' }));
  await waitFor(() => expect(asked('/disk/put')).toEqual(wish));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
});

test('without room, or into a folder that cannot be, it is said and nothing can be begun', async () => {
  await screen.findByText(/2 files to move/);
  look = { files: 2, numbered: 0, skipped: 0, right: 0, unnamed: 0, given: [], bytes: 9_000_000, free: 1_000_000 };
  fireEvent.change(screen.getByLabelText('Library folder'), { target: { value: '2' } });
  expect(await screen.findByText('There is not enough space: 8.6 MB are needed, 977 kB are free.')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Move 2 files' })).toHaveProperty('disabled', true);
  look = new Refusal(400, 'bad-folder', 'A folder whose name begins with a dot is left out by scans');
  fireEvent.change(screen.getByLabelText('Folder in it'), { target: { value: '.x' } });
  expect(await screen.findByText(/begins with a dot/)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Move 0 files' })).toHaveProperty('disabled', true);
});

test('by the naming rules: what no rule names is said; so is what names the old places', async () => {
  await screen.findByText(/2 files to move/);
  const given = ['Late.m3u8', 'Early.m3u8', 'Noon.m3u8'].map((name) => ({ name: `download of ${name}`, files: 1 }));
  look = { files: 1, numbered: 0, skipped: 0, right: 0, unnamed: 1, given, bytes: 0, free: null };
  fireEvent.change(screen.getByLabelText('File names'), { target: { value: 'by rules' } });
  expect(await screen.findByText('1 file to move; 1 file left, since no rule names it.')).toBeTruthy();
  expect(screen.getByText(/still naming the old places: download of Late.m3u8, .* and 1 more/)).toBeTruthy();
  expect(asked('/disk/put/look')).toMatchObject({ names: 'by rules' });
});

test('a folder keeps what lies below it; its new path begins as the one it has', async () => {
  cleanup();
  const where = { where: { inFolder: { rootId: 2, path: 'Late' }, below: true }, except: [] };
  show(<PutDialog selection={where} whose="the folder Late" folder={{ rootId: 2, path: 'Late' }} onClose={onClose} />);
  const path = await screen.findByLabelText<HTMLInputElement>('Its new path');
  expect([path.value, screen.queryByLabelText('File names')]).toEqual(['Late', null]);
  fireEvent.change(path, { target: { value: 'Later' } });
  await waitFor(() =>
    expect(asked('/disk/put/look')).toMatchObject({
      names: 'with folders',
      below: 'Late',
      into: { rootId: 2, path: 'Later' },
    }),
  );
});
