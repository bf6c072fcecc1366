import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Candidate, GroupDetails, GroupState, GroupTrack, Lookup } from '@early-set/core/api/catalogue';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import type { Release } from '@early-set/core/catalogue/releases';
import type { TrackValues } from '@early-set/core/fields/values';
import { forgetHanded } from '../../data/handed.ts';
import { forget } from '../../data/remembered.ts';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { SCOPE } from '../clean/scope.ts';
import { CatalogueView } from './CatalogueView.tsx';

const release = (id: string, more: Partial<Release> = {}): Release =>
  ({
    id,
    title: 'Bladderwrack Cuts',
    artists: ['Brine Choir'],
    year: 2011,
    country: 'DK',
    format: 'file',
    label: 'Tarn',
    catalogueNumber: 'TRN 4',
    genres: [{ genre: 'House', subGenres: ['Deep House'] }],
    credits: [],
    hasPicture: false,
    tracks: ['First', 'Second', 'Third'].map((title, i) => ({
      title,
      version: null,
      artists: [],
      disc: 1,
      number: i + 1,
      seconds: 200 + i,
      isrc: null,
    })),
    ...more,
  }) as Release;
const track = (id: number, values: TrackValues = {}, more: Partial<GroupTrack> = {}): GroupTrack => ({
  id,
  rootId: 1,
  path: `Bladderwrack Cuts/0${id}.mp3`,
  values: { title: null, ...values },
  locked: [],
  seconds: 199 + id,
  artHash: null,
  ...more,
});
const candidate = (own: Release, lines: Record<number, number>, score = 0.95): Candidate => ({
  release: own,
  match: { releaseId: own.id, score, reasons: ['all lengths agree'], lines },
});
const details = (id: number, state: GroupState, more: Partial<GroupDetails> = {}): GroupDetails => ({
  id,
  kind: 'album',
  name: `Album ${id}`,
  folder: 'Bladderwrack Cuts',
  tracks: 3,
  state,
  score: 0.95,
  reason: null,
  query: { artist: 'Brine Choir', album: 'Bladderwrack Cuts', title: '' },
  trackList: [track(1), track(2), track(3)],
  candidates: [candidate(release('r1'), { 1: 0, 2: 1 })],
  chosen: 'r1',
  ...more,
});

let groups: GroupDetails[];
let lookup: Partial<Lookup>;
let sent: Sent[];
const applied = { changeSetId: 1, title: 'Taken', done: 1, conflicts: [] };
beforeEach(() => {
  forget('merge-policies');
  forgetHanded(SCOPE);
  groups = [details(1, 'found'), details(2, 'unsure'), details(3, 'none', { candidates: [], chosen: null })];
  lookup = {};
  ({ sent } = serve({
    '/catalogue': { there: true, latest: 5 },
    '/runs': [],
    '/settings': DEFAULT_SETTINGS,
    '/lookups/5/take': applied,
    '/runs/92/retry': {},
    '/lookups/5/groups': (_: unknown, address: URL) =>
      groups.find((g) => g.id === Number(address.pathname.split('/').at(-1))),
    '/lookups/5/draft': {
      groups: 1,
      tracks: 2,
      fields: 6,
      lines: [
        { trackId: 1, path: 'Bladderwrack Cuts/01.mp3', fields: [{ field: 'title', before: null, after: 'First' }] },
      ],
    },
    '/lookups/5': () => ({
      id: 5,
      title: 'All tracks',
      runId: 92,
      running: false,
      how: 'fields',
      fill: null,
      madeAt: '',
      trouble: null,
      groups,
      ...lookup,
    }),
    '/lookups': (body: unknown) => (body ? { id: 6 } : []),
  }));
});
afterEach(cleanup);
const open = async (at = '/catalogue?lookup=5&group=1'): Promise<void> => {
  show(<CatalogueView />, at);
  await waitFor(() => expect(screen.getByRole('grid', { name: 'Tracks of the release' })).toBeTruthy());
};
const patched = (): unknown[] => sent.filter((s) => s.path.startsWith('/lookups/5/groups/')).map((s) => s.body);
const lineOf = (n: number): Element => document.querySelector(`[data-line="${n}"]`)!;

