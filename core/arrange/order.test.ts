import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  costTable,
  DEFAULT_WEIGHTS,
  HARD_COST,
  orderCost,
  pairCost,
  tableCost,
  type Orderable,
  type OrderWish,
} from './order.ts';
import { readShape, SHAPES, shapeLabel, wishedAt, writeShape } from './shape.ts';
import { smooth } from './smooth.ts';

const track = (bpm: number | null, key: string | null, energy: number | null, artist = ''): Orderable => ({
  values: { bpm, key, energy, artist: artist ? [artist] : null },
});
const KEYS = ['A minor', 'C major', 'E minor', 'G major', 'B minor', 'F# minor', 'Eb major', 'D minor'];
const someTrack: fc.Arbitrary<Orderable> = fc.oneof(
  {
    weight: 9,
    arbitrary: fc
      .record({
        bpm: fc.option(fc.double({ min: 80, max: 140, noNaN: true })),
        key: fc.option(fc.constantFrom(...KEYS)),
        energy: fc.option(fc.integer({ min: 0, max: 100 })),
        artist: fc.constantFrom('Keel Nine', 'Pell & Harrow', 'Vesna Rook').map((a) => [a]),
      })
      .map((values) => ({ values })),
  },
  { weight: 1, arbitrary: fc.constant({ values: null }) },
);
const someWish: fc.Arbitrary<OrderWish> = fc
  .constantFrom(null, ...SHAPES)
  .map((name) => ({ weights: DEFAULT_WEIGHTS, shape: name && readShape(name) }));

describe('what an order costs', () => {
  const w = DEFAULT_WEIGHTS;
  test('the same again costs nothing, but for its artist', () => {
    expect(pairCost(track(120, 'A minor', 50), track(120, 'A minor', 50), w)).toBe(0);
    expect(pairCost(track(120, 'A minor', 50, 'Keel Nine'), track(120, 'A minor', 50, 'keel nine'), w)).toBe(w.artist);
  });
  test('tempo, key and energy add up; half and double tempo count', () => {
    expect(pairCost(track(120, 'A minor', 50), track(122.4, 'A minor', 50), w)).toBeCloseTo(w.tempo / 4);
    expect(pairCost(track(120, 'A minor', 50), track(60, 'A minor', 50), w)).toBe(0);
    expect(pairCost(track(120, 'A minor', 50), track(120, 'C major', 50), w)).toBeCloseTo(w.key * 0.05);
    expect(pairCost(track(120, 'A minor', 50), track(120, 'A minor', 60), w)).toBeCloseTo(w.energy / 5);
    expect(pairCost(track(120, 'A minor', 50), track(135, 'A minor', 50), w)).toBe(w.tempo + HARD_COST);
  });
  test('what is not known costs half, and beside what is no track there is no cost', () => {
    expect(pairCost(track(120, null, null), track(120, null, null), w)).toBe((w.key + w.energy) / 2 + HARD_COST);
    expect(pairCost({ values: null }, track(120, null, null), w)).toBe(0);
  });
  test('the wished shape is counted by place', () => {
    const wish: OrderWish = {
      weights: { ...w, tempo: 0, key: 0, energy: 0 },
      shape: [
        [0, 20],
        [1, 80],
      ],
    };
    const set = [track(120, 'A minor', 20), track(120, 'A minor', 40), track(120, 'A minor', 80)];
    expect(orderCost(set, wish)).toBeCloseTo(10);
    expect(orderCost([set[0]!], wish)).toBe(0);
  });
  test('the table adds up to the same', () => {
    fc.assert(
      fc.property(fc.array(someTrack, { maxLength: 8 }), someWish, (set, wish) => {
        const given = set.map((_, i) => i);
        expect(tableCost(costTable(set, wish), given)).toBeCloseTo(orderCost(set, wish), 6);
      }),
    );
  });
});

