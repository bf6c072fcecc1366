/** A folder looked through first: what is new, here already, not taken; some or all copied, or taken in as it lies. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { FolderLook, LookLine } from '@early-set/core/api/intake';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { LookView } from './LookView.tsx';

sizedPage();
const line = (path: string, more: Partial<LookLine> = {}): LookLine => ({
  path,
  size: 4_000_000,
  values: { title: path.split('.')[0]!, artist: ['Keel Nine'], durationSeconds: 200 },
  lacks: [],
  here: null,
  trouble: null,
  ...more,
});
const LOOK: FolderLook = {
  path: '/media/stick',
  lines: [
    line('Tide.mp3', { lacks: ['genre', 'year'] }),
    line('Ebb.mp3'),
    line('again.mp3', { here: 'House/again.mp3' }),
    line('broken.mp3', { values: {}, trouble: 'The sound in this file is damaged from the start' }),
  ],
  others: [{ path: 'notes.txt', reason: 'Text, not music' }],
  more: 0,
};
let look: FolderLook | Refusal, sent: Sent[], rules: object[];
beforeEach(() => {
  look = LOOK;
  rules = [];
  ({ sent } = serve({
    '/places/look': () => look,
    '/places/copy': { runId: 5 },
    '/roots': (body: unknown) =>
      body === undefined
        ? [
            { id: 1, path: '/music', label: 'Music', purpose: 'library', awaySince: null },
            { id: 2, path: '/given', label: 'Given', purpose: 'destination', awaySince: null },
          ]
        : { rootId: 3, runId: 6 },
    '/settings': () => ({ naming: { rules, options: {} } }),
  }));
});
afterEach(cleanup);
const open = async (): Promise<HTMLElement> => {
  show(<LookView />, '/intake/look?path=%2Fmedia%2Fstick');
  return screen.findByRole('grid', { name: 'Files in /media/stick' });
};
const asked = (path: string): unknown => sent.findLast((s) => s.path === path)?.body;

test('what is new is shown, and all of it copied where nothing is chosen', async () => {
  const grid = await open();
  expect(within(grid).getByText('genre, year')).toBeTruthy();
  expect(within(grid).queryByText('again')).toBeNull();
  expect(screen.getByText(/2 files, all that is new: 7\.6 MB/)).toBeTruthy();
  expect(screen.queryByRole('option', { name: 'Given' })).toBeNull();
  fireEvent.change(screen.getByLabelText('Folder in it'), { target: { value: 'New' } });
  fireEvent.click(screen.getByRole('button', { name: 'Copy 2 files' }));
  await waitFor(() =>
    expect(asked('/places/copy')).toEqual({
      from: '/media/stick',
      paths: ['Tide.mp3', 'Ebb.mp3'],
      rootId: 1,
      into: 'New',
      names: 'own',
    }),
  );
});

test('one that is chosen, by the naming rules, once there is one', async () => {
  await open();
  const row = document.querySelector<HTMLElement>('[data-file="Ebb.mp3"]')!;
  fireEvent.pointerDown(row, { button: 0 });
  fireEvent.click(row);
  fireEvent.change(screen.getByLabelText('File names'), { target: { value: 'by rules' } });
  expect(screen.getByText(/No naming rule is on yet/)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Copy 1 file' })).toHaveProperty('disabled', true);
  cleanup();
  rules = [{ id: 'r', name: 'All', where: null, template: '{{ title }}', on: true }];
  await open();
  fireEvent.change(screen.getByLabelText('File names'), { target: { value: 'by rules' } });
  await waitFor(() => expect(screen.queryByText(/No naming rule is on yet/)).toBeNull());
});

test('what is here already is named, what is not taken says why', async () => {
  await open();
  fireEvent.click(screen.getByRole('radio', { name: 'Here already (1)' }));
  expect(await screen.findByText('here as again.mp3')).toBeTruthy();
  expect(screen.getByText(/Nothing is chosen/)).toBeTruthy();
  fireEvent.click(screen.getByRole('radio', { name: 'Not taken (2)' }));
  expect(await screen.findByText('Text, not music')).toBeTruthy();
  expect(screen.getByText(/damaged from the start/)).toBeTruthy();
});

test('or it is taken in as it lies; a folder that cannot be looked into says so', async () => {
  await open();
  fireEvent.click(screen.getByRole('button', { name: 'Take in this folder' }));
  await waitFor(() => expect(asked('/roots')).toEqual({ path: '/media/stick', measure: true }));
  cleanup();
  look = new Refusal(403, 'outside-places', 'That folder is outside the places Early Set may look into');
  show(<LookView />, '/intake/look?path=%2Fetc');
  expect((await screen.findByRole('alert')).textContent).toMatch(/outside the places/);
});
