/** Settings saved to a file and read from one: by category, put in place, taken back. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { Toaster } from 'sonner';
import { FIRST_LAYOUT } from '../data/layouts.ts';
import { remembered, write } from '../data/remembered.ts';
import { settingsFile } from '../data/settingsFile.ts';
import { serve, show, type Sent } from '../testing/server.tsx';
import { SettingsFile } from './SettingsFile.tsx';

let sent: Sent[], removed: number;
beforeEach(() => {
  removed = 0;
  write('layouts', [{ ...FIRST_LAYOUT, name: 'Wide' }]);
  ({ sent } = serve({
    '/settings': DEFAULT_SETTINGS,
    '/backups/settings': {},
    '/presets/3': {},
    '/presets/8': () => {
      removed++;
      return {};
    },
    '/presets': (body: unknown) =>
      body === undefined ? [{ id: 3, name: 'Tidy', steps: [], updatedAt: '2026-11-01T10:00:00Z' }] : { id: 8 },
  }));
});
afterEach(cleanup);

const open = (): void => {
  show(
    <>
      <SettingsFile settings={{ ...DEFAULT_SETTINGS, backups: { ...DEFAULT_SETTINGS.backups, folder: '/drive' } }} />
      <Toaster />
    </>,
    '/',
  );
};
const choose = (text: string): void => {
  const file = new File([text], 'loft.settings.json', { type: 'application/json' });
  Object.defineProperty(file, 'text', { value: () => Promise.resolve(text) });
  fireEvent.change(screen.getByLabelText('Settings file'), { target: { files: [file] } });
};
const wishes = (): unknown[] => sent.map((s) => [s.path, s.body]);

test('only what is chosen of a file is put in place; presets of the same name are replaced; undo brings all back', async () => {
  open();
  await act(() => Promise.resolve()); // presets are there
  choose(
    settingsFile({
      settings: { keyLock: false, editsGoTo: 'library' },
      backups: { on: false, at: '06:00', keep: DEFAULT_SETTINGS.backups.keep },
      presets: [
        { name: 'Tidy', steps: [] },
        { name: 'New', steps: [] },
      ],
      layouts: [{ ...FIRST_LAYOUT, name: 'Narrow' }],
    }),
  );
  expect(await screen.findByText('Read settings from loft.settings.json')).not.toBeNull();
  // What is not in the file is not offered.
  expect(screen.queryByRole('checkbox', { name: 'File names and folders' })).toBeNull();
  fireEvent.click(screen.getByRole('checkbox', { name: 'Key lock' }));
  fireEvent.click(screen.getByRole('button', { name: 'Put in place' }));
  await screen.findByText('The settings of loft.settings.json are in place');
  const { keep } = DEFAULT_SETTINGS.backups;
  expect(wishes()).toEqual([
    ['/settings', { editsGoTo: 'library' }],
    ['/backups/settings', { on: false, at: '06:00', keep, folder: '/drive' }],
    ['/presets/3', { name: 'Tidy', steps: [] }],
    ['/presets', { name: 'New', steps: [] }],
  ]);
  expect(remembered<{ name: string }[]>('layouts', []).map(({ name }) => name)).toEqual(['Narrow', 'Wide']);
  fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() => expect(remembered<object[]>('layouts', [])).toHaveLength(1));
  const { editsGoTo, changedFiles, newId3Version, starsInFiles, quarantineDays } = DEFAULT_SETTINGS;
  expect(removed).toBe(1);
  expect(wishes().slice(4)).toEqual([
    ['/presets/8', {}],
    ['/settings', { editsGoTo, changedFiles, newId3Version, starsInFiles, quarantineDays }],
    ['/backups/settings', { ...DEFAULT_SETTINGS.backups, folder: '/drive' }],
    ['/presets/3', { name: 'Tidy', steps: [] }],
  ]);
});

test('a file that is none is said, and nothing opens', async () => {
  open();
  choose('{}');
  expect(await screen.findByText('loft.settings.json: This is not a settings file of Early Set')).not.toBeNull();
  expect(screen.queryByRole('dialog')).toBeNull();
});
