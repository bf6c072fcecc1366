/** A folder mirror is made by choosing; its settings are sent as they are seen. */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { serve, show, type Sent } from '../../../testing/server.tsx';
import { MirrorDialog, type MirrorAsk } from './MirrorDialog.tsx';

const folder = (path: string, count: number) => ({ rootId: 3, path, root: 'Music', count });
const MADE = {
  changeSetId: 1,
  title: 'New folder mirror',
  done: 1,
  conflicts: [],
  listId: 'new',
  report: { found: 2, made: 2, moved: 0, gone: 0 },
};
let sent: Sent[];
const closed = jest.fn();
beforeEach(() => {
  closed.mockClear();
  ({ sent } = serve({
    '/facets': {
      folders: [folder('', 55), folder('Crates', 16), folder('Crates/House', 12), folder('Crates/Dub/Old/Tapes', 7)],
    },
    '/mirrors': MADE,
    '/mirrors/top/update': MADE,
  }));
});
afterEach(cleanup);
const open = async (ask: MirrorAsk): Promise<void> => {
  show(<MirrorDialog ask={ask} onClose={closed} />);
  await screen.findByRole('option', { name: 'Crates (35)' });
};
const choose = (label: RegExp | string, value: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
};

test('a new one', async () => {
  await open({ listId: null, name: '', settings: null });
  choose(/^Folder(?! gone)/, '3:Crates');
  choose(/^Depth/, '1');
  choose(/^Follows/, 'by hand');
  // Folders of any depth can be chosen, also those that hold only folders.
  expect(screen.getAllByRole('option', { name: /Crates\/Dub/ }).map((o) => o.textContent)).toEqual([
    'Crates/Dub (7)',
    'Crates/Dub/Old (7)',
    'Crates/Dub/Old/Tapes (7)',
    'Crates/Dub',
    'Crates/Dub/Old',
    'Crates/Dub/Old/Tapes',
  ]);
  choose('Leave a folder out', 'Crates/House');
  expect(screen.getByText('Crates/House')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Make the crates' }));
  await waitFor(() =>
    expect(sent.at(-1)).toEqual({
      path: '/mirrors',
      body: {
        name: '',
        settings: {
          rootId: 3,
          path: 'Crates',
          depth: 1,
          onlyWithTracks: true,
          name: null,
          leftOut: ['Crates/House'],
          follow: 'by hand',
          gone: 'stay',
        },
      },
    }),
  );
  await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
});

test('other settings; a folder that was left out is taken in again', async () => {
  const settings = {
    rootId: 3,
    path: 'Crates',
    depth: null,
    onlyWithTracks: true,
    name: null,
    leftOut: ['Crates/House'],
    follow: 'each scan' as const,
    gone: 'stay' as const,
  };
  await open({ listId: 'top', name: 'Crates', settings });
  fireEvent.click(screen.getByRole('button', { name: 'Take Crates/House in again' }));
  choose(/^Folder gone/, 'remove');
  choose(/^Names/, '{{ parent }}');
  fireEvent.click(screen.getByRole('button', { name: 'Save and update' }));
  await waitFor(() =>
    expect(sent.at(-1)).toEqual({
      path: '/mirrors/top/update',
      body: { settings: { ...settings, leftOut: [], gone: 'remove', name: '{{ parent }}' } },
    }),
  );
});
