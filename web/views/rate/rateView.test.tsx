import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { SheetRow } from '@early-set/core/api/types';
import type { FieldValue } from '@early-set/core/fields/values';
import { audition, endAudition, PLAY_ON, seek, usePlayer, type PlayerState } from '../../audition/player.ts';
import { forgetHanded, hand, TO_RATE } from '../../data/handed.ts';
import { write } from '../../data/remembered.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { Refusal, serve, show, tell, type Sent } from '../../testing/server.tsx';
import { RateView } from './RateView.tsx';
import { sheetRow } from '../../testing/rows.ts';

const audio = fakeAudio();
let state: PlayerState;
function Watcher() {
  state = usePlayer();
  return null;
}
interface FieldsBody {
  selection: { ids: number[] };
  field: string;
  value: FieldValue;
}
let rows: SheetRow[];
let sent: Sent[];
const made = (id: number) =>
  sheetRow(id, {
    title: `Track ${id}`,
    artist: ['Brine Choir'],
    durationSeconds: 60,
    energy: null,
    moods: null,
    rating: null,
    hearLater: null,
    freeTags: null,
    notes: null,
  });
const takes = (body: unknown): unknown => {
  const { selection, field, value } = body as FieldsBody;
  rows = rows.map((r) => (selection.ids.includes(r.id) ? { ...r, values: { ...r.values, [field]: value } } : r));
  return { changeSetId: 1, title: 'Set', done: 1, conflicts: [] };
};
const answers = () => ({
  '/tracks/ids': () => ({ ids: rows.map((r) => r.id) }),
  '/tracks/rows': () => rows,
  '/fields': takes,
});
beforeEach(() => {
  forgetHanded(TO_RATE);
  rows = [1, 2, 3].map(made);
  ({ sent } = serve(answers()));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

const open = async (at = '/rate'): Promise<void> => {
  show(
    <>
      <Watcher />
      <RateView />
    </>,
    at,
  );
  await waitFor(() => expect(screen.getByRole('heading', { level: 2 })).toBeTruthy());
};
const press = (key: string, more: object = {}): void => {
  fireEvent.keyDown(document.body, { key, ...more });
};
const digit = (n: number, shiftKey = false): void => press(String(n), { code: `Digit${n}`, shiftKey });
const edits = (): [number, string, FieldValue][] =>
  sent
    .filter((s) => s.path === '/fields')
    .map((s) => {
      const { selection, field, value } = s.body as FieldsBody;
      return [selection.ids[0]!, field, value];
    });
const title = (): string => screen.getByRole('heading', { level: 2 }).textContent!;

describe('rating by single keys', () => {
  test('digits set the energy, with Shift the stars; the same stars again take them away', async () => {
    await open();
    digit(7);
    digit(0);
    digit(4, true);
    digit(4, true);
    digit(9, true);
    expect(edits()).toEqual([
      [1, 'energy', 70],
      [1, 'energy', 100],
      [1, 'rating', 4],
      [1, 'rating', null],
    ]);
  });

  test('moods pressed one after the other are all kept, though the server has not answered the first', async () => {
    const waiting = new Promise(() => undefined);
    ({ sent } = serve({ ...answers(), '/fields': () => waiting }));
    await open();
    press('q');
    press('e');
    press('w');
    press('e');
    expect(edits()).toEqual([
      [1, 'moods', ['bright']],
      [1, 'moods', ['bright', 'warm']],
      [1, 'moods', ['bright', 'warm', 'dark']],
      [1, 'moods', ['bright', 'dark']],
    ]);
    const moods = within(screen.getByRole('group', { name: 'Moods' }));
    expect(moods.getAllByRole('button', { pressed: true }).map((b) => b.textContent)).toEqual(['brightQ', 'darkW']);
  });

  test('what the server refuses is shown as it was', async () => {
    ({ sent } = serve({ ...answers(), '/fields': new Refusal(409, 'locked', 'Moods is locked; unlock it first') }));
    await open();
    press('q');
    await waitFor(() => expect(edits()).toHaveLength(1));
    await waitFor(() =>
      expect(
        within(screen.getByRole('group', { name: 'Moods' })).queryAllByRole('button', { pressed: true }),
      ).toHaveLength(0),
    );
  });

  test('next and previous go along and play; the ends are ends', async () => {
    await open();
    press('p');
    expect(title()).toBe('Track 1');
    press('n');
    press('ArrowDown');
    expect(title()).toBe('Track 3');
    press('n');
    expect(title()).toBe('Track 3');
    expect(screen.getByRole('button', { name: /Pause/ })).toBeTruthy();
    press('ArrowUp');
    expect(title()).toBe('Track 2');
  });

  test('keys are letters where somebody types, and with Control', async () => {
    await open();
    fireEvent.keyDown(screen.getByRole('textbox', { name: /Notes/ }), { key: 'q' });
    press('l', { ctrlKey: true });
    expect(edits()).toEqual([]);
    press('l');
    expect(edits()).toEqual([[1, 'hearLater', true]]);
  });

  test('what is rated keeps its place and is counted', async () => {
    await open();
    digit(3, true);
    await waitFor(() => expect(rows[0]!.values.rating).toBe(3));
    tell({ kind: 'tracks' });
    await waitFor(() => expect(screen.getByText('1 of 3, 1 rated')).toBeTruthy());
    expect(
      within(screen.getByRole('list', { name: 'To rate' }))
        .getAllByRole('listitem')
        .map((l) => l.textContent),
    ).toHaveLength(3);
  });
});

describe('what is shown is what plays', () => {
  test('another track that plays gives way to the one shown, at once', async () => {
    await act(async () => audition(made(9)));
    await open();
    await waitFor(() => expect(state.track?.title).toBe('Track 1'));
    expect(state.playing).toBe(true);
  });

  test('the track in hand in the sheet is the first; when it plays it goes on where it was', async () => {
    hand(TO_RATE, { selection: { ids: [1, 2, 3] }, inHand: 2 });
    await act(async () => audition(made(2)));
    act(() => seek(20));
    await open('/rate?what=chosen');
    expect(title()).toBe('Track 2');
    expect(state).toMatchObject({ track: { id: 2 }, position: 20, playing: true });
  });

  test('when the next one follows by itself, the page follows', async () => {
    write(PLAY_ON, true);
    await open();
    press('n');
    await act(async () => void audio.elements[0]!.dispatchEvent(new Event('ended')));
    await waitFor(() => expect(title()).toBe('Track 3'));
    expect(state.track?.id).toBe(3);
    digit(7);
    expect(edits()).toEqual([[3, 'energy', 70]]);
    write(PLAY_ON, false);
  });

  test('without playing each automatically, keys go along in silence', async () => {
    await open();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Play each track automatically' }));
    press('n');
    expect(title()).toBe('Track 2');
    expect(state.track).toBeNull();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Play each track automatically' }));
  });
});

describe('what is rated', () => {
  test('nothing left is said in words for each kind', async () => {
    rows = [];
    show(<RateView />, '/rate?what=stars');
    await waitFor(() => expect(screen.getByText('Every track has been rated already.')).toBeTruthy());
    fireEvent.click(screen.getByRole('radio', { name: 'To hear later' }));
    await waitFor(() => expect(screen.getByText(/Press L on a track to mark it/)).toBeTruthy());
  });

  test('each kind asks by its condition; what was chosen in the sheet comes as it was chosen', async () => {
    hand(TO_RATE, { selection: { ids: [3, 1] }, inHand: 3 });
    await open('/rate?what=moods');
    fireEvent.click(screen.getByRole('radio', { name: 'From Tracks' }));
    await waitFor(() =>
      expect(sent.filter((s) => s.path === '/tracks/ids').map((s) => s.body)).toEqual([
        { selection: { where: { field: 'moods', test: 'empty' }, except: [] } },
        { selection: { ids: [3, 1] } },
      ]),
    );
  });
});
