/** An hour on the page: its times, what is wrong, what is done about it by hand. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import type { HourContents, HourFilling, HourLine } from '@early-set/core/api/hours';
import { endAudition } from '../../audition/player.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { listContentsOf } from '../../testing/rows.ts';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { HourView } from './HourView.tsx';

fakeAudio();
sizedPage();
const ID = 'f0000000-0000-4000-8000-000000000001';
const AT = new Date(2030, 0, 1, 7).getTime() / 1000;
const LIST = listContentsOf(ID, [], { kind: 'hour', name: 'Tue 1 Jan, 07:00', onAirAt: AT });
const applied = { changeSetId: 1, title: 'Done', done: 1, conflicts: [] };

const line = (entryId: string, kind: HourLine['kind'], at: number, seconds: number, more: Partial<HourLine>) => ({
  entryId,
  kind,
  name: entryId,
  artist: '',
  trackId: null,
  file: null,
  at: AT + at,
  seconds,
  fixed: null,
  off: null,
  toNext: 0,
  intro: null,
  ends: null,
  overIntro: null,
  bed: null,
  out: null,
  reason: null,
  broken: [],
  pinned: false,
  remark: null,
  missing: false,
  ...more,
});
const LINES: HourLine[] = [
  line('News', 'spoken', 0, 180, { fixed: { at: 0, when: 'exact' }, off: 0 }),
  line('Good morning', 'link', 180, 38, { overIntro: 8, trackId: 31, file: 'Good morning' }),
  line('Slack Water', 'track', 218, 200, {
    artist: 'Odette Kassar',
    trackId: 7,
    intro: 12,
    ends: { at: 200, by: 'segue' },
    broken: ['Same artist not within 12 min'],
  }),
  line('Music', 'open', 418, 210, { reason: 'no track left that keeps: not on air for 7 days' }),
];
const FILES = [
  { id: 31, title: 'Good morning', seconds: 38 },
  { id: 32, title: 'Ferry times', seconds: 54 },
];
const FILLING: HourFilling = {
  places: [{ entryId: 'Music', trackId: 9, title: 'Tin Ladle', artist: 'Marrow & Pine', to: null }],
  ends: [],
  open: 0,
  off: 0.4,
  broken: [],
};

let lines: HourLine[], sent: Sent[];
beforeEach(() => {
  lines = LINES;
  ({ sent } = serve({
    [`/hours/${ID}/filling`]: FILLING,
    [`/hours/${ID}/places`]: () => {
      lines = LINES.map((l) => (l.entryId === 'Music' ? { ...l, kind: 'track', name: 'Tin Ladle', reason: null } : l));
      return applied;
    },
    [`/hours/${ID}/instead`]: { entryId: 'Slack Water', next: { name: 'end', at: AT + 3600 }, tracks: [] },
    [`/hours/${ID}/items`]: applied,
    [`/hours/${ID}/open`]: applied,
    [`/hours/${ID}`]: (): HourContents => ({
      id: ID,
      info: LIST.info,
      seconds: 3600,
      lines,
      off: 3,
      rules: [
        { text: 'Not on air for 7 days', hard: true, state: 'open', times: 0 },
        { text: 'Same artist not within 12 min', hard: false, state: 'broken', times: 1 },
      ],
    }),
    '/station-files': FILES,
    '/lists': applied,
    '/roots': [],
    '/settings': {},
  }));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

function Page() {
  const [side, setSide] = useState<HTMLElement | null>(null);
  return (
    <>
      <HourView list={LIST} side={side} />
      <div ref={setSide} />
    </>
  );
}
async function open(): Promise<HTMLElement> {
  show(<Page />);
  return screen.findByRole('grid', { name: 'Items of Tue 1 Jan, 07:00' });
}
const rowOf = (entryId: string): HTMLElement => document.querySelector<HTMLElement>(`[data-entry="${entryId}"]`)!;
const choose = (entryId: string): void => {
  fireEvent.pointerDown(rowOf(entryId), { button: 0 });
  fireEvent.click(rowOf(entryId));
};
const last = (): Sent => sent.at(-1)!;

describe('an hour', () => {
  test('tells each time on air, what an item is played from, what is broken, and why a slot is open', async () => {
    await open();
    expect(rowOf('News').textContent).toContain('07:00:00');
    expect(rowOf('Good morning').textContent).toContain('0:08 over the intro, file: Good morning');
    expect(rowOf('Slack Water').textContent).toContain('07:03:38');
    expect(within(rowOf('Slack Water')).getByLabelText('Same artist not within 12 min')).toBeTruthy();
    expect(rowOf('Music').textContent).toContain('no track left that keeps: not on air for 7 days');
    expect(screen.getByTestId('hour-length').textContent).toContain('1 open slot');
  });
  test('a link is played from another file, or from none', async () => {
    await open();
    choose('Good morning');
    const file = await screen.findByRole<HTMLSelectElement>('combobox', { name: 'File' });
    await waitFor(() =>
      expect([...file.options].map((o) => o.text)).toEqual(['none', 'Good morning, 0:38', 'Ferry times, 0:54']),
    );
    expect(file.value).toBe('31');
    fireEvent.change(file, { target: { value: '32' } });
    await waitFor(() =>
      expect(last()).toEqual({ path: `/hours/${ID}/items/Good%20morning/file`, body: { trackId: 32 } }),
    );
    fireEvent.change(file, { target: { value: '' } });
    await waitFor(() => expect(last().body).toEqual({ trackId: null }));
  });
  test('a file that is no longer there is still named', async () => {
    lines = LINES.map((l) => (l.entryId === 'Good morning' ? { ...l, trackId: 99, file: 'Old words' } : l));
    await open();
    choose('Good morning');
    const file = await screen.findByRole<HTMLSelectElement>('combobox', { name: 'File' });
    expect(file.selectedOptions[0]!.text).toBe('Old words');
  });
  test('what would fill its slots is a draft: discarded, nothing was sent; applied, the slot has its track', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Fill open slots' }));
    const draft = await screen.findByRole('region', { name: 'Draft of the filling' });
    expect(draft.textContent).toContain('1 slot filled');
    expect(rowOf('Music').textContent).toContain('Tin LadleMarrow & Pine');
    fireEvent.click(within(draft).getByRole('button', { name: 'Discard' }));
    expect(rowOf('Music').textContent).toContain('Open slot: Music');
    expect(sent).toEqual([]);
    fireEvent.click(screen.getByRole('button', { name: 'Fill open slots' }));
    fireEvent.click(within(await screen.findByRole('region', { name: 'Draft of the filling' })).getByText('Apply'));
    await waitFor(() => expect(rowOf('Music').textContent).not.toContain('Open slot'));
    expect(sent).toEqual([
      { path: `/hours/${ID}/places`, body: { places: [{ entryId: 'Music', trackId: 9, to: null }], ends: [] } },
    ]);
  });
  test('a track that is removed leaves its slot open; what is spoken goes with its place', async () => {
    const grid = await open();
    choose('Slack Water');
    fireEvent.keyDown(grid, { key: 'Delete' });
    await waitFor(() => expect(last()).toEqual({ path: `/hours/${ID}/open`, body: { entryIds: ['Slack Water'] } }));
    choose('News');
    fireEvent.keyDown(grid, { key: 'Delete' });
    await waitFor(() => expect(last()).toEqual({ path: `/lists/${ID}/entries/remove`, body: { entryIds: ['News'] } }));
  });
  test('the open slot is found from the line above', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: '1 open slot' }));
    expect(rowOf('Music').getAttribute('aria-selected')).toBe('true');
  });
});

test('an hour that cannot be read is said with its reason', async () => {
  serve({});
  show(<Page />);
  expect(await screen.findByText('Not here')).toBeTruthy();
});
