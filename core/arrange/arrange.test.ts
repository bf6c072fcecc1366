import { describe, expect, test } from '@jest/globals';
import { auditionGain } from './audition.ts';
import { fitOf } from './fit.ts';
import { clockLength, startTimes, timeOfDay } from './times.ts';

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

describe('times', () => {
  test('starts add up; unknown lengths count nothing', () => {
    expect(startTimes([60, null, 90.5])).toEqual({ starts: [0, 60, 60], total: 150.5 });
  });
  test.each([
    [0, '0:00'],
    [59.6, '1:00'],
    [247, '4:07'],
    [3729, '1:02:09'],
  ])('%d s is %s', (s, text) => {
    expect(clockLength(s)).toBe(text);
  });
  test('the clock goes past midnight', () => {
    expect(timeOfDay('23:30', 45 * 60)).toBe('00:15');
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
