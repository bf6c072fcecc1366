import { expect, test } from '@jest/globals';
import type { Comparison } from './compare.ts';
import { pairOf, whomToCompare } from './whom.ts';

const compared = (relation: Comparison['relation']): Comparison => ({
  relation,
  offsetSeconds: 2,
  gain: 0,
  alike: 1,
  lacks: { start: 0, end: 0 },
  has: { start: 0, end: 0 },
  partsAt: 7,
});

test('each other once, for the reason that says most; never itself', () => {
  const near = whomToCompare(4, { sound: [1, 2, 3, 4], name: [2, 3], bytes: [3] });
  expect([...near].sort()).toEqual([
    [1, 'sound'],
    [2, 'name'],
    [3, 'bytes'],
  ]);
});

test('what sounds like nothing of it is the same song where the names are, else nothing', () => {
  expect(pairOf([1, 2], 'bytes', null)).toMatchObject({ relation: 'same bytes', offsetSeconds: 0, partsAt: null });
  expect(pairOf([1, 2], 'sound', compared('edit'))).toMatchObject({ relation: 'edit', offsetSeconds: 2, partsAt: 7 });
  expect(pairOf([1, 2], 'name', compared('different'))).toMatchObject({ relation: 'same song', offsetSeconds: 0 });
  expect(pairOf([1, 2], 'sound', compared('different'))).toBeNull();
});
