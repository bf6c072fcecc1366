import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { keyed, mergeOrder, trackOf } from './mergeOrder.ts';

const letters = 'abcdefghijklmno'.split('');
const order = fc.shuffledSubarray(letters, { minLength: 0, maxLength: 10 });
/** An order as a person leaves it: some taken out, some put in, some moved. */
const edited = (base: string[], fresh: string): fc.Arbitrary<string[]> =>
  fc
    .array(fc.record({ op: fc.constantFrom('out', 'in', 'move'), at: fc.nat(), to: fc.nat() }), { maxLength: 4 })
    .map((edits) => {
      const next = [...base];
      let n = 0;
      for (const { op, at, to } of edits) {
        if (op === 'in') next.splice(to % (next.length + 1), 0, `${fresh}${n++}`);
        else if (next.length > 0) {
          const [taken] = next.splice(at % next.length, 1);
          if (op === 'move') next.splice(to % (next.length + 1), 0, taken!);
        }
      }
      return next;
    });
const three = order.chain((base) => fc.tuple(fc.constant(base), edited(base, 'x'), edited(base, 'y')));

test('what one side has added, moved and taken out is so in the end', () => {
  expect(mergeOrder(['a', 'b', 'c'], ['a', 'x', 'b', 'c'], ['c', 'a', 'b'])).toEqual({
    order: ['c', 'a', 'x', 'b'],
    clashes: [],
  });
  expect(mergeOrder(['a', 'b'], ['a', 'x', 'b'], ['a', 'y', 'b']).order).toEqual(['a', 'x', 'y', 'b']);
  expect(mergeOrder(['a', 'b', 'c'], ['b', 'c', 'a'], ['b', 'a', 'c']).clashes).toEqual([]);
  expect(mergeOrder([], ['x', 'y'], ['y', 'x']).clashes).toEqual(['x', 'y']);
});

describe('properties', () => {
  test('with one side as it was, it is the other side, and what that took out', () => {
    fc.assert(
      fc.property(three, ([base, here]) => {
        const { order: merged, clashes } = mergeOrder(base, here, base);
        expect(merged.filter((k) => here.includes(k))).toEqual(here);
        expect(clashes).toEqual([]);
        expect(new Set(merged)).toEqual(new Set([...base, ...here]));
      }),
      { numRuns: 1000 },
    );
  });

  test('all that either side has is there, once', () => {
    fc.assert(
      fc.property(three, ([base, here, there]) => {
        const { order: merged } = mergeOrder(base, here, there);
        expect(merged.length).toBe(new Set(merged).size);
        expect(new Set(merged)).toEqual(new Set([...here, ...there]));
      }),
      { numRuns: 1000 },
    );
  });

  test('it is the same whichever side goes first, where nothing clashes', () => {
    fc.assert(
      fc.property(three, ([base, here, there]) => {
        const [one, other] = [mergeOrder(base, here, there), mergeOrder(base, there, here)];
        expect(one.clashes.length === 0).toBe(other.clashes.length === 0);
        fc.pre(one.clashes.length === 0);
        expect(one.order).toEqual(other.order);
      }),
      { numRuns: 2000 },
    );
  });

  test('done again on what came of it, it stands still', () => {
    fc.assert(
      fc.property(three, ([base, here, there]) => {
        const { order: merged } = mergeOrder(base, here, there);
        expect(mergeOrder(merged, merged, merged)).toEqual({ order: merged, clashes: [] });
      }),
    );
  });

  test('a model: edits of the two sides at places far from each other all come through', () => {
    fc.assert(
      fc.property(fc.nat(3), fc.nat(3), fc.boolean(), (at, to, takenOut) => {
        const base = letters;
        const here = [...base];
        here.splice(at, 1);
        if (!takenOut) here.splice(to, 0, base[at]!);
        const there = [...base];
        there.splice(10 + to, 0, 'new');
        const expected = [...here];
        expected.splice(expected.indexOf(base[10 + to]!), 0, 'new');
        const { order: merged, clashes } = mergeOrder(base, here, there);
        expect(clashes).toEqual([]);
        expect(merged.filter((k) => k === 'new' || here.includes(k))).toEqual(expected);
      }),
    );
  });
});

test('a track that stands in a list several times has several keys', () => {
  expect(keyed(['a', 'b', 'a']).map(trackOf)).toEqual(['a', 'b', 'a']);
  expect(new Set(keyed(['a', 'b', 'a'])).size).toBe(3);
});