describe('matched tracks', () => {
  test('one put on a free line, on a taken one (they change places), and on none', async () => {
    await open();
    const boxes = () => within(screen.getByRole('grid', { name: 'Tracks of the release' })).getAllByRole('combobox');
    expect(within(lineOf(2) as HTMLElement).getByText('no track')).toBeTruthy();
    expect(
      screen.getByText(
        '1 track unmatched; drag onto a track of the release, or leave as it is. 1 track of the release without a file.',
      ),
    ).toBeTruthy();
    fireEvent.change(boxes()[0]!, { target: { value: '2' } });
    fireEvent.change(boxes()[0]!, { target: { value: '1' } });
    fireEvent.change(boxes()[1]!, { target: { value: '' } });
    fireEvent.change(screen.getByLabelText('Matched track of 03.mp3'), { target: { value: '0' } });
    expect(patched()).toEqual([
      { lines: { 1: 2, 2: 1 } },
      { lines: { 1: 1, 2: 0 } },
      { lines: { 1: 0 } },
      { lines: { 2: 1, 3: 0 } },
    ]);
  });

  test('a length that is far from the line is marked, one that is near is not', async () => {
    groups[0] = details(1, 'found', { trackList: [track(1), track(2, {}, { seconds: 260 })] });
    await open();
    expect(
      within(lineOf(0) as HTMLElement).getByText('3:20', { selector: '[role=gridcell]:last-child .text-dim' }),
    ).toBeTruthy();
    expect(within(lineOf(1) as HTMLElement).getByText('4:20').className).toContain('font-semibold');
  });

  test('versions lie side by side; another one can be taken in hand, and other words asked with', async () => {
    groups[0] = details(1, 'found', {
      candidates: [
        candidate(release('r1'), { 1: 0 }),
        candidate(release('r2', { country: 'JP', format: '12-inch', year: 2010 }), { 1: 0 }, 0.71),
      ],
    });
    await open();
    const other = document.querySelector('[data-release="r2"]') as HTMLElement;
    expect(within(other).getByText('JP').className).toContain('text-sodium-text');
    expect(within(other).getByText('Tarn').className).not.toContain('text-sodium-text');
    expect(within(other.parentElement!.parentElement!).getAllByRole('row', { selected: true })).toHaveLength(1);
    fireEvent.click(other);
    expect(patched()).toEqual([{ chosen: 'r2' }]);
    fireEvent.change(screen.getByLabelText('Album'), { target: { value: 'Bladderwrack Cuts EP' } });
    fireEvent.submit(screen.getByLabelText('Album').closest('form')!);
    await waitFor(() =>
      expect(patched()).toContainEqual({ query: { artist: 'Brine Choir', album: 'Bladderwrack Cuts EP', title: '' } }),
    );
  });
});

