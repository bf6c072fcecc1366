import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { DEFAULT_FOLLOW, follower, ranked, type FollowPlace, type FollowWeights } from './follow.ts';

const track = (bpm: number, key: string, energy: number, more: TrackValues = {}): TrackValues => ({
  bpm,
  key,
  energy,
  ...more,
});
const place = (more: Partial<FollowPlace> = {}): FollowPlace => ({
  before: track(122, 'A minor', 60),
  after: null,
  wished: null,
  near: [],
  ...more,
});
const only = (part: keyof FollowWeights): FollowWeights => ({
  ...{ tempo: 0, key: 0, energy: 0, shape: 0, rating: 0, artist: 0, used: 0 },
  [part]: 100,
});

describe('what could follow', () => {
  test('what was used lately waits its turn, and says when it was', () => {
    const now = Date.parse('2026-11-27T20:00:00Z');
    const after = (lastUsed: string | null) =>
      follower({ ...track(122, 'A minor', 60), lastUsed }, place({ now }), only('used'));
    expect(after('2026-11-22T20:00:00Z')).toMatchObject({ score: 8 });
    expect(after('2026-11-22T20:00:00Z').reasons).toContain('used 5 days ago');
    expect([after('2026-01-01T20:00:00Z').score, after(null).score]).toEqual([100, 100]);
    expect(after('2026-01-01T20:00:00Z').reasons.join()).not.toContain('used');
  });
  test('the same again with five stars is the best there is, and says why', () => {
    expect(follower(track(122, 'A minor', 60, { rating: 5 }), place(), DEFAULT_FOLLOW)).toEqual({
      score: 100,
      reasons: ['same key', 'same tempo'],
    });
  });
  test('each weight counts for its part alone', () => {
    const score = (part: keyof FollowWeights, values: TrackValues, where: Partial<FollowPlace> = {}): number =>
      follower({ ...track(122, 'A minor', 60), ...values }, place(where), only(part)).score;
    expect(score('tempo', { bpm: 124.44 })).toBe(75);
    expect(score('key', { key: 'E minor' })).toBe(85);
    expect(score('energy', { energy: 70 })).toBe(80);
    expect(score('shape', { energy: 70 }, { wished: 60 })).toBe(80);
    expect(score('shape', { energy: 70 })).toBe(0);
    expect([score('rating', { rating: 4 }), score('rating', {})]).toEqual([80, 50]);
    const near = [{ artist: ['Keel Nine', 'Vesna Rook'] }];
    expect([score('artist', { artist: ['vesna rook'] }, { near }), score('artist', {}, { near })]).toEqual([0, 100]);
  });
  test('the way into the next entry counts too, and a hard one is said', () => {
    const next = place({ after: track(122, 'Eb minor', 60) });
    const found = follower(track(122, 'A minor', 60), next, DEFAULT_FOLLOW);
    expect(found.reasons).toContain('hard into the next');
    expect(found.score).toBeLessThan(follower(track(122, 'A minor', 60), place(), DEFAULT_FOLLOW).score);
  });
  test('at the top of an empty list stars alone rank', () => {
    const top = place({ before: null });
    const tracks = [1, 5, 3].map((rating) => ({ values: track(120, 'A minor', 50, { rating }) }));
    expect(ranked(tracks, top, DEFAULT_FOLLOW).map((t) => t.values.rating)).toEqual([5, 3, 1]);
  });
  test('a score is a whole number from 0 to 100, whatever counts', () => {
    const weight = fc.integer({ min: 0, max: 100 });
    fc.assert(
      fc.property(
        fc.record({
          tempo: weight,
          key: weight,
          energy: weight,
          shape: weight,
          rating: weight,
          artist: weight,
          used: weight,
        }),
        fc.option(fc.double({ min: 20, max: 300, noNaN: true })),
        fc.option(fc.integer({ min: 0, max: 5 })),
        fc.option(fc.integer({ min: 0, max: 100 })),
        (weights, bpm, rating, wished) => {
          const { score } = follower({ bpm, rating, key: null, energy: 30 }, place({ wished }), weights);
          expect(Number.isInteger(score) && score >= 0 && score <= 100).toBe(true);
        },
      ),
    );
  });
});
