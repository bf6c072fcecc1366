import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { CHORD_GROUPS, chordsKnown, triadOf } from './chords.ts';

const profile = (...tones: number[]): number[] =>
  Array.from({ length: 12 }, (_, i) => (tones.some((t) => ((t % 12) + 12) % 12 === i) ? 1 : 0.05));

test('every triad is recognised from its tones and its bass', () => {
  for (let root = 0; root < 12; root++) {
    expect(triadOf(profile(root, root + 4, root + 7), profile(root))).toBe(root);
    expect(triadOf(profile(root, root + 3, root + 7), profile(root))).toBe(root + 12);
  }
  expect(triadOf(new Array<number>(12).fill(0), new Array<number>(12).fill(0))).toBeNull();
});

describe('what triads say', () => {
  test('shares add up, whatever is heard', () => {
    fc.assert(
      fc.property(
        fc.array(fc.option(fc.integer({ min: 0, max: 23 })), { maxLength: 60 }),
        fc.array(fc.integer({ min: 0, max: 59 }), { maxLength: 8 }),
        (triads, phrases) => {
          const known = chordsKnown(triads, phrases);
          expect(known).toHaveLength(CHORD_GROUPS * 12);
          const share = (from: number, to: number): number =>
            known.slice(from, to).reduce((sum, v) => sum + (v / 2) ** 2, 0);
          expect(share(0, 24)).toBeCloseTo(triads.some((t) => t !== null) ? 1 : 0, 9);
          expect(share(48, 60)).toBeLessThanOrEqual(1 + 1e-9);
        },
      ),
    );
  });

  test('a falling fifth is counted where it lands', () => {
    expect(chordsKnown([7, 0, 7, 0], [])[48]).toBeCloseTo(2 * Math.sqrt(2 / 3), 9);
    expect(chordsKnown([7, 0], [])[48 + 7]).toBe(0);
  });
});
