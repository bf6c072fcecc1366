import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { endingOf } from './ending.ts';
import { cut, labelsOf, partsOf, type Section } from './sections.ts';

const rows = (...stretches: [length: number, level: number][]): Float64Array[] =>
  stretches.flatMap(([length, level], k) =>
    Array.from({ length }, (_, i) => Float64Array.from([level, level * 2, ((i * 7 + k) % 3) * 0.1])),
  );

describe('cutting into stretches', () => {
  test('finds the borders between what is alike inside', () => {
    expect(cut(rows([8, 0], [16, 3], [8, -2], [16, 3]), true)).toEqual([0, 8, 24, 32]);
  });

  test('what does not change stays whole, and the cuts are in order and far enough apart', () => {
    expect(cut(rows([64, 1]), true)).toEqual([0]);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 4, max: 20 }), fc.integer({ min: -3, max: 3 })), {
          minLength: 1,
          maxLength: 6,
        }),
        (stretches) => {
          const all = rows(...stretches),
            starts = cut(all, true);
          expect(starts[0]).toBe(0);
          for (let i = 1; i < starts.length; i++) expect(starts[i]! - starts[i - 1]!).toBeGreaterThanOrEqual(4);
          expect(all.length - starts.at(-1)!).toBeGreaterThanOrEqual(Math.min(4, all.length));
        },
      ),
    );
  });
});

describe('names of sections', () => {
  test('a usual form', () => {
    expect(labelsOf([0.5, 0.65, 1, 0.4, 0.98, 0.55])).toEqual(['intro', 'build', 'main', 'breakdown', 'main', 'outro']);
  });

  test('a track that hardly varies is all main', () => {
    expect(labelsOf([0.97, 1, 0.98])).toEqual(['main', 'main', 'main']);
  });

  test('there is always a main, nothing before the first is a breakdown, nothing after the last is anything but outro', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 10 }), (raw) => {
        const top = Math.max(...raw, 1e-6),
          labels = labelsOf(raw.map((v) => v / top));
        const first = labels.indexOf('main'),
          last = labels.lastIndexOf('main');
        expect(first).toBeGreaterThanOrEqual(0);
        for (const l of labels.slice(0, first)) expect(['intro', 'build']).toContain(l);
        for (const l of labels.slice(last + 1)) expect(l).toBe('outro');
      }),
    );
  });

  test('the intro ends where the first main begins, the outro begins where the last one ends', () => {
    const section = (label: Section['label'], startSeconds: number, endSeconds: number): Section => ({
      label,
      startSeconds,
      endSeconds,
      level: 1,
    });
    expect(partsOf([section('intro', 0, 10), section('main', 10, 50), section('outro', 50, 60)])).toEqual({
      introEndSeconds: 10,
      outroStartSeconds: 50,
    });
    expect(partsOf([section('main', 0, 50)])).toEqual({ introEndSeconds: null, outroStartSeconds: null });
    expect(partsOf([])).toEqual({ introEndSeconds: null, outroStartSeconds: null });
  });
});

describe('how a track ends', () => {
  const power = (db: (t: number) => number, seconds: number): number[] =>
    Array.from({ length: seconds * 10 }, (_, i) => 10 ** (db(i / 10) / 10));

  test('a fade of eight seconds is a fade, and the segue lies inside it', () => {
    const ending = endingOf(
      power((t) => (t < 52 ? -12 : -12 - (t - 52) * 6), 60),
      60,
    );
    expect(ending.kind).toBe('fade');
    expect(ending.segueSeconds).toBeGreaterThan(52.5);
    expect(ending.segueSeconds).toBeLessThan(54.6);
  });

  test('an end with a short ring is hard, and the segue lies just behind the last stroke', () => {
    const ending = endingOf(
      power((t) => (t < 58 ? -12 : -12 - (t - 58) * 60), 60),
      59.5,
    );
    expect(ending.kind).toBe('hard');
    expect(Math.abs(ending.segueSeconds! - 58.3)).toBeLessThan(0.4);
  });

  test('silence has no end', () => {
    expect(endingOf([], null)).toEqual({ kind: null, segueSeconds: null });
  });
});
