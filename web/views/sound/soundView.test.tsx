import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import type { FieldValue, TrackValues } from '@early-set/core/fields/values';
import { endAudition } from '../../audition/player.ts';
import { fakeAudio } from '../../testing/audio.ts';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { SoundView } from './SoundView.tsx';
import { sheetRow } from '../../testing/rows.ts';

const audio = fakeAudio();
/** Wide enough that flags and sections are drawn. */
sizedPage(900, 400);

const result = {
  engine: 5,
  durationSeconds: 120,
  loudness: {
    integratedLufs: -9,
    rangeLu: 4,
    maxMomentaryLufs: -7,
    maxShortTermLufs: -8,
    truePeakDbtp: -0.5,
    samplePeakDbfs: -0.6,
    shortTermCurve: [-10, -9, -9],
  },
  tempo: {
    bpm: 120,
    confidence: 0.9,
    steady: true,
    candidates: [{ bpm: 120, weight: 0.8 }],
    beatsPerBar: 4,
    firstBeatSeconds: 0,
    firstDownbeatSeconds: 0,
    segments: [],
    driftingBeats: null,
  },
  key: {
    key: 'A minor',
    confidence: 0.9,
    tuningCents: 0,
    candidates: [{ key: 'A minor', weight: 0.9 }],
    overTime: ['A minor'],
  },
  energy: { energy: 60, curve: [40, 60] },
  edges: {
    audibleStartSeconds: 0.2,
    audibleEndSeconds: 119,
    introEndSeconds: 16,
    outroStartSeconds: 104,
    segueSeconds: 112,
    ending: 'fade',
    longestSilence: null,
  },
  sections: [
    { label: 'intro', startSeconds: 0, endSeconds: 16 },
    { label: 'main', startSeconds: 16, endSeconds: 120 },
  ],
  sound: { bandwidthHz: 19_500, mono: false, phaseCorrelation: 0.8, remarks: ['It clips 12 times'] },
};
let values: TrackValues;
let sent: Sent[];
const details = (): TrackDetails =>
  ({
    ...sheetRow(7, values),
    origins: {},
    rootPath: '/music',
    inFile: {},
    album: null,
    analysis: { engine: 5, analysedAt: '2026-03-01T10:00:00Z', result },
    lists: [],
    past: [],
  }) as unknown as TrackDetails;
/** The server takes what is sent, but tells it only when it is asked again. */
const takes = () => ({
  '/tracks/7/waveform': new Refusal(404, 'not-found', 'None'),
  '/tracks/7': () => details(),
  '/fields': { changeSetId: 1, title: 'Set', done: 1, conflicts: [] },
});
beforeEach(() => {
  values = {
    title: 'Low Water',
    artist: ['Keel Nine'],
    path: 'a.flac',
    bpm: 120,
    key: 'A minor',
    gridStartSeconds: 0,
    beatsPerBar: 4,
    durationSeconds: 120,
    lufs: -9,
    truePeakDbtp: -0.5,
    ...result.edges,
    cues: null,
    gridAnchors: null,
    sectionsByHand: null,
    codec: 'flac',
  } as TrackValues;
  ({ sent } = serve(takes()));
});
afterEach(() => {
  act(() => endAudition());
  cleanup();
});

const open = async (): Promise<void> => {
  show(
    <Routes>
      <Route path="/tracks/:trackId/sound" element={<SoundView />} />
      <Route path="*" element={<p>Elsewhere</p>} />
    </Routes>,
    '/tracks/7/sound',
  );
  await waitFor(() => expect(screen.getByRole('heading', { name: 'Low Water' })).toBeTruthy());
};
const press = (key: string, more: object = {}, at: Element = document.body): Promise<void> =>
  act(async () => {
    fireEvent.keyDown(at, { key, ...more });
    await Promise.resolve();
  });
const go = (seconds: number): Promise<void> =>
  act(async () => {
    audio.elements[0]!.currentTime = seconds;
    await Promise.resolve();
  });
const set = (field: string): FieldValue[] =>
  sent.filter((s) => (s.body as { field: string }).field === field).map((s) => (s.body as { value: FieldValue }).value);
const marks = (field: string): unknown[] => {
  const last = set(field).at(-1);
  return typeof last === 'string' ? (JSON.parse(last) as unknown[]) : (last as unknown as unknown[]);
};

