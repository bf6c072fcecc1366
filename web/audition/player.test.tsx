import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, render } from '@testing-library/react';
import type { SheetRow } from '@early-set/core/api/types';
import { fakeAudio, type FakeAudio } from '../testing/audio.ts';
import { write } from '../data/remembered.ts';
import {
  audition,
  auditionNext,
  endAudition,
  jump,
  PLAY_ON,
  repeat,
  seek,
  toggleAudition,
  usePlayer,
  type PlayerState,
} from './player.ts';
import { sheetRow } from '../testing/rows.ts';

// The player is one for the whole page: one element for all the tests.
const audio: FakeAudio = fakeAudio();
const row = (id: number, values: SheetRow['values'] = {}) =>
  sheetRow(id, { title: `Track ${id}`, artist: ['Keel Nine', 'Ines Tollard'], durationSeconds: 100, ...values });
let state: PlayerState;
function Watcher() {
  state = usePlayer();
  return null;
}
const soon = (work: () => void): Promise<void> =>
  act(async () => {
    work();
    await Promise.resolve();
  });

beforeEach(async () => {
  audio.fail(null);
  audio.frames.length = 0;
  render(<Watcher />);
  await soon(() => endAudition());
});

describe('the one audition', () => {
  test('plays a track under its name; another one takes its place from its start', async () => {
    await soon(() => audition(row(1)));
    expect(state).toMatchObject({
      playing: true,
      track: { id: 1, title: 'Track 1', artist: 'Keel Nine; Ines Tollard' },
      duration: 100,
    });
    expect(audio.elements.at(-1)!.src).toBe('/api/tracks/1/audio');
    await soon(() => seek(40));
    await soon(() => audition(row(2, { title: null, path: 'crate/unnamed.mp3' })));
    expect(state).toMatchObject({ track: { id: 2, title: 'unnamed.mp3' }, position: 0 });
    expect(audio.elements).toHaveLength(1);
  });

  test('everything is heard at the same loudness, and nothing is turned up into clipping', async () => {
    await soon(() => audition(row(1, { lufs: -8, truePeakDbtp: -0.5 })));
    const loud = state.gainDb;
    expect(loud).toBeLessThan(0);
    expect(audio.gains.at(-1)!.value).toBeCloseTo(10 ** (loud / 20), 6);
    await soon(() => audition(row(2, { lufs: -30, truePeakDbtp: -3 })));
    expect(state.gainDb).toBeLessThanOrEqual(3);
    expect(state.gainDb).toBeGreaterThan(0);
    await soon(() => audition(row(3)));
    expect(state.gainDb).toBe(0);
  });

  test('space plays, stops and goes on; without a track it does nothing', async () => {
    await soon(() => toggleAudition(null));
    expect(state.track).toBeNull();
    await soon(() => toggleAudition(row(1)));
    expect(state.playing).toBe(true);
    await soon(() => toggleAudition(row(1)));
    expect(state.playing).toBe(false);
    await soon(() => toggleAudition(null));
    expect(state.playing).toBe(true);
    await soon(() => toggleAudition(row(2)));
    expect(state).toMatchObject({ playing: true, track: { id: 2 } });
  });

  test('a pause that the browser answers only after the next play is not believed; a later one is', async () => {
    await soon(() => audition(row(1)));
    const [element] = audio.elements.slice(-1) as [HTMLAudioElement];
    await soon(() => element.pause());
    expect([state.playing, element.paused]).toEqual([true, false]);
    await soon(() => element.pause());
    expect([state.playing, element.paused]).toEqual([false, true]);
    await soon(() => toggleAudition(null));
    await soon(() => toggleAudition(null));
    expect([state.playing, element.paused]).toEqual([false, true]);
  });

  test('moving stays inside the track', async () => {
    await soon(() => seek(5));
    expect(state.position).toBe(0);
    await soon(() => audition(row(1)));
    await soon(() => seek(250));
    expect(state.position).toBeCloseTo(99.95, 6);
    await soon(() => jump(-30));
    expect(state.position).toBeCloseTo(69.95, 6);
    await soon(() => jump(-300));
    expect(state.position).toBe(0);
  });

  test('what cannot be played is said; choosing another meanwhile is no trouble', async () => {
    audio.fail(new DOMException('gone', 'NotSupportedError'));
    await soon(() => audition(row(1)));
    expect(state).toMatchObject({ playing: false, trouble: 'This file cannot be played; it may be missing or broken' });
    audio.fail(new DOMException('left', 'AbortError'));
    await soon(() => audition(row(2)));
    expect(state.trouble).toBeNull();
    await soon(() => {
      audio.elements.at(-1)!.dispatchEvent(new Event('error'));
    });
    expect(state.trouble).toMatch(/cannot be played/);
  });
});

