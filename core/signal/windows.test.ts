import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { growing, growingBytes, growingShorts } from './windows.ts';

test('a growing list gives back what was put in, however much was expected', () => {
  const counts = fc.integer({ min: 0, max: 70_000 });
  fc.assert(
    fc.property(fc.oneof(fc.constant(0), counts), counts, fc.nat(20), (expected, count, more) => {
      for (const list of [growing(expected), growingShorts(expected), growingBytes(expected)]) {
        for (let i = 0; i < count; i++) list.push(i % 251);
        const first = list.take();
        expect(first).toHaveLength(count);
        for (let i = 0; i < count; i++) if (first[i] !== i % 251) throw new Error(`another value at ${i}`);
        for (let i = 0; i < more; i++) list.push(7);
        expect(Array.from(list.take())).toEqual(Array.from({ length: more }, () => 7));
        expect(first[0] ?? 0).toBe(0);
      }
    }),
    { numRuns: 40 },
  );
});

test('room for far more than came is given back', () => {
  const list = growing(1_000_000);
  for (let i = 0; i < 10; i++) list.push(i);
  expect(list.take().buffer.byteLength).toBe(40);
});
