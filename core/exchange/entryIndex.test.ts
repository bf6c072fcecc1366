import { describe, expect, test } from '@jest/globals';
import { entryIndex } from './entryIndex.ts';

const NAMES = [
  'Lamp Room Vesna Rook',
  'Slack Water Odette Kassar',
  'Lamp Oil Hours Keel Nine',
  'Dry Dock Marrow & Pine',
];

describe('tracks by the words of their names', () => {
  const { near } = entryIndex(NAMES);
  test('those that share most and rarest words come first, whatever the case and order', () => {
    expect(near('VESNA ROOK - lamp room', 5)[0]).toBe(0);
    expect(near('keel nine lamp', 5)[0]).toBe(2);
    expect([...near('lamp', 5)].sort()).toEqual([0, 2]);
    expect(near('lamp', 1)).toHaveLength(1);
  });
  test('misspelt words find what they mean, short and far ones do not', () => {
    expect(near('Odete Kasar', 5)).toEqual([1]);
    expect(near('dok', 5)).toEqual([]);
    expect(near('completely else', 5)).toEqual([]);
    expect(near('', 5)).toEqual([]);
  });
  test('words that nearly all have say nothing beside others', () => {
    const many = entryIndex([...Array.from({ length: 5000 }, (_, i) => `the tide ${i}`), 'the odd one']);
    expect(many.near('the odd', 3)).toEqual([5000]);
    expect(many.near('the', 3)).toEqual([0, 1, 2]);
  });
});
