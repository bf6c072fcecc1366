import { describe, expect, test } from '@jest/globals';
import { auditionGain } from './audition.ts';
import { fitOf } from './fit.ts';
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
  test('steps in energy and loudness, singing over singing and detuning are said and take a grade away', () => {
    const same = { bpm: 122, key: 'C minor', energy: 60, lufs: -9, vocals: 'yes' };
    const way = (a: object, b: object, how = {}): unknown[] => {
      const { grade, reasons } = transition({ ...same, ...a }, { ...same, ...b }, how);
      return [grade, ...reasons.slice(2)];
    };
    expect(way({}, {})).toEqual(['good']);
    expect(way({}, { energy: 25 })).toEqual(['fair', '−35 energy']);
    expect(way({}, { lufs: -15.5 })).toEqual(['fair', '−6.5 LU']);
    expect(way({}, {}, { bars: 16 })).toEqual(['fair', 'vocals over vocals']);
    expect(way({}, { vocals: 'no' }, { bars: 16 })).toEqual(['good']);
    expect(way({ ending: 'hard' }, {})).toEqual(['good']);
    expect(way({ ending: 'hard' }, {}, { bars: null })).toEqual(['good', 'cold end']);
    expect(way({ ending: 'hard' }, {}, { bars: 8 })).toEqual(['fair', 'vocals over vocals']);
    expect(way({}, { bpm: 128, key: 'D minor', energy: 10 })).toEqual(['uneven', '−50 energy']);
  });
  test('without key lock the key moves with the tempo', () => {
    const to = { bpm: 122 * 2 ** (1 / 12), key: 'C# minor', energy: 60 };
    expect(transition(from, to).fit.keySteps).toBe(5);
    const shifted = transition(from, to, { keyLock: false });
    expect(shifted.fit.sameKey).toBe(true);
    expect(shifted.reasons).toEqual(['same key', '+5.9 % tempo', '−1 semitone with the tempo']);
    expect(transition(from, { bpm: 125, key: 'C minor', energy: 60 }, { keyLock: false }).reasons[2]).toBe(
      '−42 cents out of tune',
    );
  });
  test('the tempo at which the first is played counts before its own', () => {
    expect(transition(from, { bpm: 126, key: 'C minor' }, { tempo: 126 }).reasons[1]).toBe('same tempo');
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
