import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ChangeSetLine, DateLine, Overview, RunProgress } from '@early-set/core/api/types';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { daysBetween, localDay } from '@early-set/core/clock/clock';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { whenWords } from './DateCard.tsx';
import { leftOf } from './left.ts';
import { TodayView } from './TodayView.tsx';

const level = (count: number) => ({ count, level: 0.5 });
const OVERVIEW: Overview = {
  tracks: 120,
  measured: 118,
  totalSeconds: 36_000,
  unwritten: 3,
  notReady: { floor: 40, playout: 60 },
  onDisk: { missing: 0, place: 7, duplicate: 0 },
  stages: {
    today: level(2),
    intake: level(8),
    tracks: level(120),
    clean: level(12),
    arrange: level(2),
    disk: level(0),
    handover: level(1),
    changes: level(4),
  },
};
const DATE: DateLine = {
  id: 1,
  name: 'Slipway',
  kind: 'gig',
  day: localDay(new Date(Date.now() + 2 * 86_400_000)),
  startsAt: '22:00',
  asks: 'floor',
  listIds: ['f0000000-0000-4000-8000-000000000001'],
  lists: [{ id: 'f0000000-0000-4000-8000-000000000001', name: 'First hour', kind: 'playlist' }],
  within: ['f0000000-0000-4000-8000-000000000001', 'f0000000-0000-4000-8000-000000000002'],
  tracks: 10,
  seconds: 3000,
  measured: 10,
  filled: 7,
  here: 9,
  written: 10,
  ready: 6,
};
const CHANGES: ChangeSetLine[] = [
  {
    id: 5,
    title: 'Genre on two tracks',
    madeAt: '2026-11-20T20:15:00.000Z',
    done: 2,
    conflicts: 0,
    undoOf: null,
    undoneBy: null,
    waiting: 0,
    files: 2,
    runId: null,
  },
  {
    id: 4,
    title: 'Year on one track',
    madeAt: '2026-11-20T20:10:00.000Z',
    done: 1,
    conflicts: 0,
    undoOf: null,
    undoneBy: 6,
    waiting: 0,
    files: 0,
    runId: null,
  },
];
const LISTS = [
  {
    id: 'f0000000-0000-4000-8000-000000000001',
    kind: 'playlist',
    name: 'First hour',
    parentId: null,
    position: 1,
    removed: false,
    startsAt: '20:00',
    tracks: 10,
    durationSeconds: 3000,
    updatedAt: '',
  },
  {
    id: 'f0000000-0000-4000-8000-000000000009',
    kind: 'crate',
    name: 'Put away',
    parentId: null,
    position: 1,
    removed: true,
    startsAt: null,
    tracks: 1,
    durationSeconds: 60,
    updatedAt: '',
  },
];

function start(
  dates: DateLine[],
  { overview = OVERVIEW, runs = [] as RunProgress[] } = {},
): { sent: Sent[]; asked: URL[] } {
  const asked: URL[] = [];
  const { sent } = serve({
    '/dates': (body: unknown, address: URL) => {
      asked.push(address);
      return body === undefined ? dates : { ...(body as object), id: 9 };
    },
    '/overview': overview,
    '/runs': runs,
    '/settings': DEFAULT_SETTINGS,
    '/lists': LISTS,
    '/changes': (body: unknown) =>
      body === undefined ? CHANGES : { changeSetId: 7, title: 'Undo', done: 1, conflicts: [] },
  });
  show(<TodayView />);
  return { sent, asked };
}
afterEach(cleanup);

test('how far a date is off, in words', () => {
  expect([0, 1, 2, -1, -5].map(whenWords)).toEqual(['today', 'tomorrow', 'in 2 days', 'yesterday', '5 days ago']);
  expect([
    daysBetween('2026-10-24', '2026-10-26'),
    daysBetween('2027-01-01', '2026-12-31'),
    localDay(new Date(2026, 0, 5, 23, 59)),
  ]).toEqual([2, -1, '2026-01-05']);
});

