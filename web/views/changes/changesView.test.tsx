import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Applied, ChangeSetDetails, ChangeSetLine } from '@early-set/core/api/types';
import { OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';
import { serve, show } from '../../testing/server.tsx';
import { ChangesView } from './ChangesView.tsx';
import { OtherNamesDialog } from './OtherNamesDialog.tsx';

const line = (id: number, title: string, more: Partial<ChangeSetLine> = {}): ChangeSetLine => ({
  id,
  title,
  madeAt: '2026-11-20T20:15:00.000Z',
  done: 2,
  conflicts: 0,
  undoOf: null,
  undoneBy: null,
  waiting: 0,
  files: 0,
  runId: null,
  ...more,
});
const SETS = [
  line(3, 'Genre set for 2 tracks', { conflicts: 1 }),
  line(2, 'Undo: Late crate made', { undoOf: 1 }),
  line(1, 'Late crate made', { undoneBy: 2 }),
];
const held = (value: string | null, locked = false) => ({ value, origin: 'typed' as const, at: '', locked });
const DETAILS: Record<number, ChangeSetDetails['lines']> = {
  3: [
    {
      undone: false,
      seq: 0,
      state: 'done',
      reason: null,
      name: 'Eel Grass',
      item: { kind: 'set-field', trackId: 1, field: 'label', before: held('Old Quay'), after: held('New Quay') },
    },
    {
      undone: false,
      seq: 1,
      state: 'done',
      reason: null,
      name: 'Groyne Nine',
      item: { kind: 'set-field', trackId: 2, field: 'label', before: null, after: held('New Quay') },
    },
    {
      undone: false,
      seq: 2,
      state: 'conflict',
      reason: 'The field is locked',
      name: 'Signal Box',
      item: {
        kind: 'set-field',
        trackId: 3,
        field: 'title',
        before: held('Signal Box'),
        after: held('Signal Box', true),
      },
    },
  ],
  2: [
    {
      undone: false,
      seq: 0,
      state: 'done',
      reason: null,
      name: null,
      item: {
        kind: 'edit-list',
        listId: 'x',
        edit: {
          op: 'exist',
          before: {
            kind: 'crate',
            name: 'Late',
            parentId: null,
            position: 0,
            removed: false,
            startsAt: null,
            shape: null,
            rule: null,
            colour: null,
            note: null,
            wishedSeconds: null,
            reserveId: null,
            mirror: null,
            mirrorOf: null,
            clock: null,
            onAirAt: null,
          },
          after: null,
        },
      },
    },
  ],
  1: [
    {
      undone: false,
      seq: 0,
      state: 'done',
      reason: null,
      name: 'Late',
      item: {
        kind: 'edit-list',
        listId: 'x',
        edit: { op: 'describe', before: { name: 'Late', removed: false }, after: { name: 'Later', removed: true } },
      },
    },
    {
      undone: false,
      seq: 1,
      state: 'done',
      reason: null,
      name: 'Late',
      item: {
        kind: 'edit-list',
        listId: 'x',
        edit: {
          op: 'place',
          placements: [
            { entryId: 'a', trackId: 1, before: null, after: { behind: null, index: 0 } },
            { entryId: 'b', trackId: 2, before: { behind: null, index: 0 }, after: { behind: 'a', index: 1 } },
            { entryId: 'c', trackId: 3, before: { behind: null, index: 0 }, after: null },
          ],
        },
      },
    },
  ],
};
const start = (sets: ChangeSetLine[] = SETS, at = '/', conflicts: Applied['conflicts'] = []) => {
  const server = serve({
    '/changes': (body: unknown, address: URL) => {
      const id = Number(address.pathname.split('/')[3]);
      if (body !== undefined) return { changeSetId: 9, title: 'Undo', done: 1, conflicts };
      return id ? { otherNames: 0, ...sets.find((s) => s.id === id)!, lines: DETAILS[id] } : sets;
    },
  });
  show(
    <>
      <ChangesView />
      <OtherNamesDialog />
    </>,
    at,
  );
  return server;
};
afterEach(cleanup);
const details = () => within(screen.getByRole('complementary', { name: 'What it did' }));

test('nothing yet says what will be here', async () => {
  start([]);
  await waitFor(() => expect(screen.getByText('Nothing has been changed yet')).toBeTruthy());
});

test('each line says before and after, what was left, and why', async () => {
  start();
  await waitFor(() => screen.getByText('Genre set for 2 tracks'));
  expect(screen.getByText('1 conflict')).toBeTruthy();
  fireEvent.click(screen.getByText('Genre set for 2 tracks'));
  await waitFor(() => details().getByText('Eel Grass'));
  expect(details().getByText('Old').tagName).toBe('DEL');
  expect(details().getByText('New').tagName).toBe('INS');
  expect(details().getByText('empty').tagName).toBe('S');
  expect(details().getAllByText('New Quay')).toHaveLength(1);
  expect(details().getByText('Title locked')).toBeTruthy();
  expect(details().getByText('Left as it was: The field is locked')).toBeTruthy();
});

test('lists in words: renamed, put away, put in, taken out, moved; a list that is gone', async () => {
  start(SETS, '/?set=1');
  await waitFor(() => details().getByText('name: Late → Later, removed'));
  expect(details().getByText('1 track added, 1 track removed, 1 track moved')).toBeTruthy();
  expect(details().getByText('This is undone.')).toBeTruthy();
  fireEvent.click(screen.getByText('Undo: Late crate made'));
  await waitFor(() => details().getByText('A removed list'));
  expect(details().getByText('crate removed')).toBeTruthy();
  expect(details().getByRole('button', { name: 'Redo this' })).toBeTruthy();
});

test('files left for their other names are asked about, and written when they may be parted', async () => {
  const left = { ...line(3, 'Comment set for 2 tracks'), otherNames: 2 };
  const { sent } = start([left], '/?set=3');
  await waitFor(() => details().getByRole('button', { name: '2 files with other names…' }));
  fireEvent.click(details().getByRole('button', { name: '2 files with other names…' }));
  const dialog = await waitFor(() => screen.getByRole('dialog', { name: 'These files have other names' }));
  expect(dialog.textContent).toContain('The other names then keep the old file');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Leave as they are' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(sent).toEqual([]);
  fireEvent.click(details().getByRole('button', { name: '2 files with other names…' }));
  fireEvent.click(await waitFor(() => screen.getByRole('button', { name: 'Write 2 new files' })));
  await waitFor(() => expect(sent).toEqual([{ path: '/changes/3/part', body: {} }]));
});

test('an undo that leaves a file for its other names asks at once', async () => {
  start(SETS, '/?set=3', [{ item: DETAILS[3]![0]!.item, reason: OTHER_NAMES }]);
  await waitFor(() => details().getByRole('button', { name: 'Undo this' }));
  fireEvent.click(details().getByRole('button', { name: 'Undo this' }));
  await waitFor(() => screen.getByRole('dialog', { name: 'This file has other names' }));
  fireEvent.click(screen.getByRole('button', { name: 'Leave as it is' }));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
});

test('taking back asks the server for this set; arrows go through the sets', async () => {
  const { sent } = start(SETS, '/?set=3');
  await waitFor(() => details().getByRole('button', { name: 'Undo this' }));
  fireEvent.click(details().getByRole('button', { name: 'Undo this' }));
  await waitFor(() => expect(sent).toEqual([{ path: '/changes/3/undo', body: {} }]));
  const list = screen.getByRole('grid', { name: 'Change sets, newest first' });
  const selected = (): (string | null)[] =>
    [...document.querySelectorAll('[data-set]')].map((row) => row.getAttribute('aria-selected'));
  fireEvent.keyDown(list, { key: 'ArrowDown' });
  await waitFor(() => expect(selected()).toEqual(['false', 'true', 'false']));
  fireEvent.keyDown(list, { key: 'ArrowUp' });
  fireEvent.keyDown(list, { key: 'ArrowUp' });
  await waitFor(() => expect(selected()[0]).toBe('true'));
});
