import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { joined, splitAt, type Part } from './SectionStrip.tsx';

const LABELS = ['intro', 'main', 'breakdown', 'outro'];
const sections = fc.array(fc.integer({ min: 2, max: 90 }), { minLength: 1, maxLength: 8 }).map((lengths) => {
  let at = 0;
  return lengths.map((l, i): Part => ({ label: LABELS[i % LABELS.length]!, from: at, to: (at += l) }));
});

test('a split adds one border and joining takes it away again', () => {
  fc.assert(
    fc.property(sections, fc.double({ min: 0, max: 1, noNaN: true }), (parts, share) => {
      const at = share * parts.at(-1)!.to,
        split = splitAt(parts, at);
      const room = parts.every((p) => Math.abs(p.from - at) >= 0.5 && Math.abs(p.to - at) >= 0.5);
      expect(split !== null).toBe(room);
      if (!split) return;
      const i = split.findIndex((p) => p.from === at);
      expect(split[i - 1]).toMatchObject({ to: at, label: split[i]!.label });
      expect(joined(split, i)).toEqual(parts);
    }),
  );
});

test('sections cover the track whichever is joined', () => {
  fc.assert(
    fc.property(sections, fc.nat(), (parts, n) => {
      if (parts.length < 2) return;
      const left = joined(parts, n % parts.length);
      expect(left).toHaveLength(parts.length - 1);
      expect(left[0]!.from).toBe(0);
      expect(left.at(-1)!.to).toBe(parts.at(-1)!.to);
      left.slice(1).forEach((p, i) => expect(p.from).toBe(left[i]!.to));
    }),
  );
});
