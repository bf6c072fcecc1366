import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Completeness, CompletenessGroup } from '@early-set/core/api/types';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import type { Condition } from '@early-set/core/conditions/condition';
import { RULE_CHOICES } from '@early-set/core/conditions/needs';
import { forgetHanded, hand } from '../../data/handed.ts';
import { forget } from '../../data/remembered.ts';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { SCOPE } from '../clean/scope.ts';
import { CompletenessView } from './CompletenessView.tsx';
import { percent } from './Gauge.tsx';

const group = (
  name: string,
  tracks: number,
  filled: Record<string, number>,
  more: Partial<CompletenessGroup> = {},
): CompletenessGroup => ({
  name,
  condition: { field: 'path', test: 'begins', text: `${name}/` },
  tracks,
  floor: 0,
  playout: 0,
  filled: { ...Object.fromEntries(RULE_CHOICES.map((f) => [f, tracks])), ...filled },
  ...more,
});
let answer: Completeness;
let sent: Sent[];
beforeEach(() => {
  forgetHanded(SCOPE);
  forget('completeness-by');
  answer = {
    all: group('All', 200, { genre: 150, year: 0 }, { floor: 199, playout: 200 }),
    groups: [group('Vinyl', 120, { genre: 119, year: 0 }, { floor: 60 }), group('Web', 80, { genre: 31 })],
    rules: { floor: ['genre', 'title'], playout: ['year'] },
  } as Completeness;
  ({ sent } = serve({
    '/completeness': () => answer,
    '/settings': (body: unknown) => ({ ...DEFAULT_SETTINGS, ...(body as object | undefined) }),
    '/lists': [],
    '/clean/folders': [],
  }));
});
afterEach(cleanup);
const open = async (): Promise<void> => {
  show(<CompletenessView />);
  await waitFor(() => expect(screen.getByText('200 tracks')).toBeTruthy());
};
/** The condition that a link opens the sheet with. */
const within_ = (link: HTMLElement): Condition =>
  (JSON.parse(new URL(link.getAttribute('href')!, 'http://page').searchParams.get('also')!) as { where: Condition })
    .where;

describe('how complete', () => {
  test('a hundred per cent means all, and nothing less does', () => {
    expect([percent(0, 0), percent(0, 3), percent(199, 200), percent(9999, 10_000), percent(5, 5)]).toEqual([
      '–',
      '0',
      '99',
      '99',
      '100',
    ]);
  });

  test('what is ready for floor and playout, and the way to the rest', async () => {
    await open();
    expect(screen.getByText('99 %')).toBeTruthy();
    expect(screen.getByText('199 of 200')).toBeTruthy();
    expect(within_(screen.getByRole('link', { name: '1 track left' }))).toEqual({
      any: [
        { field: 'genre', test: 'empty' },
        { field: 'title', test: 'empty' },
      ],
    });
    expect(screen.getByText('Nothing is left')).toBeTruthy();
  });

  test('every figure opens just the tracks it counts', async () => {
    await open();
    const fields = within(screen.getByRole('region', { name: 'Per field' }));
    expect(within_(fields.getByRole('link', { name: '50' }))).toEqual({ any: [{ field: 'genre', test: 'empty' }] });
    expect(fields.getByRole('link', { name: '200' }).getAttribute('title')).toBe('200 tracks without');
    const row = within(screen.getByRole('row', { name: /^Web/ }));
    expect(within_(row.getByRole('link', { name: '38' }))).toEqual({
      all: [{ field: 'path', test: 'begins', text: 'Web/' }, { any: [{ field: 'genre', test: 'empty' }] }],
    });
    expect(within(screen.getByRole('row', { name: /^Vinyl/ })).getByRole('link', { name: '99' })).toBeTruthy();
  });

  test('in chosen tracks figures stand by themselves: an address cannot say which they are', async () => {
    hand(SCOPE, { what: 'chosen', selection: { ids: [1, 2] }, label: '2 tracks from Tracks' });
    await open();
    expect(screen.queryByRole('link', { name: '50' })).toBeNull();
    expect(sent[0]!.body).toEqual({ selection: { ids: [1, 2] }, by: 'folder' });
  });

  test('by albums, and by lists that open themselves', async () => {
    await open();
    answer = { ...answer, groups: [group('Late shift', 5, {}, { listId: 'abc' })] };
    fireEvent.click(screen.getByRole('radio', { name: 'Crates and playlists' }));
    await waitFor(() =>
      expect(screen.getByRole('link', { name: 'Late shift' }).getAttribute('href')).toBe('/arrange/abc'),
    );
    answer = { ...answer, groups: [] };
    fireEvent.click(screen.getByRole('radio', { name: 'Albums' }));
    await waitFor(() => expect(screen.getByText('There are none of these among the tracks.')).toBeTruthy());
  });

  test('what is asked for can be changed, but not to nothing', async () => {
    await open();
    fireEvent.click(screen.getByRole('button', { name: 'Required fields…' }));
    const playout = within(await screen.findByRole('group', { name: 'Ready for playout' }));
    for (const asked of playout.getAllByRole('button', { pressed: true })) fireEvent.click(asked);
    fireEvent.click(screen.getByRole('button', { name: 'Keep these rules' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Choose at least one field');
    expect(sent.some((s) => s.path === '/settings')).toBe(false);
    fireEvent.click(playout.getByRole('button', { name: 'Label' }));
    fireEvent.click(screen.getByRole('button', { name: 'Keep these rules' }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === '/settings')?.body).toEqual({
        gapRules: { ...DEFAULT_SETTINGS.gapRules, playout: ['label'] },
      }),
    );
  });
});