describe('when the time stands still', () => {
  const seconds = (n: number): Promise<void> =>
    act(async () => {
      await jest.advanceTimersByTimeAsync(n * 1000);
    });
  const latest = () => audio.elements.at(-1)!;
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  test('the file is asked for anew at the same place, and it plays on', async () => {
    await soon(() => audition(row(1)));
    await soon(() => seek(30));
    const before = audio.elements.length;
    await seconds(5);
    expect(audio.elements).toHaveLength(before);
    await seconds(2);
    expect(audio.elements).toHaveLength(before + 1);
    expect(latest()).toMatchObject({ src: '/api/tracks/1/audio', currentTime: 30 });
    expect(state).toMatchObject({ playing: true, position: 30, trouble: null });
    for (let i = 1; i < 20; i++) {
      await soon(() => void (latest().currentTime = 30 + i));
      await seconds(1);
    }
    expect(audio.elements).toHaveLength(before + 1);
  });

  test('when nothing helps it is said, until it moves again; a pause is no standstill', async () => {
    await soon(() => audition(row(1)));
    await seconds(25);
    expect(state).toMatchObject({ playing: true, trouble: expect.stringMatching(/sound device/) });
    await soon(() => void (latest().currentTime = 3));
    await seconds(1);
    expect(state).toMatchObject({ playing: true, trouble: null });
    await soon(() => toggleAudition(null));
    const before = audio.elements.length;
    await seconds(60);
    expect(audio.elements).toHaveLength(before);
  });
});

describe('a stretch over and over', () => {
  const at = (t: number): Promise<void> =>
    soon(() => {
      audio.elements.at(-1)!.currentTime = t;
    });
  const frame = (): Promise<void> =>
    soon(() => {
      for (const then of audio.frames.splice(0)) then(0);
    });

  test('at its end it begins again, until somebody goes elsewhere', async () => {
    await soon(() => audition(row(1)));
    await soon(() => seek(10));
    await soon(() => repeat({ from: 10, to: 18 }));
    await at(17.9);
    await frame();
    expect(audio.elements.at(-1)!.currentTime).toBe(17.9);
    await at(18.01);
    await frame();
    expect(audio.elements.at(-1)!.currentTime).toBe(10);
    await soon(() => seek(12));
    expect(state.repeated).toEqual({ from: 10, to: 18 });
    await soon(() => seek(50));
    expect(state.repeated).toBeNull();
    await at(60);
    await frame();
    expect(audio.elements.at(-1)!.currentTime).toBe(60);
  });

  test('it begins again where the page is not seen and has no frames', async () => {
    await soon(() => audition(row(1)));
    await soon(() => repeat({ from: 10, to: 18 }));
    audio.frames.splice(0);
    await at(18.2);
    await soon(() => {
      audio.elements.at(-1)!.dispatchEvent(new Event('timeupdate'));
    });
    expect(audio.elements.at(-1)!.currentTime).toBe(10);
    expect(state.position).toBe(10);
  });

  test('it ends with the track it belongs to', async () => {
    await soon(() => audition(row(1)));
    await soon(() => repeat({ from: 0, to: 4 }));
    await soon(() => audition(row(2)));
    expect(state.repeated).toBeNull();
  });
});

describe('the next track', () => {
  const rows = [1, 2, 3].map((id) => row(id));
  const order = (at: number) => ({ name: 'sheet', at, rowAt: async (i: number) => rows[i] });

  test('goes along the order in which a track was auditioned, and not beyond its ends', async () => {
    await soon(() => audition(rows[1]!, order(1)));
    await act(async () => expect(await auditionNext(1)).toBe(true));
    expect(state.track?.id).toBe(3);
    await act(async () => expect(await auditionNext(1)).toBe(false));
    expect(state.track?.id).toBe(3);
    await act(async () => expect([await auditionNext(-1), await auditionNext(-1)]).toEqual([true, true]));
    expect(state.track?.id).toBe(1);
    await act(async () => expect(await auditionNext(-1)).toBe(false));
  });

  test('follows by itself where that was asked for', async () => {
    await soon(() => audition(rows[0]!, order(0)));
    const end = (): Promise<void> => act(async () => void audio.elements.at(-1)!.dispatchEvent(new Event('ended')));
    await end();
    expect(state).toMatchObject({ track: { id: 1 }, playing: false });
    write(PLAY_ON, true);
    await end();
    expect(state).toMatchObject({ track: { id: 2 }, playing: true });
    write(PLAY_ON, false);
  });

  test('does not come late: what was chosen while it was asked for stays', async () => {
    let answer: (r: SheetRow) => void = () => undefined;
    await soon(() => audition(rows[0]!, { ...order(0), rowAt: () => new Promise((done) => (answer = done)) }));
    const asked = auditionNext(1);
    await soon(() => audition(rows[2]!, order(2)));
    await act(async () => {
      answer(rows[1]!);
      expect(await asked).toBe(false);
    });
    expect(state.track?.id).toBe(3);
  });

  test('without an order there is none', async () => {
    await soon(() => audition(rows[0]!));
    await act(async () => expect(await auditionNext(1)).toBe(false));
  });
});
