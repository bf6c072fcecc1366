/** Space: bands and table tell the same; keys go through them; what is marked is counted and put into quarantine. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import fc from 'fast-check';
import type { RetireLook, Space } from '@early-set/core/api/disk';
import { spaceTree, type SpaceRow } from '@early-set/core/space/space';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { bandsOf } from './bands.ts';
import { SpaceView } from './SpaceView.tsx';

sizedPage();
const row = (keys: string[], tracks: number, bytes: number, more: Partial<SpaceRow> = {}): SpaceRow => ({
  keys,
  files: tracks + (more.others ?? 0),
  tracks,
  samples: 0,
  others: 0,
  bytes,
  listed: 0,
  last: '2030-02-01T10:00:00Z',
  ...more,
});

let answer: Space, look: RetireLook | Refusal, sent: Sent[];
beforeEach(() => {
  answer = {
    top: spaceTree([
      row(['1', 'Crates', 'House'], 12, 600e6, { listed: 10 }),
      row(['1', 'Crates', 'Slow'], 4, 200e6, { listed: 4 }),
      row(['1', 'Packs'], 40, 150e6, { samples: 38 }),
      row(['1', 'Scans'], 0, 50e6, { others: 9, last: null }),
    ]),
    listIds: [],
  };
  look = { files: 40, bytes: 150e6, listed: 0 };
  ({ sent } = serve({
    '/disk/space': () => answer,
    '/disk/retire/look': () => look,
    '/disk/retire': { changeSetId: 7, title: 'Put 40 files into quarantine', done: 40, conflicts: [] },
    '/disk/places': { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null },
    '/disk/not-found': { lines: [], away: [] },
    '/disk/quarantine': { files: [], bytes: 0 },
    '/disk/others': { lines: [], more: false },
    '/disk/duplicates': { groups: [], parted: [], waiting: 0, earlier: 0 },
    '/settings': {},
    '/roots': [{ id: 1, label: 'Shelf', path: '/music', tracks: 56 }],
    '/runs': [],
    '/overview': {},
  }));
});
afterEach(cleanup);

const band = (name: string): HTMLElement => document.querySelector<HTMLElement>(`[data-band="${name}"]`)!;
const open = async (at = '/disk/space'): Promise<void> => {
  show(<SpaceView />, at);
  await screen.findByRole('tree');
  await waitFor(() => expect(band('Shelf')).not.toBeNull());
};
const rows = (): string[] => [...document.querySelectorAll<HTMLElement>('[data-space]')].map((r) => r.dataset.space!);

test('bands lie below what they are in; the table holds what is in the chosen one', async () => {
  await open();
  expect(screen.getByTestId('space-count').textContent).toBe('65 files · 954 MB');
  expect(band('Crates').getAttribute('aria-level')).toBe('3');
  fireEvent.click(band('Crates'));
  await waitFor(() => expect(rows()).toEqual(['House', 'Slow']));
  const house = document.querySelector<HTMLElement>('[data-space="House"]')!;
  expect(house.textContent).toContain('10 of 12');
  expect(within(screen.getByLabelText('What it holds')).getByRole('heading').textContent).toBe('Shelf / Crates');
  expect(screen.getByRole('link', { name: 'Show in Tracks' }).getAttribute('href')).toContain('inFolder');
});

test('arrow keys go from band to band, Enter into one and Backspace out again', async () => {
  await open();
  fireEvent.click(band('Shelf'));
  for (const key of ['ArrowDown', 'ArrowRight']) fireEvent.keyDown(document.activeElement!, { key });
  expect(document.activeElement).toBe(band('Packs'));
  fireEvent.keyDown(document.activeElement!, { key: 'ArrowLeft' });
  fireEvent.keyDown(document.activeElement!, { key: 'Enter' });
  await waitFor(() => expect(band('Crates').getAttribute('aria-level')).toBe('1'));
  expect(within(screen.getByRole('navigation', { name: 'In' })).getAllByRole('button')).toHaveLength(3);
  fireEvent.keyDown(band('Crates'), { key: 'Backspace' });
  await waitFor(() => expect(band('Crates').getAttribute('aria-level')).toBe('2'));
  expect(band('Crates').getAttribute('aria-selected')).toBe('true');
});

test('what is marked is counted by the server; applied, it goes as one selection', async () => {
  await open();
  fireEvent.click(band('Packs'));
  fireEvent.click(await screen.findByRole('button', { name: 'Put into the draft' }));
  const draft = await screen.findByRole('region', { name: 'Draft for quarantine' });
  await within(draft).findByText('40 files to quarantine, 143 MB');
  expect(draft.textContent).toContain('None is in a list.');
  expect(band('Packs').getAttribute('aria-label')).toBe('Packs, 143 MB, in this draft');
  fireEvent.click(within(draft).getByRole('button', { name: 'Apply' }));
  await waitFor(() => expect(screen.queryByRole('region', { name: 'Draft for quarantine' })).toBeNull());
  expect(sent.findLast((s) => s.path === '/disk/retire')?.body).toEqual({
    selection: { where: { any: [{ inFolder: { rootId: 1, path: 'Packs' }, below: true }] }, except: [] },
  });
});

test('what cannot be counted says why, and nothing can be applied', async () => {
  look = new Refusal(503, 'no-database', 'The database is not there');
  await open();
  fireEvent.click(band('Packs'));
  fireEvent.click(await screen.findByRole('button', { name: 'Put into the draft' }));
  const draft = await screen.findByRole('region', { name: 'Draft for quarantine' });
  expect(await within(draft).findByText('The database is not there')).toBeTruthy();
  expect(within(draft).getByRole('button', { name: 'Apply' })).toHaveProperty('disabled', true);
});

test('a row is marked and taken out by key; what holds no track cannot be', async () => {
  await open('/disk/space?by=folder&at=1');
  await waitFor(() => expect(rows()).toEqual(['Crates', 'Packs', 'Scans']));
  const choose = (name: string): void => {
    const line = document.querySelector<HTMLElement>(`[data-space="${name}"]`)!;
    fireEvent.pointerDown(line, { button: 0 });
    fireEvent.click(line);
  };
  const grid = screen.getByRole('grid');
  choose('Scans');
  fireEvent.keyDown(grid, { key: 'Delete' });
  expect(screen.queryByRole('region', { name: 'In this draft' })).toBeNull();
  choose('Crates');
  fireEvent.keyDown(grid, { key: 'Delete' });
  expect((await screen.findByRole('region', { name: 'In this draft' })).textContent).toContain('Shelf / Crates');
  fireEvent.click(screen.getByRole('button', { name: 'Take Shelf / Crates out of the draft' }));
  expect(screen.queryByRole('region', { name: 'In this draft' })).toBeNull();
});

test('an empty library says so', async () => {
  answer = { top: spaceTree([]), listIds: [] };
  show(<SpaceView />, '/disk/space');
  expect(await screen.findByText('No files yet')).toBeDefined();
});

describe('layout', () => {
  const key = fc.constantFrom('a', 'b', 'c', 'd');
  const tree = fc
    .array(fc.tuple(fc.array(key, { minLength: 1, maxLength: 6 }), fc.integer({ min: 1, max: 1e6 })), { minLength: 1 })
    .map((rows) => spaceTree(rows.map(([keys, bytes]) => row(keys, 1, bytes))));
  test('bands are as wide as their share, lie within those above, and never overlap', () => {
    fc.assert(
      fc.property(tree, (top) => {
        const bands = bandsOf(top);
        for (const b of bands) expect(b.to - b.from).toBeCloseTo(b.node.bytes / top.bytes, 6);
        for (let depth = 0; depth < 4; depth++) {
          const level = bands.filter((b) => b.depth === depth).sort((a, b) => a.from - b.from);
          for (let i = 1; i < level.length; i++) expect(level[i]!.from).toBeGreaterThanOrEqual(level[i - 1]!.to - 1e-9);
        }
      }),
    );
  });
});
