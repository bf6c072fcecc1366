import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ComparisonAnswer, DestinationLine, SyncStep, SyncWish } from '@early-set/core/api/handover';
import { PROGRAMS } from '@early-set/core/exchange/programs';
import type { Line } from '@early-set/core/sync/compareTracks';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import { Route, Routes } from 'react-router';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { HandoverView } from './HandoverView.tsx';
import { WaitingAt } from './WaitingAt.tsx';

sizedPage();
const destination = (more: Partial<DestinationLine> = {}): DestinationLine => ({
  id: 3,
  kind: 'plover',
  name: 'Plover',
  what: 'performance program',
  folder: '/srv/plover',
  readOnly: false,
  settings: { policies: DEFAULT_POLICIES, lists: null, maps: [], keys: null, accepted: [] },
  syncedAt: '2026-11-27T18:40:00Z',
  waiting: { out: 1, in: 1, clash: 1, at: '2026-11-28T10:00:00Z' },
  trouble: null,
  ...more,
});
const line = (name: string, field: string, more: Partial<Line>): Line => ({
  id: `t:${name}:${field}`,
  what: 'track',
  trackId: 1,
  listId: null,
  otherId: 'p-1',
  name,
  field,
  here: null,
  there: null,
  base: null,
  group: 'out',
  will: 'here',
  joined: null,
  options: ['here', 'there', 'leave'],
  reason: null,
  ...more,
});
const comparison = (more: Partial<ComparisonAnswer> = {}): ComparisonAnswer => ({
  destinationId: 3,
  token: 'abc',
  counts: { here: 1204, there: 1188, tied: 1180, notHere: 8, lists: 3 },
  groups: { clash: 1, out: 1, in: 1, left: 0 },
  made: { lines: 2, out: 1, in: 1, undecided: 1 },
  undecided: [{ field: 'key', lines: 1, both: false }],
  lines: [
    line('Lamp Room', 'key', { here: 'Ab major', there: 'F minor', base: 'Ab major', group: 'clash', will: null }),
    line('Dry Dock', 'title', { here: 'Dry Dock', there: '[promo] Dry Dock', base: '[promo] Dry Dock' }),
    line('Kelp Line', 'rating', { here: 3, there: 5, base: 3, group: 'in', will: 'there' }),
  ],
  losses: [
    {
      id: 'cues: only 8 cues',
      field: 'cues',
      reason: 'only 8 cues',
      tracks: 3,
      names: ['Half a Mile of Rope'],
      accepted: false,
    },
  ],
  notHere: [],
  problems: [],
  checks: { openedBy: null, notFound: 0, bytes: 4_300_000 },
  ...more,
});
let all: DestinationLine[], answer: ComparisonAnswer, sent: Sent[];
let refused: Refusal | null;
let step: SyncStep | null;
/** What waits for the answer of a sync; null: it comes at once. */
let syncing: Promise<unknown> | null;
/** Of the second destination: on its way for as long as a test wants. */
let later: Promise<ComparisonAnswer>;
beforeEach(() => {
  [step, syncing] = [null, null];
  [all, answer, refused] = [
    [destination(), destination({ id: 4, name: 'Dunlin', waiting: { out: 0, in: 0, clash: 0, at: '' } })],
    comparison(),
    null,
  ];
  sent = serve({
    '/destinations/kinds': Object.values(PROGRAMS).map((p) => p.describe),
    '/destinations/3/compare': () => answer,
    '/destinations/4/compare': () => later,
    '/destinations/3/step': () => ({ step }),
    '/destinations/3/sync': () =>
      syncing ?? refused ?? { changeSetId: 9, title: 'Sync with Plover', done: 2, conflicts: [] },
    '/destinations/3': () => all[0],
    '/lists': [
      { id: 'l1', name: 'Gigs', kind: 'crate', parentId: null, removed: false, tracks: 0 },
      { id: 'l2', name: 'Saturday', kind: 'playlist', parentId: 'l1', removed: false, tracks: 4 },
    ],
    '/destinations': () => all,
  }).sent;
});
afterEach(cleanup);
const rows = (): (string | null)[] =>
  [...document.querySelectorAll('[data-line]')].map((r) => r.getAttribute('data-line'));
const row = (name: string): HTMLElement => document.querySelector(`[data-line="${name}"]`)!;
const open = async (): Promise<void> => {
  show(<HandoverView />);
  await waitFor(() => expect(rows()).toHaveLength(answer.lines.length));
};
const lastSent = (path: string): Sent | undefined => sent.filter((s) => s.path === path).at(-1);