describe('a date', () => {
  test('says when, with what, how ready, and leads to what is left in its lists', async () => {
    start([DATE]);
    const card = within(await screen.findByRole('article', { name: 'Slipway' }));
    expect(card.getByText('in 2 days')).toBeTruthy();
    expect(card.getByRole('img', { name: '60 % ready' })).toBeTruthy();
    expect(card.getByRole('link', { name: 'First hour' }).getAttribute('href')).toBe(
      '/arrange/f0000000-0000-4000-8000-000000000001',
    );
    await waitFor(() => expect(card.getAllByRole('link', { name: /left/ })).toHaveLength(2));
    const where = (name: string): { label: string; where: unknown } =>
      JSON.parse(
        new URL(card.getAllByRole('link', { name })[0]!.getAttribute('href')!, 'http://page').searchParams.get('also')!,
      ) as { label: string; where: unknown };
    expect(where('3 left').label).toBe('Slipway: with gaps');
    expect(where('1 left')).toEqual({
      label: 'Slipway: missing file',
      where: {
        all: [
          { inLists: ['f0000000-0000-4000-8000-000000000001', 'f0000000-0000-4000-8000-000000000002'] },
          { field: 'fileState', test: 'one of', values: ['missing'] },
        ],
      },
    });
    expect(where('4 tracks to do').label).toBe('Slipway: not ready');
  });
  test('all ready, nothing in its lists, or without lists', async () => {
    start([
      { ...DATE, filled: 10, here: 10, ready: 10 },
      { ...DATE, id: 2, name: 'Empty', tracks: 0, measured: 0, filled: 0, here: 0, written: 0, ready: 0 },
      { ...DATE, id: 3, name: 'Bare', kind: 'show', asks: 'playout', lists: [], listIds: [], tracks: 0 },
    ]);
    await screen.findByText('Ready for the floor', { selector: 'span' });
    expect(within(screen.getByRole('article', { name: 'Empty' })).getByText('Nothing is in them yet.')).toBeTruthy();
    fireEvent.click(within(screen.getByRole('article', { name: 'Bare' })).getByRole('button', { name: 'Choose some' }));
    expect(await screen.findByRole('dialog', { name: 'Change the date' })).toBeTruthy();
  });
  test('is added with the lists that are there; lists that were put away are not offered', async () => {
    const { sent } = start([]);
    await screen.findByText('No date ahead');
    fireEvent.click(screen.getAllByRole('button', { name: 'Add a date' })[0]!);
    const dialog = within(await screen.findByRole('dialog', { name: 'Add a date' }));
    const add = dialog.getByRole('button', { name: 'Add the date' });
    fireEvent.click(add);
    expect((await dialog.findByRole('alert')).textContent).toBe('Give it a name');
    expect(sent).toEqual([]);
    fireEvent.change(dialog.getByLabelText('Name'), { target: { value: '  The hour at seven ' } });
    fireEvent.change(dialog.getByLabelText('What'), { target: { value: 'show' } });
    fireEvent.change(dialog.getByLabelText('Day'), { target: { value: '2031-02-03' } });
    fireEvent.change(dialog.getByLabelText('Begins'), { target: { value: '07:00' } });
    fireEvent.click(await dialog.findByRole('checkbox', { name: /First hour/ }));
    expect(dialog.queryByText('Put away')).toBeNull();
    fireEvent.click(add);
    await waitFor(() =>
      expect(sent).toEqual([
        {
          path: '/dates',
          body: {
            name: 'The hour at seven',
            kind: 'show',
            day: '2031-02-03',
            startsAt: '07:00',
            asks: 'playout',
            listIds: ['f0000000-0000-4000-8000-000000000001'],
          },
        },
      ]),
    );
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });
  test('is changed, without lists that have gone since', async () => {
    const { sent } = start([
      { ...DATE, listIds: ['f0000000-0000-4000-8000-000000000001', 'f0000000-0000-4000-8000-00000000dead'] },
    ]);
    fireEvent.click(await screen.findByRole('button', { name: 'Change Slipway' }));
    const dialog = within(await screen.findByRole('dialog'));
    await dialog.findByRole('checkbox', { name: /First hour/ });
    fireEvent.change(dialog.getByLabelText('Begins'), { target: { value: '' } });
    fireEvent.click(dialog.getByRole('button', { name: 'Save changes' }));
    await waitFor(() =>
      expect(sent).toMatchObject([
        {
          path: '/dates/1',
          body: { name: 'Slipway', startsAt: null, listIds: ['f0000000-0000-4000-8000-000000000001'] },
        },
      ]),
    );
  });
  test('what has been is a look away', async () => {
    const { asked } = start([DATE]);
    fireEvent.click(await screen.findByRole('button', { name: 'Past dates' }));
    await waitFor(() => expect(asked.some((a) => a.searchParams.get('past') === 'true')).toBe(true));
  });
});

describe('what is left', () => {
  test('is a line per stage, each with its way, and plain words where nothing is', async () => {
    start([DATE]);
    const left = within(await screen.findByRole('region', { name: 'To do' }));
    expect(left.getAllByRole('listitem').map((li) => li.textContent)).toEqual([
      'Intake8not taken',
      'Tracks2not measured',
      'Clean12with gaps',
      'Clean40not ready for the floor',
      'Clean60not ready for playout',
      'Clean3tags not written yet',
      'Diskno missing files',
      'Disk7files out of place',
      'Diskno duplicates',
    ]);
    expect(left.getByRole('link', { name: /not taken/ }).getAttribute('href')).toBe('/intake');
    expect(screen.getByText('Nothing runs.')).toBeTruthy();
    const whole = within(screen.getByRole('region', { name: 'The whole library' }));
    expect(whole.getByText('66 %')).toBeTruthy();
    expect(whole.getByRole('link', { name: '60 tracks left' })).toBeTruthy();
  });
  test('an empty library is told to take music in first', async () => {
    start([], { overview: { ...OVERVIEW, tracks: 0, measured: 0 } });
    expect(await screen.findByText('Nothing is here yet')).toBeTruthy();
    expect(screen.queryByRole('region', { name: 'The whole library' })).toBeNull();
  });
  test('every condition that it leads to can be said in an address', () => {
    for (const { to, stage } of leftOf(OVERVIEW, DEFAULT_SETTINGS.gapRules))
      expect(stage === 'intake' || new URL(to, 'http://page').searchParams.get('also')?.includes('"where"')).toBe(true);
  });
});

test('the latest changes can be taken back, those that were cannot', async () => {
  const { sent } = start([]);
  fireEvent.click(await screen.findByRole('button', { name: 'Undo: Genre on two tracks' }));
  await waitFor(() => expect(sent).toEqual([{ path: '/changes/5/undo', body: {} }]));
  expect(screen.queryByRole('button', { name: /Year on one track/ })).toBeNull();
});
