import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { SheetRow, TrackDetails } from '@early-set/core/api/types';
import { Refusal, serve, show, tell, type Sent } from '../../testing/server.tsx';
import { CheckView } from './CheckView.tsx';
import { sheetRow } from '../../testing/rows.ts';

const row = (id: number, bpm: number, sure: number) =>
  sheetRow(id, {
    title: `Track ${id}`,
    artist: ['Brine Choir'],
    bpm,
    tempoConfidence: sure,
    key: 'A minor',
    keyConfidence: 0.4,
    durationSeconds: 60,
  });
const ROWS = [row(1, 174, 0.31), row(2, 90, 0.44), row(3, 128, 0.62)];
const details = (id: number): TrackDetails => {
  const own = ROWS[id - 1]!,
    bpm = Number(own.values.bpm);
  const result = {
    durationSeconds: 60,
    tempo: {
      bpm,
      confidence: 0.5,
      steady: true,
      candidates: [
        { bpm, weight: 0.6 },
        { bpm: bpm / 2, weight: 0.3 },
      ],
      beatsPerBar: 4,
      firstBeatSeconds: 0.1,
      firstDownbeatSeconds: 0.1,
      segments: [],
      driftingBeats: null,
    },
    key: {
      key: 'A minor',
      confidence: 0.4,
      tuningCents: 0,
      candidates: [
        { key: 'A minor', weight: 0.4 },
        { key: 'C major', weight: 0.3 },
      ],
      overTime: [],
    },
    sections: [],
  };
  return {
    ...own,
    origins: {},
    rootPath: '/music',
    inFile: {},
    album: null,
    analysis: { engine: 4, analysedAt: '', result },
    lists: [],
    past: [],
  } as unknown as TrackDetails;
};

let left: SheetRow[];
let sent: Sent[];
beforeEach(() => {
  localStorage.clear();
  localStorage.setItem('early-set:play-each', 'false');
  left = ROWS;
  ({ sent } = serve(SERVED()));
});
const SERVED = () => ({
  '/check': (_: unknown, address: URL) => ({
    what: address.searchParams.get('what'),
    below: Number(address.searchParams.get('below')),
    total: left.length,
    rows: left,
  }),
  '/tracks': (_: unknown, address: URL) => details(Number(address.pathname.split('/')[3])),
  '/locks': { changeSetId: 1, title: 'Locked', done: 1, conflicts: [] },
  '/fields': { changeSetId: 2, title: 'Set', done: 1, conflicts: [] },
});
afterEach(cleanup);
const value = async (text: string): Promise<void> => {
  await waitFor(() => expect(screen.getByTestId('judged-value').textContent).toBe(text));
};
const press = async (key: string): Promise<void> => {
  await act(async () => {
    fireEvent.keyDown(document.body, { key });
    await Promise.resolve();
  });
};

describe('the least certain first', () => {
  test('the first is open; up and down go along and stop at the ends', async () => {
    show(<CheckView />);
    await value('174.00 BPM');
    expect(screen.getByText('3 left')).toBeTruthy();
    await press('ArrowUp');
    await value('174.00 BPM');
    await press('n');
    await value('90.00 BPM');
    await press('ArrowDown');
    await value('128.00 BPM');
    await press('ArrowDown');
    await value('128.00 BPM');
    await press('p');
    await value('90.00 BPM');
  });

  test('keeping locks, half and double set; each goes on to the next', async () => {
    show(<CheckView />);
    await value('174.00 BPM');
    await press('h');
    await value('90.00 BPM');
    await press('d');
    await value('128.00 BPM');
    await press('k');
    await waitFor(() => expect(sent).toHaveLength(3));
    expect(sent).toEqual([
      { path: '/fields', body: { selection: { ids: [1] }, field: 'bpm', value: 87 } },
      { path: '/fields', body: { selection: { ids: [2] }, field: 'bpm', value: 180 } },
      { path: '/locks', body: { selection: { ids: [3] }, field: 'bpm', locked: true } },
    ]);
  });

  test('keys pressed one after the other are each for its own track, even before the tracks are there', async () => {
    const tracks = new Promise(() => undefined);
    ({ sent } = serve({ ...SERVED(), '/tracks': () => tracks }));
    show(<CheckView />);
    await waitFor(() => expect(document.querySelector('[data-track="1"]')).toBeTruthy());
    for (const key of ['h', 'k', 'd']) fireEvent.keyDown(document.body, { key });
    await waitFor(() => expect(sent).toHaveLength(3));
    expect(sent.map((s) => s.body)).toEqual([
      { selection: { ids: [1] }, field: 'bpm', value: 87 },
      { selection: { ids: [2] }, field: 'bpm', locked: true },
      { selection: { ids: [3] }, field: 'bpm', value: 256 },
    ]);
  });

  test('what could not be done is open again', async () => {
    ({ sent } = serve({ ...SERVED(), '/fields': new Refusal(409, 'locked', 'BPM is locked; unlock it first') }));
    show(<CheckView />);
    await value('174.00 BPM');
    await press('h');
    await waitFor(() => expect(sent).toHaveLength(1));
    await value('174.00 BPM');
  });

  test('keys are letters where somebody types, and with Control', async () => {
    show(<CheckView />);
    await value('174.00 BPM');
    fireEvent.keyDown(screen.getByLabelText(/confidence below/), { key: 'h' });
    fireEvent.keyDown(document.body, { key: 'k', ctrlKey: true });
    expect(sent).toEqual([]);
  });

  test('for keys, there is nothing to halve', async () => {
    show(<CheckView />, '/check?what=key');
    await value('A min');
    expect(screen.queryByRole('button', { name: /Half tempo/ })).toBeNull();
    await press('h');
    expect(sent).toEqual([]);
    await press('k');
    await waitFor(() =>
      expect(sent).toEqual([{ path: '/locks', body: { selection: { ids: [1] }, field: 'key', locked: true } }]),
    );
  });

  test('another limit asks anew', async () => {
    show(<CheckView />);
    await value('174.00 BPM');
    left = [];
    fireEvent.change(screen.getByLabelText(/confidence below/), { target: { value: '0.5' } });
    await waitFor(() => expect(screen.getByText('Nothing to check')).toBeTruthy());
    fireEvent.click(screen.getByRole('radio', { name: 'Key' }));
    await waitFor(() => expect(screen.getByRole('radio', { name: 'Key' }).getAttribute('aria-checked')).toBe('true'));
  });
});

test('what was judged keeps its place with a tick while the list grows shorter', async () => {
  show(<CheckView />);
  await value('174.00 BPM');
  left = ROWS.slice(1);
  tell({ kind: 'tracks' });
  await waitFor(() => expect(screen.getByText('2 left, 1 judged')).toBeTruthy());
  const lines = within(screen.getByRole('list', { name: 'To check' })).getAllByRole('listitem');
  expect(lines.map((l) => within(l).queryByLabelText('judged') !== null)).toEqual([true, false, false]);
});

test('a server that cannot say is told of in its words', async () => {
  serve({ '/check': new Refusal(500, 'failed', 'The database is away') });
  show(<CheckView />);
  await waitFor(() => expect(screen.getByText(/The database is away/)).toBeTruthy());
});