test('what differs is shown with both sides, what it was and what it will be; groups and words narrow it', async () => {
  await open();
  expect(screen.getByTestId('handover-count').textContent).toMatch(/^1,204 here · 1,188 there · last sync 27 Nov, /);
  expect(row('Dry Dock: Title').textContent).toBe(
    'Dry DockTitleDry Dock[promo] Dry Dock[promo] Dry Dockto PloverDry Dock',
  );
  expect(row('Lamp Room: Key').textContent).toContain('A♭ majF minA♭ majchoosehere');
  const panel = screen.getByRole('complementary', { name: 'Destinations' });
  expect(within(panel).getByText('3 changes waiting')).toBeTruthy();
  expect(within(panel).getByText('up to date')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'From Plover 1' }));
  expect(rows()).toEqual(['Kelp Line: Stars']);
  fireEvent.click(screen.getByRole('button', { name: 'From Plover 1' }));
  fireEvent.change(screen.getByLabelText('Find in what differs'), { target: { value: 'promo' } });
  expect(rows()).toEqual(['Dry Dock: Title']);
  fireEvent.change(screen.getByLabelText('Find in what differs'), { target: { value: 'nothing such' } });
  expect(screen.getByText('Nothing of it here')).toBeTruthy();
});

test('a side is chosen by a press, by a key for all that is chosen, or for all of a field; then applied', async () => {
  await open();
  fireEvent.click(screen.getByRole('button', { name: 'Key: here' }));
  const pressed = (): (string | null)[] =>
    within(row('Lamp Room: Key'))
      .getAllByRole('button', { pressed: true })
      .map((b) => b.textContent);
  // Seen before it is compared anew; what has a choice is not among what is still to choose.
  expect(pressed()).toEqual(['here']);
  expect(screen.queryByRole('region', { name: 'To choose' })).toBeNull();
  await waitFor(() =>
    expect(lastSent('/destinations/3/compare')?.body).toEqual({ choices: { 't:Lamp Room:key': 'here' } }),
  );
  const grid = screen.getByRole('grid');
  fireEvent.keyDown(grid, { key: 'a', ctrlKey: true });
  fireEvent.keyDown(grid, { key: 't' });
  const chosen = { 't:Lamp Room:key': 'there', 't:Dry Dock:title': 'there', 't:Kelp Line:rating': 'there' };
  await waitFor(() => expect(lastSent('/destinations/3/compare')?.body).toEqual({ choices: chosen }));
  fireEvent.click(within(row('Lamp Room: Key')).getByRole('button', { name: 'here' }));
  expect(pressed()).toEqual(['here']);
  const wish: SyncWish = { token: 'abc', choices: { ...chosen, 't:Lamp Room:key': 'here' } as SyncWish['choices'] };
  await waitFor(() => expect(lastSent('/destinations/3/compare')?.body).toEqual({ choices: wish.choices }));
  fireEvent.click(screen.getByRole('button', { name: 'Apply' }));
  await waitFor(() => expect(lastSent('/destinations/3/sync')?.body).toEqual(wish));
  // What was chosen is done with.
  await waitFor(() => expect(lastSent('/destinations/3/compare')?.body).toEqual({ choices: {} }));
});

test('of another destination nothing is shown until it is compared', async () => {
  let come: (answer: ComparisonAnswer) => void = () => undefined;
  later = new Promise((resolve) => (come = resolve));
  show(
    <Routes>
      <Route path="/handover/:destinationId?" element={<HandoverView />} />
    </Routes>,
    '/handover/3',
  );
  await waitFor(() => expect(rows()).toHaveLength(3));
  fireEvent.click(screen.getByRole('link', { name: /^Dunlin/ }));
  expect(await screen.findByText('comparing…')).toBeTruthy();
  expect(rows()).toEqual([]);
  expect(screen.queryByRole('button', { name: 'Apply' })).toBeNull();
  come(comparison({ destinationId: 4, lines: [line('Eel Grass', 'title', {})] }));
  await waitFor(() => expect(rows()).toEqual(['Eel Grass: Title']));
});

test('while it is applied it says how far it is, and can be called off', async () => {
  syncing = new Promise(() => undefined);
  step = { what: 'comparing', done: 2000, total: 100_000 };
  await open();
  fireEvent.click(screen.getByRole('button', { name: 'Apply' }));
  expect((await screen.findByRole('status')).textContent).toBe('comparing 2,000 of 100,000 tracks…');
  step = { what: 'reading back', done: 0, total: null };
  await screen.findByText('reading back what was written…');
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(false));
});

test('a sync that is refused keeps what was chosen', async () => {
  refused = new Refusal(409, 'changed-since', 'One of the two sides has changed since: look at it again');
  await open();
  fireEvent.click(within(row('Lamp Room: Key')).getByRole('button', { name: 'there' }));
  fireEvent.click(screen.getByRole('button', { name: 'Apply' }));
  await waitFor(() => expect(lastSent('/destinations/3/sync')).toBeTruthy());
  await waitFor(() =>
    expect(lastSent('/destinations/3/compare')?.body).toEqual({ choices: { 't:Lamp Room:key': 'there' } }),
  );
});

