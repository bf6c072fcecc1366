import { describe, expect, test } from '@jest/globals';
import { auditionGain } from './audition.ts';
import { fitOf } from './fit.ts';
import fc from 'fast-check';
import { lengthOf, schedule } from './schedule.ts';
import { transition } from './transition.ts';

const reference = { bpm: 122.5, key: 'C minor', energy: 60 };

describe('fit', () => {
  test('the same again fits wholly', () => {
    expect(fitOf(reference, { bpm: 122.5, key: 'C minor', energy: 60 })).toMatchObject({
      score: 100,
      sameKey: true,
      keySteps: 0,
      energyStep: 0,
      reasons: ['same tempo', 'same key', 'same energy'],
    });
  });
  test('half and double tempo are considered', () => {
    expect(fitOf(reference, { bpm: 61.25, key: 'C minor', energy: 60 })).toMatchObject({ score: 100, countedAt: 2 });
    expect(fitOf(reference, { bpm: 245, key: 'C minor', energy: 60 })).toMatchObject({ score: 100, countedAt: 0.5 });
  });
  test('nearer in tempo, key and energy is better', () => {
    const score = (bpm: number, key: string, energy: number): number => fitOf(reference, { bpm, key, energy }).score!;
    expect(score(123, 'C minor', 60)).toBeGreaterThan(score(127, 'C minor', 60));
    expect(score(122.5, 'Eb major', 60)).toBeGreaterThan(score(122.5, 'G minor', 60));
    expect(score(122.5, 'G minor', 60)).toBeGreaterThan(score(122.5, 'D minor', 60));
    expect(score(122.5, 'C minor', 62)).toBeGreaterThan(score(122.5, 'C minor', 90));
  });
  test('without a tempo there is no score, and the reason says so', () => {
    expect(fitOf(reference, { bpm: null, key: 'C minor', energy: 60 })).toMatchObject({
      score: null,
      reasons: ['no tempo to match', 'same key', 'same energy'],
    });
  });
  test('a faster track has a positive step', () => {
    expect(fitOf(reference, { bpm: 123.47, key: null, energy: null }).reasons[0]).toBe('+0.8 % tempo');
  });
});

describe('schedule', () => {
  const track = (durationSeconds: number | null, data = {}) => ({ kind: 'track' as const, data, durationSeconds });
  test('starts add up; unknown lengths count nothing', () => {
    expect(schedule([track(60), track(null), track(90.5)])).toEqual({ starts: [0, 60, 60], total: 150.5 });
  });
  test('what is no track takes its time too; a note takes none; own start and end and overlap count', () => {
    const { starts, total } = schedule([
      track(100, { from: 10, to: 70, overlap: 5 }),
      { kind: 'link', data: { seconds: 20, text: 'Good evening' }, durationSeconds: null },
      { kind: 'note', data: { seconds: 99 }, durationSeconds: null },
      { kind: 'pause', data: { seconds: 4 }, durationSeconds: null },
      track(30),
    ]);
    expect(starts).toEqual([0, 55, 75, 75, 79]);
    expect(total).toBe(109);
  });
  test('nothing begins before what stands before it, and nothing ends after the end', () => {
    const entry = fc.record({
      kind: fc.constantFrom('track' as const, 'pause' as const, 'note' as const),
      durationSeconds: fc.option(fc.integer({ min: 0, max: 600 })),
      data: fc.record({ seconds: fc.nat(60), overlap: fc.nat(900) }),
    });
    fc.assert(
      fc.property(fc.array(entry), (entries) => {
        const { starts, total } = schedule(entries);
        starts.forEach((start, i) => {
          expect(start).toBeGreaterThanOrEqual(starts[i - 1] ?? 0);
          expect(start + lengthOf(entries[i]!)).toBeLessThanOrEqual(total);
        });
      }),
    );
  });
});

describe('transitions', () => {
  const from = { bpm: 122, key: 'C minor', energy: 60 };
  test.each([
    [{ bpm: 123, key: 'C minor', energy: 60 }, 'good'],
    [{ bpm: 123, key: 'Eb major', energy: 60 }, 'good'],
    [{ bpm: 126.2, key: 'G minor', energy: 60 }, 'fair'],
    [{ bpm: 126.2, key: 'C minor', energy: 60 }, 'fair'],
    [{ bpm: 128, key: 'D minor', energy: 60 }, 'uneven'],
    [{ bpm: 140, key: 'C minor', energy: 60 }, 'hard'],
    [{ bpm: 122, key: 'F# minor', energy: 60 }, 'hard'],
    [{ bpm: null, key: 'C minor', energy: 60 }, 'hard'],
  ])('to %j is %s', (to, grade) => {
    expect(transition(from, to).grade).toBe(grade);
  });
  test('says why, key first', () => {
    expect(transition(from, { bpm: 123.22, key: 'C minor' }).reasons).toEqual(['same key', '+1.0 % tempo']);
  });
});

describe('audition gain', () => {
  test('loud tracks come down to −18 LUFS', () => {
    expect(auditionGain(-9, -0.2)).toBe(-9);
  });
  test('quiet tracks come up as far as their peaks allow', () => {
    expect(auditionGain(-24, -12)).toBe(6);
    expect(auditionGain(-24, -3)).toBe(2);
    expect(auditionGain(-24, 0.4)).toBe(0);
  });
  test('what is not measured is left alone', () => {
    expect(auditionGain(null, null)).toBe(0);
  });
});
