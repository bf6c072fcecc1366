import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { fill, type FillWish } from './fill.ts';
import { DEFAULT_FOLLOW } from './follow.ts';

const track = (id: number, bpm: number, energy: number, minutes: number, artist = `Artist ${id}`) => ({
  id,
  values: { bpm, energy, key: 'A minor', artist: [artist], durationSeconds: minutes * 60 } as TrackValues,
});
const wish = (more: Partial<FillWish> = {}): FillWish => ({
  before: null,
  after: null,
  wishedAt: null,
  near: [],
  seconds: 20 * 60,
  maxEnergy: null,
  weights: DEFAULT_FOLLOW,
  ...more,
});
const ids = (filled: { tracks: { id: number }[] }): number[] => filled.tracks.map((t) => t.id);

test('lasts about as long as is wished, with what goes on from the entry before', () => {
  const near = [1, 2, 3, 4, 5, 6].map((i) => track(i, 120 + i * 0.2, 60, 5)),
    far = [7, 8, 9].map((i) => track(i, 90, 20, 5));
  const found = fill([...far, ...near], wish({ before: track(0, 120, 60, 5).values }));
  expect(found.seconds).toBe(20 * 60);
  expect(ids(found).every((id) => id < 7)).toBe(true);
});

test('keeps below an energy, follows a wished shape, and keeps the same artist apart', () => {
  const tracks = [30, 45, 60, 75, 90].map((energy, i) => track(i + 1, 120, energy, 5));
  const rising = fill(tracks, wish({ wishedAt: (share) => 30 + share * 60, maxEnergy: 80 }));
  expect(ids(rising)).toEqual([1, 2, 3, 4]);
  const twice = [
    track(1, 120, 60, 5, 'Same'),
    track(2, 120, 60, 5, 'Same'),
    track(3, 120, 60, 5),
    track(4, 120, 60, 5),
  ];
  const apart = fill(twice, wish({ seconds: 15 * 60, near: [twice[0]!.values] }));
  expect(ids(apart).slice(0, 2).sort()).toEqual([3, 4]);
});

test('tracks that go on badly fill it as well, where there are no others', () => {
  const tracks = [60, 90, 140, 175].map((bpm, i) => track(i + 1, bpm, i * 30, 5));
  expect(fill(tracks, wish({ seconds: 15 * 60 })).tracks).toHaveLength(3);
});

test('looks at what comes after the stretch', () => {
  const tracks = [track(1, 120, 60, 5), track(2, 126, 60, 5)];
  const found = fill(
    tracks,
    wish({ seconds: 10 * 60, before: track(0, 119, 60, 5).values, after: track(9, 127, 60, 5).values }),
  );
  expect(ids(found)).toEqual([1, 2]);
});

test('nothing that fits is no tracks; any wish gives each track at most once and none too lively', () => {
  expect(fill([], wish())).toEqual({ tracks: [], seconds: 0 });
  const some = fc.array(
    fc.record({ bpm: fc.integer({ min: 80, max: 140 }), energy: fc.integer({ min: 0, max: 100 }), minutes: fc.nat(9) }),
    { maxLength: 15 },
  );
  fc.assert(
    fc.property(some, fc.integer({ min: 1, max: 60 }), fc.integer({ min: 0, max: 100 }), (of, minutes, maxEnergy) => {
      const tracks = of.map((t, i) => track(i + 1, t.bpm, t.energy, t.minutes));
      const found = fill(tracks, wish({ seconds: minutes * 60, maxEnergy }));
      expect(new Set(ids(found)).size).toBe(found.tracks.length);
      expect(
        found.tracks.every((t) => Number(t.values.energy) <= maxEnergy && Number(t.values.durationSeconds) > 0),
      ).toBe(true);
      expect(found.seconds).toBe(found.tracks.reduce((sum, t) => sum + Number(t.values.durationSeconds), 0));
      // Where anything may be taken, something is.
      const usable = tracks.some((t) => Number(t.values.energy) <= maxEnergy && Number(t.values.durationSeconds) > 0);
      expect(found.tracks.length > 0).toBe(usable);
    }),
    { numRuns: 60 },
  );
});