test('while it is open nothing can be applied; what it cannot store is accepted once; rules are kept', async () => {
  answer = comparison({ checks: { openedBy: 'Plover', notFound: 2, bytes: 10 } });
  await open();
  expect(screen.getByText('open: Plover')).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(true);
  fireEvent.click(screen.getByRole('button', { name: 'Accept' }));
  await waitFor(() =>
    expect(lastSent('/destinations/3')?.body).toEqual({ settings: { accepted: ['cues: only 8 cues'] } }),
  );
  fireEvent.change(screen.getByLabelText('Ready set'), { target: { value: 'This desk leads' } });
  await waitFor(() =>
    expect(lastSent('/destinations/3')?.body).toMatchObject({
      settings: { policies: { names: 'here', lists: 'here' } },
    }),
  );
  fireEvent.click(screen.getByRole('button', { name: 'What it can store' }));
  const dialog = await screen.findByRole('dialog');
  expect(within(dialog).getByRole('row', { name: /^Cues 8, named, in 6 colours/ })).toBeTruthy();
});

test('which lists go there, which folders are the same, and how keys are written is asked for by dialogs', async () => {
  await open();
  fireEvent.click(screen.getByRole('button', { name: 'Change: Lists' }));
  let dialog = await screen.findByRole('dialog', { name: 'Lists that go to Plover' });
  fireEvent.click(within(dialog).getByRole('radio', { name: 'Only these' }));
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: 'Save' }).disabled).toBe(true);
  fireEvent.click(await within(dialog).findByRole('checkbox', { name: /Gigs/ }));
  // What lies in a chosen crate goes along.
  expect(within(dialog).getByRole<HTMLInputElement>('checkbox', { name: /Saturday/ })).toMatchObject({
    checked: true,
    disabled: true,
  });
  fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(lastSent('/destinations/3')?.body).toEqual({ settings: { lists: ['l1'] } }));

  fireEvent.click(screen.getByRole('button', { name: 'Change: Paths' }));
  dialog = await screen.findByRole('dialog', { name: 'Paths at Plover' });
  fireEvent.change(within(dialog).getByLabelText('Folder at Plover, 1'), { target: { value: 'C:\\\\Music\\\\' } });
  expect(within(dialog).getByRole('alert').textContent).toBe('Both sides of a line are needed.');
  fireEvent.change(within(dialog).getByLabelText('The same folder here, 1'), { target: { value: '/srv/music/' } });
  fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(lastSent('/destinations/3')?.body).toEqual({ settings: { maps: [{ from: 'C:/Music', to: '/srv/music' }] } }),
  );

  fireEvent.click(screen.getByRole('button', { name: 'Change: Keys' }));
  dialog = await screen.findByRole('dialog', { name: 'Keys as Plover writes them' });
  const aMinor = within(dialog).getByLabelText<HTMLInputElement>('A min there');
  await waitFor(() => expect(aMinor.value).toBe('Am'));
  fireEvent.change(aMinor, { target: { value: 'Bm' } });
  expect(within(dialog).getByRole('alert').textContent).toBe('Each key needs a spelling of its own.');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Amin' }));
  fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(lastSent('/destinations/3')?.body).toMatchObject({ settings: { keys: { 'A minor': 'Amin' } } }),
  );
});

test('lists say at which destinations they are behind', async () => {
  all = [destination({ waiting: { out: 3, in: 0, clash: 0, at: '', lists: { l1: 2, l2: 1 } } })];
  show(<WaitingAt lists={['l1']} />);
  expect((await screen.findByRole('link')).textContent).toBe('Plover (2 changes)');
  cleanup();
  show(<WaitingAt lists={['l1', 'l2', 'l3']} />);
  expect((await screen.findByRole('link')).textContent).toBe('Plover');
  cleanup();
  show(<WaitingAt lists={['l3']} />);
  await waitFor(() => expect(screen.queryByText(/Not handed over yet/)).toBeNull());
});

test('without destinations, without their data, and with nothing to do it says so', async () => {
  all = [];
  show(<HandoverView />);
  expect(await screen.findByText('Nothing to hand over to yet')).toBeTruthy();
  cleanup();
  all = [destination({ trouble: 'Its data are not in /srv/plover' })];
  show(<HandoverView />);
  expect(await screen.findByText('Plover cannot be read')).toBeTruthy();
  cleanup();
  all = [destination()];
  answer = comparison({
    lines: [],
    groups: { clash: 0, out: 0, in: 0, left: 0 },
    made: { lines: 0, out: 0, in: 0, undecided: 0 },
  });
  show(<HandoverView />);
  expect(await screen.findByText('Plover and this desk say the same')).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(true);
  cleanup();
  // The same, and never synced: that is remembered.
  all = [destination({ syncedAt: null })];
  show(<HandoverView />);
  fireEvent.click(await screen.findByRole('button', { name: 'Remember' }));
  await waitFor(() => expect(lastSent('/destinations/3/sync')?.body).toMatchObject({ choices: {} }));
});
