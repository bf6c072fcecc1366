import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { MatchedList } from '@early-set/core/api/types';
import { Refusal, serve, show, type Sent } from '../../../testing/server.tsx';
import { firstChoices, slotText } from './choices.ts';
import { PasteDialog } from './PasteDialog.tsx';

const NONE = { location: null, title: null, artist: null, album: null, seconds: null };
const MATCHED: MatchedList = {
  name: null,
  problems: [{ line: 4, reason: 'its length is not a number' }],
  lines: [
    {
      entry: { ...NONE, artist: 'Vesna Rook', title: 'Lamp Room' },
      sure: true,
      candidates: [{ id: 7, name: 'Vesna Rook - Lamp Room', score: 1 }],
    },
    {
      entry: { ...NONE, artist: 'Odette Kassar', title: 'Slack Water' },
      sure: false,
      candidates: [
        { id: 8, name: 'Odette Kassar - Slack Water (Radio Edit)', score: 0.76 },
        { id: 9, name: 'Odette Kassar - Slack Water (Boathouse Mix)', score: 0.75 },
      ],
    },
    { entry: { ...NONE, artist: 'Nobody', title: 'Not here', seconds: 125 }, sure: false, candidates: [] },
  ],
};

let sent: Sent[];
let answer: MatchedList | Refusal;
let closed: number;
beforeEach(() => {
  answer = MATCHED;
  closed = 0;
  ({ sent } = serve({
    '/lists/match': () => answer,
    '/lists/filled': { changeSetId: 1, title: 'New playlist', done: 1, conflicts: [], listId: 'x' },
  }));
});
afterEach(cleanup);

const open = (): void => void show(<PasteDialog open onClose={() => closed++} />);
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};
const pasted = async (): Promise<void> => {
  open();
  fireEvent.change(screen.getByLabelText('The list as text'), { target: { value: 'anything' } });
  press('Match');
  await screen.findByText('2 tracks, 1 open slot');
};

describe('a pasted list', () => {
  test('shows what each line means, how sure that is, and what could not be used', async () => {
    await pasted();
    expect(sent).toEqual([{ path: '/lists/match', body: { text: 'anything', ending: 'txt' } }]);
    expect(screen.getByText('1 line matched, 1 to look at, 1 not found')).toBeTruthy();
    expect(screen.getByText('100 %')).toBeTruthy();
    expect(screen.getByText('1 line could not be used')).toBeTruthy();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Only those to look at' }));
    expect(screen.getAllByRole('combobox').map((s) => s.getAttribute('aria-label'))).toEqual([
      'Track for Odette Kassar - Slack Water',
    ]);
  });
  test('a file that is dropped is read by its ending; one that is too large is named', async () => {
    open();
    const box = screen.getByLabelText<HTMLTextAreaElement>('The list as text');
    const file = (name: string): File =>
      Object.assign(new File(['Keel Nine'], name), {
        arrayBuffer: () => Promise.resolve(new TextEncoder().encode('Keel Nine').buffer),
      });
    const large = file('all.csv');
    Object.defineProperty(large, 'size', { value: 2_000_000 });
    fireEvent.drop(box, { dataTransfer: { files: [large] } });
    expect(screen.getByRole('alert').textContent).toBe('all.csv is too large for a list');
    fireEvent.drop(box, { dataTransfer: { files: [file('Late.m3u8')] } });
    await waitFor(() => expect(box.value).toBe('Keel Nine'));
    press('Match');
    await screen.findByText('2 tracks, 1 open slot');
    expect(sent[0]).toEqual({ path: '/lists/match', body: { text: 'Keel Nine', ending: 'm3u8' } });
  });
  test('can be called off while it is matched, and keeps the text', async () => {
    open();
    fireEvent.change(screen.getByLabelText('The list as text'), { target: { value: 'anything' } });
    const { fetch } = globalThis;
    globalThis.fetch = ((_path: string, { signal }: RequestInit) =>
      new Promise((_resolve, reject) => {
        signal!.addEventListener('abort', () => reject(new DOMException('cancelled', 'AbortError')));
      })) as typeof globalThis.fetch;
    press('Match');
    expect(screen.getByRole('button', { name: 'Matching…' })).toHaveProperty('disabled', true);
    press('Cancel');
    await waitFor(() => expect(screen.getByRole('button', { name: 'Match' })).toHaveProperty('disabled', false));
    expect(screen.queryByRole('alert')).toBeNull();
    globalThis.fetch = fetch;
    press('Match');
    await screen.findByText('2 tracks, 1 open slot');
  });
  test('becomes a playlist of what was chosen, with open slots for the rest', async () => {
    await pasted();
    fireEvent.change(screen.getByLabelText('Track for Odette Kassar - Slack Water'), { target: { value: '9' } });
    fireEvent.change(screen.getByLabelText('Track for Vesna Rook - Lamp Room'), { target: { value: '' } });
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'From a friend' } });
    press('Make the playlist');
    await waitFor(() => expect(closed).toBe(1));
    expect(sent.at(-1)).toEqual({
      path: '/lists/filled',
      body: {
        name: 'From a friend',
        entries: [
          { text: 'Vesna Rook - Lamp Room', seconds: null },
          { trackId: 9 },
          { text: 'Nobody - Not here', seconds: 125 },
        ],
      },
    });
  });
  test('that is none is said, and the text stays', async () => {
    answer = new Refusal(400, 'no-entries', 'There is nothing in it that could be a track');
    open();
    fireEvent.change(screen.getByLabelText('The list as text'), { target: { value: '###' } });
    press('Match');
    expect((await screen.findByRole('alert')).textContent).toBe('There is nothing in it that could be a track');
    expect((screen.getByLabelText('The list as text') as HTMLTextAreaElement).value).toBe('###');
  });
});

test('a line that is hardly like anything begins as an open slot, named by what it says', () => {
  const lines = [0.9, 0.6].map((score, i) => ({ ...MATCHED.lines[0]!, candidates: [{ id: i + 1, name: '', score }] }));
  expect(firstChoices({ ...MATCHED, lines })).toEqual([1, null]);
  expect(slotText({ ...NONE, location: 'C:/m/Lamp Room.mp3' })).toBe('Lamp Room');
});
