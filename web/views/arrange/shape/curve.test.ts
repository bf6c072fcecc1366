import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ListEntryRow } from '@early-set/core/api/types';
import { readShape, type ShapePoint } from '@early-set/core/arrange/shape';
import { curveOf, rangeOf, withNewPoint, withoutPoint, withPoint } from './curve.ts';

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