describe('shapes', () => {
  test('are read by name or by points, drawn between them, and written again', () => {
    expect(wishedAt(readShape('0 20, 0.5 80, 1 40')!, 0.25)).toBe(50);
    expect(wishedAt(readShape('0.2 20, 0.8 80')!, 0)).toBe(20);
    expect(wishedAt(readShape('0.2 20, 0.8 80')!, 1)).toBe(80);
    expect(
      readShape(
        writeShape([
          [0, 12],
          [0.3333, 50.4],
          [1, 99],
        ]),
      ),
    ).toEqual([
      [0, 12],
      [0.333, 50],
      [1, 99],
    ]);
    expect(shapeLabel('rising')).toBe('rising');
    expect(shapeLabel('0 1, 1 2')).toBe('drawn by hand');
  });
  test.each(['', 'rise', '0 20', '0 20, 0 30', '1 20, 0 30', '0 20, 1 130', '0 x, 1 2', '0 1 2, 1 2'])(
    '"%s" is none',
    (text) => expect(readShape(text)).toBeNull(),
  );
  test('all that have a name keep between 0 and 100 and cover the set', () => {
    for (const name of SHAPES) {
      const points = readShape(name)!;
      expect([points[0]![0], points.at(-1)![0]]).toEqual([0, 1]);
      expect(readShape(writeShape(points))).toEqual(points);
    }
  });
});

describe('smoothing', () => {
  const all = (n: number): number[] => Array.from({ length: n }, (_, i) => i);
  /** Every order of the free places, by trying. */
  function least(set: readonly Orderable[], wish: OrderWish, pinned: ReadonlySet<number>): number {
    const table = costTable(set, wish),
      free = all(set.length).filter((i) => !pinned.has(i));
    let best = Infinity;
    const go = (left: number[], order: number[]): void => {
      if (order.length === set.length) {
        best = Math.min(best, tableCost(table, order));
        return;
      }
      if (pinned.has(order.length)) go(left, [...order, order.length]);
      else
        for (const e of left)
          go(
            left.filter((x) => x !== e),
            [...order, e],
          );
    };
    go(free, []);
    return best;
  }

  test('finds the best order of a few, with pinned ones where they are', () => {
    fc.assert(
      fc.property(fc.array(someTrack, { maxLength: 6 }), fc.uniqueArray(fc.nat(5)), someWish, (set, pins, wish) => {
        const pinned = new Set(pins.filter((p) => p < set.length)),
          table = costTable(set, wish);
        const order = smooth(table, { pinned });
        expect([...order].sort((a, b) => a - b)).toEqual(all(set.length));
        for (const p of pinned) expect(order[p]).toBe(p);
        expect(tableCost(table, order)).toBeCloseTo(least(set, wish, pinned), 6);
      }),
      { numRuns: 60 },
    );
  });

  test('of many, keeps entries and pins and never makes it worse', () => {
    fc.assert(
      fc.property(
        fc.array(someTrack, { minLength: 14, maxLength: 24 }),
        fc.uniqueArray(fc.nat(23), { maxLength: 5 }),
        someWish,
        (set, pins, wish) => {
          const pinned = new Set(pins.filter((p) => p < set.length)),
            table = costTable(set, wish);
          const order = smooth(table, { pinned });
          expect([...order].sort((a, b) => a - b)).toEqual(all(set.length));
          for (const p of pinned) expect(order[p]).toBe(p);
          expect(tableCost(table, order)).toBeLessThanOrEqual(tableCost(table, all(set.length)) + 1e-6);
        },
      ),
      { numRuns: 3 },
    );
  });

  test('annealing comes to what trying everything finds', () => {
    const set = [128, 121, 124, 120, 126, 122, 125, 123].map((bpm, i) => track(bpm, KEYS[i % 3]!, 40 + 5 * i));
    const wish: OrderWish = { weights: DEFAULT_WEIGHTS, shape: readShape('rising') };
    const table = costTable(set, wish);
    const told: number[] = [];
    const order = smooth(table, { pinned: new Set([2]), exact: false, progress: (share) => told.push(share) });
    expect(tableCost(table, order)).toBeCloseTo(least(set, wish, new Set([2])), 6);
    expect(smooth(table, { pinned: new Set([2]), exact: false })).toEqual(order);
    expect(told.length).toBeGreaterThan(2);
    expect(told.every((share, i) => share >= (told[i - 1] ?? 0) && share <= 1)).toBe(true);
  });

  test('a rising shape puts the still ones first', () => {
    const set = [90, 30, 60, 75, 45].map((energy) => track(122, 'A minor', energy));
    const wish: OrderWish = { weights: DEFAULT_WEIGHTS, shape: readShape('rising') };
    const order = smooth(costTable(set, wish), { pinned: new Set() });
    expect(order.map((i) => set[i]!.values!.energy)).toEqual([30, 45, 60, 75, 90]);
  });
});
