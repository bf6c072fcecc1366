import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareLists, heldTwice } from './compare.ts';

test('says what is only here, only there, in both, and how much of it in the same order', () => {
  expect(compareLists([1, 2, 3, 4, 2], [4, 9, 1, 3])).toEqual({
    onlyFirst: [2],
    onlySecond: [9],
    both: [1, 3, 4],
    sameOrder: 2,
  });
  expect(heldTwice([1, 2, 1, 3, 2, 1])).toEqual([1, 2]);
});

test('every track is counted once on one of three sides; against itself a list is the same', () => {
  const ids = fc.array(fc.nat(12), { maxLength: 20 });
  fc.assert(
    fc.property(ids, ids, (a, b) => {
      const { onlyFirst, onlySecond, both, sameOrder } = compareLists(a, b);
      expect([...onlyFirst, ...both].sort((x, y) => x - y)).toEqual([...new Set(a)].sort((x, y) => x - y));
      expect([...onlySecond, ...both].sort((x, y) => x - y)).toEqual([...new Set(b)].sort((x, y) => x - y));
      expect(sameOrder).toBeLessThanOrEqual(both.length);
      const self = compareLists(a, a);
      expect([self.onlyFirst, self.onlySecond, self.sameOrder]).toEqual([[], [], self.both.length]);
    }),
  );
});
