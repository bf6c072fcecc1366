import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../../signal/random.ts';
import { LAGS, repetitionOf } from './repetition.ts';

const of = (rows: readonly number[][]): Float32Array => {
  const repetition = repetitionOf(rows[0]!.length);
  for (const row of rows) repetition.push(Float64Array.from(row));
  return repetition.finish();
};
const at = (lag: (typeof LAGS)[number]): number => LAGS.indexOf(lag);

/** The same, with all beats kept. */
function plainly(rows: readonly number[][]): number[] {
  const mean = rows[0]!.map((_, i) => rows.reduce((sum, r) => sum + r[i]!, 0) / rows.length);
  const about = rows.map((r) => r.map((v, i) => v - mean[i]!));
  const product = (a: number[], b: number[]): number => a.reduce((sum, v, i) => sum + v * b[i]!, 0);
  const alike = LAGS.map((lag) => {
    const pairs = about.slice(lag).map((b, k) => [about[k]!, b] as const);
    const apart = pairs.reduce((sum, [a, b]) => sum + (product(a, a) + product(b, b)) / 2, 0);
    return pairs.length ? pairs.reduce((sum, [a, b]) => sum + product(a, b), 0) / (apart + 1e-9) : 0;
  });
  const middle = alike.reduce((sum, v) => sum + v, 0) / alike.length;
  const spread = Math.sqrt(alike.reduce((sum, v) => sum + (v - middle) ** 2, 0) / alike.length);
  return alike.map((v) => (2 * (v - middle)) / (3 * spread + 0.1));
}

describe('how alike beats are some beats apart', () => {
  test.each([
    [3, [3, 6, 12], [1, 2, 4, 5, 8, 16]],
    [4, [4, 8, 12, 16, 32], [1, 2, 3, 5, 6]],
  ] as const)('in bars of %i it is highest after whole bars', (bar, whole, others) => {
    const random = seeded(5);
    const rows = Array.from({ length: 120 }, (_, k) => [k % bar === 0 ? 3 : 0, k % bar === bar - 1 ? 2 : 0, random()]);
    const found = of(rows);
    const lowest = Math.min(...whole.map((lag) => found[at(lag)]!));
    for (const lag of others) expect(found[at(lag)]!).toBeLessThan(lowest - 0.5);
  });

  test('is the same as with all beats kept, however many there are', () => {
    const value = fc.double({ min: 0, max: 5, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.array(value, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 90 }),
        (rows) => {
          const found = of(rows);
          plainly(rows).forEach((v, n) => expect(found[n]!).toBeCloseTo(v, 3));
        },
      ),
    );
  });

  test('of no beat, or of beats that are all the same, nothing is said', () => {
    expect([...repetitionOf(4).finish()]).toEqual(LAGS.map(() => 0));
    const same = of(Array.from({ length: 50 }, () => [1, 2, 3]));
    for (const v of same) expect(Math.abs(v)).toBeLessThan(1e-3);
  });
});
