/** Out of place: rules, what they want, and the draft that moves files. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { OutOfPlace, OutOfPlaceLine } from '@early-set/core/api/disk';
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { READY_RULES } from '@early-set/core/naming/naming';
import { DEFAULT_NAME_OPTIONS } from '@early-set/core/naming/safeNames';
import { Refusal, serve, show, tell, type Sent } from '../../../testing/server.tsx';
import { sizedPage } from '../../../testing/sized.ts';
import { PlacesView } from './PlacesView.tsx';

sizedPage();
const line = (trackId: number, more: Partial<OutOfPlaceLine> = {}): OutOfPlaceLine => ({
  trackId,
  title: 'Slack Water',
  artist: 'Odette Kassar',
  album: 'Slow Water',
  rootId: 1,
  root: 'Music',
  path: `Inbox/${trackId}.mp3`,
  wanted: `Odette Kassar/Slack Water ${trackId}.mp3`,
  rule: 'Year',
  numbered: false,
  ...more,
});
const rules = ['Year', 'Genre'].map((name, i) => ({ ...READY_RULES.find((r) => r.name === name)!, id: `r${i}` }));

let answer: OutOfPlace, settings: DeskSettings, sent: Sent[], refuse: Refusal | null;
beforeEach(() => {
  answer = {
    lines: [line(1), line(2, { numbered: true }), line(3, { rule: 'Genre' })],
    elsewhere: 3,
    troubles: [{ ...line(9), title: '', path: 'Inbox/9.mp3', why: 'It has no title' }],
    unnamed: 1,
    right: 4,
    trouble: null,
  };
  settings = { ...DEFAULT_SETTINGS, naming: { rules, options: DEFAULT_NAME_OPTIONS } };
  refuse = null;
  ({ sent } = serve({
    '/disk/places/move': { changeSetId: 5, title: 'Move 2 files', done: 2, conflicts: [] },
    '/disk/places': () => answer,
    '/disk/quarantine': { files: [], bytes: 0 },
    '/disk/others': { lines: [], more: false },
    '/disk/not-found': { lines: [], away: [] },
    '/disk/duplicates': { groups: [], parted: [], waiting: 0, earlier: 0 },
    '/settings': (body: unknown) => {
      if (body && refuse) return refuse;
      return (settings = { ...settings, ...(body as Partial<DeskSettings> | undefined) });
    },
    '/tracks': (_: unknown, { pathname }: URL) => ({
      id: Number(/\d+/.exec(pathname)![0]),
      values: { title: 'Slack Water', artist: ['Odette Kassar'], year: 2031, path: 'Inbox/1.mp3' },
    }),
    '/lists': [],
    '/roots': [],
    '/runs': [],
    '/dates': [],
    '/overview': {},
  }));
});
afterEach(cleanup);

const open = async (): Promise<HTMLElement> => {
  show(<PlacesView />);
  return screen.findByRole('grid', { name: 'Files out of place' });
};
const row = (id: number): HTMLElement => document.querySelector<HTMLElement>(`[data-place="Inbox/${id}.mp3"]`)!;
const choose = (id: number): void => {
  fireEvent.pointerDown(row(id), { button: 0 });
  fireEvent.click(row(id));
};
const draft = (): HTMLElement => screen.getByRole('region', { name: 'Draft of moves' });
const kept = (): DeskSettings['naming'] =>
  (sent.findLast((s) => s.path === '/settings')!.body as Pick<DeskSettings, 'naming'>).naming;

describe('files', () => {
  test('are shown where they lie and where they should, in full for the one in hand; what has no name says why', async () => {
    await open();
    expect(screen.getByTestId('places-count').textContent).toBe('3 files · 4 where the rules want them');
    expect(row(2).textContent).toContain('Year, numbered');
    choose(1);
    const inHand = await screen.findByRole('region', { name: 'File in hand' });
    expect(inHand.textContent).toContain('Inbox/1.mp3');
    expect(within(inHand).getAllByRole('insertion').length).toBeGreaterThan(0);
    fireEvent.click(screen.getByRole('radio', { name: 'No name for them (1)' }));
    expect(await screen.findByText('It has no title')).toBeTruthy();
  });

  test('all go with nothing left out, else those that are left in', async () => {
    await open();
    expect(draft().textContent).toContain('3 files to move');
    choose(2);
    fireEvent.keyDown(screen.getByRole('grid'), { key: 'Delete' });
    expect(draft().textContent).toContain('2 files to move');
    expect(row(2).textContent).toContain('left where it is');
    fireEvent.click(within(draft()).getByRole('button', { name: 'Apply' }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: '/disk/places/move', body: { trackIds: [1, 3] } }));
    await waitFor(() =>
      expect(within(draft()).getByRole('button', { name: 'Apply' })).toHaveProperty('disabled', false),
    );
    choose(2);
    fireEvent.keyDown(screen.getByRole('grid'), { key: 'Delete' });
    fireEvent.click(within(draft()).getByRole('button', { name: 'Apply' }));
    await waitFor(() => expect(sent.at(-1)!.body).toEqual({ trackIds: null }));
  });

  test('discarded, none go', async () => {
    await open();
    fireEvent.click(within(draft()).getByRole('button', { name: 'Discard' }));
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Draft of moves' })).toBeNull());
  });

  test('without a rule it says what one is; all right, it says so; what cannot be read is told', async () => {
    answer = { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null };
    settings = DEFAULT_SETTINGS;
    show(<PlacesView />);
    expect(await screen.findByText('No naming rule takes a file yet')).toBeTruthy();
    answer = { ...answer, right: 7, trouble: 'The rule “Year” cannot be used: it takes too long' };
    act(() => tell({ kind: 'tracks' }));
    expect(await screen.findByText('Every file is where its rule wants it')).toBeTruthy();
    expect(screen.getByText(/it takes too long/)).toBeTruthy();
  });
});

describe('rules', () => {
  test('are added, moved by key, switched off and removed', async () => {
    await open();
    fireEvent.keyDown(screen.getByRole('button', { name: 'Move Genre' }), { key: 'ArrowUp' });
    await waitFor(() => expect(kept().rules.map((r) => r.name)).toEqual(['Genre', 'Year']));
    fireEvent.click(screen.getByRole('switch', { name: 'Rule Year on' }));
    await waitFor(() => expect(kept().rules[1]).toMatchObject({ name: 'Year', on: false }));
    fireEvent.click(screen.getByRole('button', { name: 'Year' }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove this rule' }));
    await waitFor(() => expect(kept().rules.map((r) => r.name)).toEqual(['Genre']));
  });

  test('are tried on a track as they are typed; one that is refused stays to be mended, and nothing is applied by it', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Year' }));
    expect((await screen.findByTestId('rule-example')).textContent).toBe('2031/Odette Kassar - Slack Water.mp3');
    const box = screen.getByLabelText('Folders and name, with slashes between');
    fireEvent.change(box, { target: { value: '{{ title }}/{{ ye' } });
    expect(screen.getByTestId('rule-example').textContent).toContain('cannot be used');
    refuse = new Refusal(400, 'bad-request', 'The rule “Year” cannot be used: output is not closed');
    fireEvent.blur(box);
    expect((await screen.findByRole('alert')).textContent).toContain('output is not closed');
    expect(within(draft()).getByRole('button', { name: 'Apply' })).toHaveProperty('disabled', true);
    refuse = null;
    fireEvent.change(box, { target: { value: '{{ title }} {{ year }}' } });
    fireEvent.blur(box);
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
    expect(kept().rules[0]!.template).toBe('{{ title }} {{ year }}');
  });

  test('what names may hold is kept', async () => {
    await open();
    fireEvent.click(screen.getByLabelText('Letters without accents'));
    await waitFor(() => expect(kept().options.accents).toBe('plain letters'));
    const bytes = screen.getByLabelText('Longest name, in bytes');
    fireEvent.change(bytes, { target: { value: '80' } });
    fireEvent.blur(bytes);
    await waitFor(() => expect(kept().options.maxBytes).toBe(80));
  });
});

describe('as folders and albums', () => {
  test('folders before and after, each count opens its files', async () => {
    answer.lines.push(line(4, { path: 'Old/Deep/4.mp3', wanted: 'Keel Nine/4.mp3', album: '' }));
    await open();
    fireEvent.click(screen.getByRole('radio', { name: 'Folders' }));
    const now = within(await screen.findByRole('region', { name: 'Now' })),
      wanted = within(screen.getByRole('region', { name: 'By the rule' }));
    expect(now.getByRole('button', { name: 'Inbox 3' })).toBeTruthy();
    expect(wanted.getByRole('button', { name: 'Odette Kassar 3' })).toBeTruthy();
    fireEvent.click(now.getByRole('button', { name: 'Deep 1' }));
    expect(await screen.findByText('1 file now in Old/Deep')).toBeTruthy();
    expect(document.querySelectorAll('[data-place]')).toHaveLength(1);
    fireEvent.click(screen.getByRole('button', { name: 'Show all' }));
    expect(document.querySelectorAll('[data-place]')).toHaveLength(4);
  });
  test('an album is left where it is, and put back into the draft', async () => {
    answer.lines.push(line(4, { album: 'Moorings' }));
    await open();
    fireEvent.click(screen.getByRole('radio', { name: 'Albums' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Leave Slow Water where it is' }));
    fireEvent.click(screen.getByRole('button', { name: 'Show the files of Slow Water' }));
    expect(await screen.findAllByText('left where it is')).toHaveLength(3);
    fireEvent.click(screen.getByRole('radio', { name: 'Albums' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Put Slow Water into the draft' }));
    expect(screen.getByRole('button', { name: 'Leave Slow Water where it is' })).toBeTruthy();
  });
});
