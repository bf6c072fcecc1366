import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cut } from './cut.ts';
import { sortText } from './fold.ts';

describe('cutting texts', () => {
  test('never inside a character, never longer than asked, never shorter than it must be', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.nat(40), (text, length) => {
        const short = cut(text, length);
        expect(short.isWellFormed()).toBe(text.isWellFormed());
        expect(text.startsWith(short)).toBe(true);
        expect(short.length).toBeLessThanOrEqual(length);
        expect(short.length).toBeGreaterThanOrEqual(Math.min(text.length, length) - 1);
      }),
    );
  });
  test('an emoji across the end of what is sorted by', () => {
    const title = `${'a'.repeat(79)}\u{1f30a} and more`;
    expect(sortText(title).isWellFormed()).toBe(true);
    expect(sortText(`${'1'.repeat(159)}\u{1f30a}`).isWellFormed()).toBe(true);
  });
});
