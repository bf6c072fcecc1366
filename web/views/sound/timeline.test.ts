import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inside, quantised, reveal, scroll, SHORTEST, zoom } from './timeline.ts';

const spans = fc
  .record({
    duration: fc.double({ min: 2, max: 8000, noNaN: true }),
    a: fc.double({ min: 0, max: 1, noNaN: true }),
    b: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  .map(({ duration, a, b }) => ({
    duration,
    span: inside({ from: Math.min(a, b) * duration, to: Math.max(a, b) * duration }, duration),
  }));

describe('what is shown of a track', () => {
  test('lies inside it and is never too short, whatever is done', () => {
    fc.assert(
      fc.property(
        spans,
        fc.array(fc.tuple(fc.boolean(), fc.double({ min: -3, max: 3, noNaN: true })), { maxLength: 12 }),
        ({ span, duration }, steps) => {
          let now = span;
          for (const [zooms, by] of steps)
            now = zooms
              ? zoom(now, 2 ** by, now.from + (now.to - now.from) * 0.3, duration)
              : scroll(now, by, duration);
          expect(now.from).toBeGreaterThanOrEqual(-1e-9);
          expect(now.to).toBeLessThanOrEqual(duration + 1e-6);
          expect(now.to - now.from).toBeGreaterThanOrEqual(Math.min(SHORTEST, duration) - 1e-6);
        },
      ),
    );
  });

  test('zooming in keeps the time under the pointer where it is', () => {
    const now = zoom({ from: 10, to: 50 }, 0.5, 20, 300);
    expect((20 - now.from) / (now.to - now.from)).toBeCloseTo(0.25, 9);
    expect(now.to - now.from).toBeCloseTo(20, 9);
  });

  test('a time outside is brought in, one inside moves nothing', () => {
    const span = { from: 10, to: 20 };
    expect(reveal(span, 15, 100)).toBe(span);
    const moved = reveal(span, 60, 100);
    expect(moved.from).toBeLessThan(60);
    expect(moved.to).toBeGreaterThan(60);
  });
});

test('a mark goes to the nearest beat, or stays without a grid', () => {
  expect(quantised(1.2, [0, 0.5, 1, 1.5])).toBe(1);
  expect(quantised(1.2, [])).toBe(1.2);
});