describe('what is applied', () => {
  test('gaps by default, more by choice, nothing locked; the card counts what would change', async () => {
    groups[0] = details(1, 'found', {
      trackList: [
        track(1, {
          title: 'Frist',
          artist: ['Brine Choir'],
          album: 'Bladderwrack Cuts',
          year: 2011,
          label: 'Tarn',
          catalogueNumber: 'TRN 4',
          genre: ['Deep House'],
          albumArtist: 'Brine Choir',
        }),
        track(2, {}, { locked: ['year'] }),
      ],
    });
    await open();
    const card = within(screen.getByTestId('draft-card'));
    // Track 1 lacks its number; track 2 lacks nine fields, one of them locked.
    expect(card.getByText('9 fields')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('What is applied of Title'), { target: { value: 'replace' } });
    expect(card.getByText('10 fields')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'all: mine' }));
    expect(card.getByText('Nothing would change')).toBeTruthy();
    expect(card.getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: "all: catalogue's" }));
    fireEvent.click(card.getByRole('button', { name: 'Apply' }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/lookups/5/take')?.body).toMatchObject({
        groups: [1],
        policies: { fields: { title: 'replace', year: 'replace' }, picture: 'fill gaps' },
      }),
    );
    await waitFor(() => expect(screen.getByRole('heading', { name: 'Album 2' })).toBeTruthy());
  });

  test('a filler takes only what it was asked to fill', async () => {
    lookup = { fill: { fields: ['year', 'genre'], clear: false } };
    await open();
    expect(within(screen.getByTestId('draft-card')).getByText('4 fields')).toBeTruthy();
  });

  test('everything sure is seen before it is taken', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Apply all 1 found…' }));
    const dialog = within(await screen.findByRole('dialog'));
    await waitFor(() => expect(dialog.getByText('6 fields on 2 tracks, 1 release')).toBeTruthy());
    expect(sent.some((s) => s.path === '/lookups/5/take')).toBe(false);
    fireEvent.click(dialog.getByRole('button', { name: 'Apply to 2 tracks' }));
    await waitFor(() => expect(sent.find((s) => s.path === '/lookups/5/take')?.body).toMatchObject({ groups: null }));
  });
});

describe('groups', () => {
  test('shown by state, gone along with arrows, skipped and asked again', async () => {
    await open();
    const list = within(screen.getByRole('list', { name: 'Groups' }));
    fireEvent.keyDown(list.getAllByRole('button')[0]!, { key: 'ArrowDown' });
    await waitFor(() => expect(screen.getByRole('heading', { name: 'Album 2' })).toBeTruthy());
    await waitFor(() => expect(screen.getByTestId('draft-card')).toBeTruthy());
    fireEvent.click(screen.getByRole('button', { name: 'Skip' }));
    expect(patched()).toEqual([{ skipped: true }]);
    fireEvent.click(screen.getByRole('button', { name: /not found/, pressed: false }));
    expect(list.getAllByRole('button').map((b) => b.dataset.group)).toEqual(['3']);
    fireEvent.click(screen.getByRole('button', { name: 'Search again for 1 group' }));
    await waitFor(() => expect(sent.some((s) => s.path === '/runs/92/retry')).toBe(true));
  });

  test('what is the matter with the catalogue is said', async () => {
    lookup = { trouble: 'The catalogue is down; it is asked again in 20 s' };
    await open();
    expect(screen.getByText('The catalogue is down; it is asked again in 20 s').getAttribute('role')).toBe('status');
  });

  test('a look-up begins with which tracks, by what, and for what', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Look up…' }));
    const dialog = within(await screen.findByRole('dialog'));
    fireEvent.click(dialog.getByRole('radio', { name: /By sound/ }));
    fireEvent.click(dialog.getByRole('radio', { name: /Write year and genre anew/ }));
    fireEvent.click(dialog.getByRole('button', { name: 'Look up' }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/lookups')?.body).toMatchObject({
        how: 'sound',
        tearApart: false,
        fill: { fields: ['year', 'genre'], clear: true },
      }),
    );
  });

  test('without a catalogue, and before the first look-up, the page says what to do', async () => {
    serve({ '/catalogue': { there: false, latest: null }, '/runs': [] });
    show(<CatalogueView />, '/catalogue');
    await waitFor(() => expect(screen.getByText('No catalogue is set up')).toBeTruthy());
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Look up…' }).disabled).toBe(true);
    cleanup();
    serve({ '/catalogue': { there: true, latest: null }, '/runs': [] });
    show(<CatalogueView />, '/catalogue');
    await waitFor(() => expect(screen.getByText('Nothing has been looked up yet')).toBeTruthy());
  });

  test('a look-up that is gone is said in the words of the server', async () => {
    serve({
      '/catalogue': { there: true, latest: 5 },
      '/runs': [],
      '/lookups': new Refusal(404, 'not-found', 'That look-up is not there'),
    });
    show(<CatalogueView />, '/catalogue?lookup=5');
    await waitFor(() => expect(screen.getByText(/That look-up is not there/)).toBeTruthy());
  });
});
