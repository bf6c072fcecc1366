import { expect, test } from '@jest/globals';
import type { ListLine } from '@early-set/core/api/types';
import { listLine } from '../testing/rows.ts';
import { isPutAway, mayHold, pathOf, positionBetween, treeLines } from './listTree.ts';

const list = listLine;
const all = [
  list('boathouse', { position: 2 }),
  list('warm-up', { parentId: 'boathouse' }),
  list('radio'),
  list('beds', { parentId: 'radio', removed: true }),
  list('stings', { parentId: 'beds' }),
  list('night', { kind: 'playlist' }),
];

test('the tree in order, with depth, without what is put away', () => {
  expect(treeLines(all, 'crate').map((l) => `${l.depth} ${l.list.id}`)).toEqual([
    '0 radio',
    '0 boathouse',
    '1 warm-up',
  ]);
  expect(treeLines(all, 'crate', 'WARM').map((l) => l.list.id)).toEqual(['boathouse', 'warm-up']);
});
test('folded crates keep what lies in them, until something is looked for; what is found otherwise is seen', () => {
  const shown = (find: string, more: Parameters<typeof treeLines>[3]): string[] =>
    treeLines(all, 'crate', find, more).map((l) => `${l.list.id}${l.holds ? (l.folded ? ' folded' : ' open') : ''}`);
  const folded = new Set(['boathouse', 'radio']);
  expect(shown('', { folded })).toEqual(['radio', 'boathouse folded']);
  expect(shown('warm', { folded })).toEqual(['boathouse open', 'warm-up']);
  expect(shown('tide', { found: new Set(['warm-up']) })).toEqual(['boathouse open', 'warm-up']);
});
test('what lies in something put away is put away too', () => {
  expect(isPutAway(all[4]!, all)).toBe(true);
});
test('a list says where it lies', () => {
  expect(all.map((l) => pathOf(l, all))).toEqual(['', 'boathouse', '', 'radio', 'radio / beds', '']);
});
test('no crate goes into itself, what it holds, or a playlist', () => {
  const [boathouse, warmUp, radio, , , night] = all as [ListLine, ListLine, ListLine, ListLine, ListLine, ListLine];
  expect(mayHold(radio, boathouse, all)).toBe(true);
  expect(mayHold(warmUp, boathouse, all)).toBe(false);
  expect(mayHold(boathouse, boathouse, all)).toBe(false);
  expect(mayHold(night, radio, all)).toBe(false);
});
test('positions lie between neighbours', () => {
  expect([
    positionBetween(1, 2),
    positionBetween(undefined, 2),
    positionBetween(3, undefined),
    positionBetween(undefined, undefined),
  ]).toEqual([1.5, 1, 4, 0]);
});
