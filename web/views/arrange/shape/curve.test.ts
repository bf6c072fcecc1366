import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ListEntryRow } from '@early-set/core/api/types';
import { readShape, type ShapePoint } from '@early-set/core/arrange/shape';
import { curveOf, rangeOf, secondsAt, shareAt, thinned, withNewPoint, withoutPoint, withPoint } from './curve.ts';

const row = (id: number, values: object): ListEntryRow =>
  ({ id, values, kind: id ? 'track' : 'pause' }) as ListEntryRow;

describe('the curve of a set', () => {
  const entries = [
    row(1, { energy: 40, bpm: 120, key: 'A minor' }),
    row(0, {}),
    row(2, { energy: 60, bpm: 128, key: 'Eb major' }),
    row(3, { energy: null, key: null }),
  ];
  test('goes through what has a value, at its time', () => {
    expect(curveOf(entries, [0, 60, 70, 200], 'energy')).toEqual([
      { at: 0, seconds: 0, value: 40 },
      { at: 2, seconds: 70, value: 60 },
    ]);
    expect(curveOf(entries, [0, 60, 70, 200], 'key').map((p) => p.value)).toEqual([0, -3]);
  });
  test('energy is drawn from 0 to 100, others as far as they go', () => {
    const points = curveOf(entries, [0, 60, 70, 200], 'bpm');
    expect(rangeOf(points, 'energy')).toEqual({ low: 0, high: 100 });
    expect(rangeOf(points, 'bpm').low).toBeCloseTo(118.8);
    expect(rangeOf(points, 'bpm').high).toBeCloseTo(129.2);
    expect(rangeOf([], 'lufs')).toEqual({ low: 0, high: 100 });
  });
});

test('however its points are moved, added and taken out, a shape stays one', () => {
  const share = fc.double({ min: -0.5, max: 1.5, noNaN: true }),
    energy = fc.double({ min: -50, max: 150, noNaN: true });
  const edit = fc.record({ do: fc.constantFrom('move', 'add', 'remove'), index: fc.nat(20), share, energy });
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
      let points: readonly ShapePoint[] = readShape('two waves')!;
      for (const e of edits) {
        const index = e.index % points.length;
        const text =
          e.do === 'move'
            ? withPoint(points, index, [e.share, e.energy])
            : e.do === 'add'
              ? withNewPoint(points, [Math.max(0, Math.min(1, e.share)), e.energy])
              : withoutPoint(points, index);
        const next = readShape(text);
        expect(next).not.toBeNull();
        points = next!;
        expect([points[0]![0], points.at(-1)![0]]).toEqual([0, 1]);
      }
    }),
  );
});

describe('a wished shape over time', () => {
  test('a place of the set is at the start of its entry', () => {
    const starts = [0, 100, 400, 500];
    expect([0, 1 / 3, 2 / 3, 1].map((share) => secondsAt(starts, share))).toEqual([0, 100, 400, 500]);
    expect(secondsAt(starts, 0.5)).toBe(250);
    expect([secondsAt([], 0.5), secondsAt([0], 1), shareAt([0], 4)]).toEqual([0, 0, 0]);
  });
  test('there and back again', () => {
    const lengths = fc.array(fc.integer({ min: 1, max: 600 }), { minLength: 1, maxLength: 20 });
    fc.assert(
      fc.property(lengths, fc.double({ min: 0, max: 1, noNaN: true }), (all, share) => {
        let at = 0;
        const starts = [0, ...all.map((length) => (at += length))];
        expect(shareAt(starts, secondsAt(starts, share))).toBeCloseTo(share, 9);
      }),
    );
  });
});

test('a long curve is drawn by the means of stretches, from its first to its last entries', () => {
  const points = Array.from({ length: 1000 }, (_, at) => ({ at, seconds: at * 10, value: at % 2 ? 80 : 20 }));
  expect(thinned(points.slice(0, 160))).toHaveLength(160);
  const drawn = thinned(points, 100);
  expect(drawn).toHaveLength(100);
  for (const { value } of drawn) expect(value).toBe(50);
  expect(drawn.map((p) => p.at)).toEqual(Array.from({ length: 100 }, (_, i) => i * 10));
  expect(drawn.map((p) => p.seconds)).toEqual([...drawn.map((p) => p.seconds)].sort((a, b) => a - b));
});