describe('keys of the sound page', () => {
  test('cues go to the beat that is nearest; each is added to those before, though the server has not told of them yet', async () => {
    await open();
    await press(' ');
    await go(10.1);
    await press('c');
    await go(20.02);
    await press('c');
    await go(30);
    await press('o');
    expect(marks('cues')).toEqual([{ at: 10 }, { at: 20 }, { at: 30, end: 38 }]);
    expect(screen.getByRole('slider', { name: 'Cue 2' })).toBeTruthy();
    await press('1');
    expect(audio.elements[0]!.currentTime).toBe(10);
    await press('3');
    expect(audio.elements[0]!.currentTime).toBe(30);
    expect(screen.getByLabelText('Repeats')).toBeTruthy();
    await press('r');
    expect(screen.queryByLabelText('Repeats')).toBeNull();
  });

  test('the grid moves by every press, by 1 and by 10 ms, never before the file', async () => {
    await open();
    for (const key of [']', ']', '}', '[', '{', '{']) await press(key);
    expect(set('gridStartSeconds')).toEqual([0.001, 0.002, 0.012, 0.011, 0.001, 0]);
  });

  test('beats anchored while it plays are all kept', async () => {
    await open();
    await press(' ');
    for (const t of [4.01, 12.03, 24.06]) {
      await go(t);
      await press('a');
    }
    expect(marks('gridAnchors')).toEqual([{ at: 4.01 }, { at: 12.03 }, { at: 24.06 }]);
    expect(screen.getByText(/3 beats are anchored/)).toBeTruthy();
  });

  test('the first bar is set where it stands; without audition nothing is', async () => {
    await open();
    await press('b');
    expect(sent).toEqual([]);
    await press(' ');
    await go(1.234);
    await press('b');
    expect(set('gridStartSeconds')).toEqual([1.234]);
  });

  test('keys are letters where somebody types; Escape goes back', async () => {
    await open();
    await press('c', {}, screen.getByLabelText('Tempo in BPM'));
    await press('c', { ctrlKey: true });
    expect(sent).toEqual([]);
  });
});

describe('what can be moved', () => {
  test('an edge by arrow keys held down: every step counts; with Control to the next beat', async () => {
    await open();
    const edge = screen.getByRole('slider', { name: 'Intro end' });
    for (let i = 0; i < 3; i++) await press('ArrowRight', {}, edge);
    await press('ArrowLeft', { shiftKey: true }, edge);
    await press('ArrowRight', { ctrlKey: true }, edge);
    expect(set('introEndSeconds')).toEqual([16.01, 16.02, 16.03, 16.03, 16.5]);
    expect(edge.getAttribute('aria-valuetext')).toBe('0:16.50');
  });

  test('sections are split, renamed and joined, one upon the other', async () => {
    await open();
    await press(' ');
    await go(60);
    await press('s');
    fireEvent.change(screen.getByLabelText('Section 3'), { target: { value: 'breakdown' } });
    fireEvent.change(screen.getByLabelText('Section 2'), { target: { value: 'join' } });
    expect(marks('sectionsByHand')).toEqual([
      { at: 0, end: 60, name: 'intro' },
      { at: 60, end: 120, name: 'breakdown' },
    ]);
  });

  test('what the server refuses goes back to where it was', async () => {
    serve({ ...takes(), '/fields': new Refusal(409, 'locked', 'Segue is locked; unlock it first') });
    await open();
    const edge = screen.getByRole('slider', { name: 'Segue point' });
    await press('ArrowRight', {}, edge);
    await waitFor(() => expect(edge.getAttribute('aria-valuetext')).toBe('1:52.00'));
  });
});

describe('what is known', () => {
  test('edges, what would clip at the target, and remarks on the sound', async () => {
    await open();
    const edges = within(screen.getByRole('region', { name: 'Playout points' }));
    expect(edges.getByText('Fades out.')).toBeTruthy();
    expect(edges.getByText('1:44.00')).toBeTruthy();
    expect(screen.getByText('It clips 12 times.')).toBeTruthy();
    expect(screen.getByText(/reaches up to 19.5 kHz/)).toBeTruthy();
  });

  test('a track that is not measured says so, one that is gone too', async () => {
    const bare = { ...details(), analysis: null, analysisReason: 'The sound ends after 2 s' };
    serve({ '/tracks/7': bare });
    show(
      <Routes>
        <Route path="/tracks/:trackId/sound" element={<SoundView />} />
      </Routes>,
      '/tracks/7/sound',
    );
    await waitFor(() => expect(screen.getByText('The sound ends after 2 s')).toBeTruthy());
    cleanup();
    serve({ '/tracks/7': new Refusal(404, 'not-found', 'That track is not there') });
    show(
      <Routes>
        <Route path="/tracks/:trackId/sound" element={<SoundView />} />
      </Routes>,
      '/tracks/7/sound',
    );
    await waitFor(() => expect(screen.getByText(/That track is not there/)).toBeTruthy());
  });
});
