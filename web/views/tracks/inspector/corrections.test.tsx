import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { forgetAsked, useAsked } from '../../../data/asked.ts';
import { KeyByHand, TempoByHand } from './Corrections.tsx';

const sent: { field: string; value: unknown }[] = [];
beforeEach(() => {
  sent.length = 0;
  globalThis.fetch = jest.fn(async (_: unknown, init?: RequestInit) => {
    sent.push(JSON.parse(String(init?.body)) as { field: string; value: unknown });
    return {
      ok: true,
      status: 200,
      text: async () => '{}',
      json: async () => ({ changeSetId: 1, title: 'Done', applied: 1, conflicts: [] }),
    } as unknown as Response;
  }) as unknown as typeof fetch;
});
afterEach(cleanup);

const tempo = {
  bpm: 177,
  confidence: 0.7,
  steady: true,
  candidates: [
    { bpm: 177, weight: 0.7 },
    { bpm: 88.5, weight: 0.25 },
  ],
  beatsPerBar: 4,
  firstBeatSeconds: 0.1,
  firstDownbeatSeconds: 0.439,
  driftingBeats: null,
};
const result = {
  tempo,
  durationSeconds: 60,
  key: {
    key: 'A minor',
    confidence: 0.8,
    tuningCents: 0,
    candidates: [
      { key: 'A minor', weight: 0.8 },
      { key: 'C major', weight: 0.15 },
    ],
    overTime: [],
  },
} as unknown as NonNullable<TrackDetails['analysis']>['result'];
const track = (values: TrackDetails['values'] = {}, origins: TrackDetails['origins'] = {}): TrackDetails =>
  ({
    id: 7,
    values: { bpm: 177, key: 'A minor', gridStartSeconds: 0.439, beatsPerBar: 4, ...values },
    origins,
  }) as unknown as TrackDetails;
const NONE: TrackDetails[] = [];
/** As views show it: with what was asked for. */
function Both({ told }: { told: TrackDetails }) {
  const t = useAsked(NONE)(told);
  return (
    <>
      <TempoByHand track={t} result={result} grid={gridOf(result, t.values)} />
      <KeyByHand track={t} result={result} />
    </>
  );
}
const show = (told: TrackDetails) => {
  forgetAsked();
  return render(<Both told={told} />);
};
const asked = () => sent.map(({ field, value }) => [field, value]);

test.each([
  ['Half the tempo', 'bpm', 88.5],
  ['Two thirds the tempo', 'bpm', 118],
  ['Three halves the tempo', 'bpm', 265.5],
  ['Use 88.50', 'bpm', 88.5],
  ['Move the grid 10 ms earlier', 'gridStartSeconds', 0.429],
  ['3 a bar', 'beatsPerBar', 3],
  ['Use C maj', 'key', 'C major'],
])('%s sets one field of this track', (name, field, value) => {
  show(track());
  fireEvent.click(screen.getByRole('button', { name }));
  expect(sent).toEqual([{ selection: { ids: [7] }, field, value }]);
});

test('what is pressed before the server has answered builds on what was pressed before', () => {
  show(track());
  for (const name of [
    'Move the grid 10 ms earlier',
    'Move the grid 1 ms later',
    'Move the grid 1 ms later',
    'Half the tempo',
    'Three halves the tempo',
  ])
    fireEvent.click(screen.getByRole('button', { name }));
  expect(asked()).toEqual([
    ['gridStartSeconds', 0.429],
    ['gridStartSeconds', 0.43],
    ['gridStartSeconds', 0.431],
    ['bpm', 88.5],
    ['bpm', 132.75],
  ]);
  expect(screen.getByText('0.431 s')).toBeTruthy();
});

test('what is in use cannot be chosen again, and a grid never begins before the file', () => {
  show(track({ gridStartSeconds: 0.004 }));
  expect((screen.getByRole('button', { name: '177.00, in use' }) as HTMLButtonElement).disabled).toBe(true);
  expect((screen.getByRole('button', { name: 'A min, in use' }) as HTMLButtonElement).disabled).toBe(true);
  fireEvent.click(screen.getByRole('button', { name: 'Move the grid 10 ms earlier' }));
  expect(sent).toEqual([expect.objectContaining({ value: 0 })]);
});

test('double is offered only while it is a tempo; without a tempo nothing is', () => {
  show(track({ bpm: 230 }));
  expect((screen.getByRole('button', { name: 'Double the tempo' }) as HTMLButtonElement).disabled).toBe(true);
  cleanup();
  show(track({ bpm: null }));
  for (const name of ['Half the tempo', 'Double the tempo'])
    expect((screen.getByRole('button', { name }) as HTMLButtonElement).disabled).toBe(true);
  expect(screen.queryByRole('group', { name: 'Move the grid' })).toBeNull();
});

test('says what was set by hand', () => {
  show(track({ bpm: 88.5 }, { bpm: { origin: 'typed', at: '' } }));
  expect(within(screen.getByRole('region', { name: 'Tempo' })).getByText(/set by hand/)).toBeTruthy();
  expect(within(screen.getByRole('region', { name: 'Key' })).queryByText(/set by hand/)).toBeNull();
});

test('four taps give a tempo to use', () => {
  show(track());
  const tap = screen.getByRole('button', { name: 'Tap' });
  for (let i = 0; i < 4; i++) {
    expect(screen.queryByRole('button', { name: /^Use \d+\.\d$/ })).toBeNull();
    const event = new MouseEvent('click', { bubbles: true });
    Object.defineProperty(event, 'timeStamp', { value: 1000 + i * 480 });
    fireEvent(tap, event);
  }
  fireEvent.click(screen.getByRole('button', { name: 'Use 125.0' }));
  expect(sent.at(-1)).toMatchObject({ field: 'bpm', value: 125 });
});
