/** Bundles: what is asked for when one is made and read, and what is left to do afterwards. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { BundleLine, BundleLook, BundleSteps } from '@early-set/core/api/bundles';
import { CATEGORIES } from '@early-set/core/bundle/manifest';
import type { ListLine } from '@early-set/core/api/types';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { write } from '../../data/remembered.ts';
import { BundlesView } from './BundlesView.tsx';

sizedPage();
const line = (more: Partial<BundleLine>): BundleLine => ({
  ...{ path: '/drive/Loft.zip', name: 'Loft.zip', zip: true, madeAt: '2026-11-30T10:00:00Z', computer: 'loft' },
  ...{ tracks: 96, trouble: null },
  ...more,
});
const list = (id: string, name: string): ListLine =>
  ({ id, name, kind: 'crate', parentId: null, removed: false, position: 1, rule: null }) as unknown as ListLine;
const LISTS = ['00000000-0000-4000-8000-000000000001', '00000000-0000-4000-8000-000000000002'];

let sent: Sent[], look: BundleLook, steps: BundleSteps, bundles: BundleLine[];
beforeEach(() => {
  write('bundle-folder', '/drive');
  bundles = [line({}), line({ path: '/drive/Old', name: 'Old', trouble: 'bundle.json cannot be read' })];
  look = {
    ...{ path: '/drive/Loft.zip', bytes: 2e6, here: [1], empty: true },
    manifest: {
      ...{ format: 'early-set-bundle', version: 1, madeAt: '2026-11-30T10:00:00Z', computer: 'loft', lists: null },
      ...{ categories: ['tracks', 'lists'], parts: [], files: 0 },
      folders: [
        { id: 1, label: 'Music', path: '/music', tracks: 90, purpose: 'library' },
        { id: 2, label: 'Promo', path: '/promo', tracks: 6, purpose: 'library' },
      ],
    },
  };
  steps = { read: null, steps: [] };
  ({ sent } = serve({
    '/bundles/in': () => bundles,
    '/bundles/look': () => look,
    '/bundles/steps': (body: unknown) => (body === undefined ? steps : { forgotten: 1 }),
    '/bundles/read': { runId: 1 },
    '/bundles/compare': { id: 4 },
    '/bundles': { runId: 1, path: '/drive/x.zip' },
    '/lists': [list(LISTS[0]!, 'Friday'), list(LISTS[1]!, 'Reserve')],
    '/overview': { tracks: 96 },
    '/places/browse': { path: '/drive', parent: null, folders: [], lists: [], audioFiles: 0, otherFiles: 0 },
    '/places': [{ path: '/drive', label: 'Drive' }],
    '/runs': [],
  }));
});
afterEach(cleanup);
const bodyOf = (path: string): unknown => sent.findLast((s) => s.path === path)?.body;

test('of the whole library, with what is checked, under a name', async () => {
  show(<BundlesView />, '/bundles');
  await screen.findByText(/96 tracks, 2 lists/);
  fireEvent.click(screen.getByRole('checkbox', { name: /^Measurements/ }));
  fireEvent.change(screen.getByLabelText('Name of the bundle'), { target: { value: '  For the laptop ' } });
  fireEvent.click(screen.getByRole('button', { name: 'Make the bundle' }));
  await waitFor(() =>
    expect(bodyOf('/bundles')).toMatchObject({
      ...{ folder: '/drive', name: 'For the laptop', zip: true, lists: null },
      categories: CATEGORIES.filter((c) => c !== 'analyses'),
    }),
  );
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /^Tracks/ }).disabled).toBe(true);
});

test('of chosen lists; what belongs to the whole library stays away, and what is missing is said', async () => {
  show(<BundlesView />, '/bundles');
  fireEvent.click(await screen.findByRole('radio', { name: 'Chosen crates and playlists' }));
  const make = screen.getByRole<HTMLButtonElement>('button', { name: 'Make the bundle' });
  expect(make.disabled).toBe(true);
  expect(screen.getByText('Choose a crate or playlist.')).not.toBeNull();
  fireEvent.click(await screen.findByRole('checkbox', { name: /Friday/ }));
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /^History/ }).disabled).toBe(true);
  fireEvent.click(make);
  await waitFor(() => expect(bodyOf('/bundles')).toMatchObject({ lists: [LISTS[0]] }));
  expect((bodyOf('/bundles') as { categories: string[] }).categories).not.toContain('history');
});

test('read: which one, what of it, where its folders are', async () => {
  show(<BundlesView />, '/bundles?part=read');
  const broken = await screen.findByRole<HTMLButtonElement>('button', { name: /^Old/ });
  expect(broken.disabled).toBe(true);
  expect(broken.textContent).toContain('bundle.json cannot be read');
  fireEvent.click(screen.getByRole('button', { name: /^Loft\.zip/ }));
  const folders = await screen.findByRole('region', { name: 'Where its folders are here' });
  expect(
    within(folders)
      .getAllByRole('listitem')
      .map((item) => item.textContent),
  ).toEqual([
    expect.stringMatching(/Music90 tracks\/music.*is here/),
    expect.stringMatching(/Promo6 tracks\/promo.*not here yet/),
  ]);
  expect(screen.getAllByText('not in this bundle')).toHaveLength(5);
  fireEvent.click(screen.getByRole('button', { name: 'Another folder for Promo' }));
  const use = await screen.findByRole<HTMLButtonElement>('button', { name: 'Use this folder' });
  const path = screen.getByLabelText('Path; Enter goes there');
  fireEvent.change(path, { target: { value: '/drive' } });
  fireEvent.keyDown(path, { key: 'Enter' });
  await waitFor(() => expect(use.disabled).toBe(false));
  fireEvent.click(use);
  fireEvent.click(await screen.findByRole('button', { name: 'Read the bundle' }));
  await waitFor(() =>
    expect(bodyOf('/bundles/read')).toEqual({
      ...{ path: '/drive/Loft.zip', categories: ['tracks', 'lists'], folders: [{ id: 2, path: '/drive' }] },
      music: false,
    }),
  );
});

test('beside a library that holds something it is compared, not read', async () => {
  look = { ...look, empty: false };
  show(<BundlesView />, '/bundles?part=read');
  fireEvent.click(await screen.findByRole('button', { name: /^Loft\.zip/ }));
  const compare = await screen.findByRole('button', { name: 'Compare with the library' });
  expect(screen.queryByRole('button', { name: 'Read the bundle' })).toBeNull();
  expect(screen.getByText(/taken over as you choose/)).not.toBeNull();
  fireEvent.click(compare);
  await waitFor(() => expect(bodyOf('/bundles/compare')).toEqual({ path: '/drive/Loft.zip', folders: [] }));
});

test('music goes along into a folder, and is copied where it is read', async () => {
  show(<BundlesView />, '/bundles');
  await screen.findByText(/96 tracks, 2 lists/);
  fireEvent.click(screen.getByRole('checkbox', { name: /^Music files/ }));
  fireEvent.click(screen.getByRole('button', { name: 'Make the bundle' }));
  await waitFor(() => expect(bodyOf('/bundles')).toMatchObject({ zip: false, music: true }));
  // As one zip it does not go along.
  fireEvent.click(screen.getByRole('radio', { name: 'One zip' }));
  expect(screen.getByRole<HTMLInputElement>('checkbox', { name: /^Music files/ }).checked).toBe(false);
  cleanup();
  look = { ...look, manifest: { ...look.manifest, music: { files: 90, left: 6 } } };
  show(<BundlesView />, '/bundles?part=read');
  fireEvent.click(await screen.findByRole('button', { name: /^Loft\.zip/ }));
  expect((await screen.findByRole('checkbox', { name: /^Music files 90 files/ })).getAttribute('checked')).toBe('');
  fireEvent.click(screen.getByRole('button', { name: 'Read the bundle' }));
  await waitFor(() => expect(bodyOf('/bundles/read')).toMatchObject({ music: true }));
});

test('afterwards each step says whether it is done, and leads to where it is', async () => {
  steps = {
    read: { at: '2026-11-30T10:00:00Z', computer: 'loft', name: 'Loft.zip' },
    steps: [
      { step: 'folders', done: 2, total: 2 },
      { step: 'files', done: 95, total: 96 },
      { step: 'backup', done: 0, total: 1 },
    ],
  };
  show(<BundlesView />, '/bundles');
  const aside = await screen.findByRole('complementary', { name: 'After reading' });
  expect(within(aside).getAllByLabelText('Done')).toHaveLength(1);
  expect(within(aside).getAllByLabelText('Open')).toHaveLength(2);
  expect(aside.textContent).toContain('95 of 96');
  expect(within(aside).getByRole('link', { name: 'Files are found' }).getAttribute('href')).toBe('/disk');
  fireEvent.click(within(aside).getByRole('button', { name: 'Hide this list' }));
  await waitFor(() => expect(screen.queryByRole('complementary', { name: 'After reading' })).toBeNull());
});
