import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { reversedOrder, sortedOrder, type Sortable } from './sorted.ts';

const entry = (entryId: string, values: Sortable['values'], stays = false): Sortable => ({ entryId, values, stays });

describe('a list sorted once', () => {
  test('by numbers, by names without regard to case and accents, by keys along the circle of fifths', () => {
    const list = [
      entry('a', { bpm: 128, title: 'Ébb', key: 'A minor' }),
      entry('b', { bpm: 90, title: 'dock', key: 'Eb major' }),
      entry('c', { bpm: null, title: 'Fathom 9', key: 'C major' }),
      entry('d', { bpm: 100, title: 'fathom 10', key: null }),
    ];
    expect(sortedOrder(list, 'bpm').join('')).toBe('bdac');
    expect(sortedOrder(list, 'title').join('')).toBe('bacd');
    expect(sortedOrder(list, 'key').join('')).toBe('bacd');
  });
  test('pinned entries and pauses stay where they are', () => {
    const list = [entry('a', { bpm: 3 }), entry('p', {}, true), entry('b', { bpm: 1 }), entry('c', { bpm: 2 })];
    expect(sortedOrder(list, 'bpm').join('')).toBe('bpca');
    expect(reversedOrder(list).join('')).toBe('cpba');
  });
  test('nothing is lost, equal ones keep their order, and turned twice it is as it was', () => {
    const some = fc.array(fc.record({ bpm: fc.option(fc.integer({ min: 1, max: 4 })), stays: fc.boolean() }), {
      maxLength: 12,
    });
    fc.assert(
      fc.property(some, (made) => {
        const list = made.map(({ bpm, stays }, i) => entry(String(i), { bpm }, stays));
        const sorted = sortedOrder(list, 'bpm');
        expect([...sorted].sort()).toEqual(list.map((e) => e.entryId).sort());
        for (const [i, e] of list.entries()) if (e.stays) expect(sorted[i]).toBe(e.entryId);
        const again = sorted.map((id) => list[Number(id)]!);
        expect(sortedOrder(again, 'bpm')).toEqual(sorted);
        const turned = reversedOrder(list).map((id) => list[Number(id)]!);
        expect(reversedOrder(turned)).toEqual(list.map((e) => e.entryId));
      }),
    );
  });
});
