/** The entry in hand: how it goes over into the next is said and set; the clock follows. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { ListContents, ListEntryRow } from '@early-set/core/api/types';
import type { EntryData } from '@early-set/core/changes/snapshot';
import { fakeAudio } from '../../../testing/audio.ts';
import { listContentsOf, sheetRow } from '../../../testing/rows.ts';
import { serve, show, type Sent } from '../../../testing/server.tsx';
import { TransitionPanel } from './TransitionPanel.tsx';

fakeAudio();
const LIST = 'f0000000-0000-4000-8000-000000000001';
const entry = (name: string, id: number, bpm: number, data: EntryData = {}): ListEntryRow => ({
  entryId: name,
  kind: 'track',
  data,
  ...sheetRow(id, {
    title: name,
    bpm,
    key: 'A minor',
    energy: 50,
    durationSeconds: 180,
    introEndSeconds: 32,
    outroStartSeconds: 140,
  }),
});
const list = (data: EntryData = {}, next: EntryData = {}): ListContents =>
  listContentsOf(LIST, [entry('Ballast', 1, 120, data), entry('Cable Bay', 2, 122, next)]);

let sent: Sent[];
beforeEach(() => {
  const applied = { changeSetId: 1, title: 'Changed', done: 1, conflicts: [] };
  ({ sent } = serve({
    '/settings': { keyLock: true },
    [`/lists/${LIST}/entries/Ballast`]: applied,
    [`/lists/${LIST}/entries/Cable%20Bay`]: applied,
  }));
});
afterEach(cleanup);
const leave = (label: string, text: string): void => {
  const box = screen.getByLabelText(label);
  fireEvent.change(box, { target: { value: text } });
  fireEvent.blur(box);
};

test('says how it goes over, and from what the overlap follows', async () => {
  show(<TransitionPanel list={list()} inHand="Ballast" />);
  expect((await screen.findByText('Good')).parentElement!.textContent).toBe(
    'Good into Cable Bay: same key, +1.7 % tempo.',
  );
  expect(screen.getByLabelText<HTMLInputElement>('Overlap in bars').value).toBe('16');
  expect(screen.getByText('outro and intro')).toBeTruthy();
});

test('the overlap in bars, by a beat, and back to what it would be', async () => {
  show(<TransitionPanel list={list({ overlapBars: 8 })} inHand="Ballast" />);
  leave('Overlap in bars', '12');
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ overlapBars: 12, overlap: null }));
  leave('Overlap in bars', 'much');
  expect(screen.getByLabelText<HTMLInputElement>('Overlap in bars').value).toBe('8');
  fireEvent.click(screen.getByRole('button', { name: 'One beat less' }));
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ overlapBars: 7.75, overlap: null }));
  fireEvent.click(screen.getByRole('button', { name: 'Reset' }));
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ overlapBars: null, overlap: null }));
});

test('the tempo of the next belongs to the next; what is heard, and when it is to begin, to the one in hand', async () => {
  show(<TransitionPanel list={list({}, { tempo: 'ramp', rampBars: 8 })} inHand="Ballast" />);
  fireEvent.change(screen.getByLabelText('Tempo of the next'), { target: { value: 'former' } });
  await waitFor(() =>
    expect(sent.at(-1)).toMatchObject({ path: `/lists/${LIST}/entries/Cable%20Bay`, body: { tempo: 'former' } }),
  );
  leave('Over so many bars', '32');
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ rampBars: 32 }));
  leave('Heard from', '0:12.5');
  await waitFor(() =>
    expect(sent.at(-1)).toMatchObject({ path: `/lists/${LIST}/entries/Ballast`, body: { from: 12.5 } }),
  );
  leave('Is to begin at', '2230');
  await waitFor(() => expect(sent.at(-1)!.body).toEqual({ at: '22:30' }));
});

test('the last one goes over into nothing', () => {
  show(<TransitionPanel list={list()} inHand="Cable Bay" />);
  expect(screen.getByText('Only a track goes over into a track behind it.')).toBeTruthy();
});
