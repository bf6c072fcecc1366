import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { replacement } from './patterns.ts';

const FREE = { matchCase: false, words: false };

describe('patterns', () => {
  test.each([
    ['\\s*\\(feat\\. ([^)]*)\\)', ' with $1', 'Low Cloud (feat. Hal Sorrow)', 'Low Cloud with Hal Sorrow'],
    ['(?<artist>.+) - (?<title>.+)', '$<title> by $<artist>', 'Keel Nine - Wick', 'Wick by Keel Nine'],
    ['^\\d+[. ]+', '', '07. Dry Dock', 'Dry Dock'],
    ['dock', '[$&]', 'DOCK dock', '[DOCK] [dock]'],
    ['(?<=Pt )\\d', '$$', 'Pt 3, Part 3', 'Pt $, Part 3'],
    ['\\p{Lu}', '*', 'Ärger Öl', '*rger *l'],
    ['x*', '-', 'axb', '-a--b-'],
    ['a', '$7', 'a', '$7'],
    ['z(y)?', '<$1>', 'z', '<>'],
    ['😀', ':)', 'a 😀 b', 'a :) b'],
  ])('%s with %s', (source, by, text, out) => {
    const matchCase = source.startsWith('\\p{Lu}');
    expect(replacement(source, by, { ...FREE, matchCase })(text)).toBe(out);
  });
  test('whole words, with letters of all alphabets', () => {
    const words = replacement('mix', 'M', { ...FREE, words: true });
    expect(words('Mix remix mixé mix')).toBe('M remix mixé M');
  });
  test('no pattern hangs', () => {
    const text = `${'a'.repeat(5000)}!`;
    for (const source of ['(a+)+$', '(a|aa)+$', '(.*a){20}$', '(\\w+\\s?)*$'])
      expect(replacement(source, 'b', FREE)(text).length).toBeLessThanOrEqual(text.length + 5001);
  });
  test.each([
    ['a(?=b)', 'looking ahead is not possible'],
    ['(a)\\1', 'referring back'],
    ['(a', 'missing closing )'],
    ['[z-a]', 'range'],
    ['*a', 'repetition'],
  ])('%s is refused with a reason', (source, reason) => {
    expect(() => replacement(source, '', FREE)).toThrow(`The pattern cannot be read: `);
    expect(() => replacement(source, '', FREE)).toThrow(reason);
  });
  test('finds what the platform’s own engine finds', () => {
    const SOURCES = ['a+', '[ab]c', '(a|b)+c?', '\\bb', 'c$', '^a', 'a.c', '[^a]b', '(?:ab)*', 'a{1,2}?'];
    fc.assert(
      fc.property(
        fc.constantFrom(...SOURCES),
        fc.constantFrom('', 'x', '<$&>', '$$'),
        fc.string({ unit: fc.constantFrom('a', 'b', 'c', ' ', 'A'), maxLength: 12 }),
        fc.boolean(),
        (source, by, text, matchCase) => {
          const own = text.replace(new RegExp(source, matchCase ? 'gu' : 'giu'), by);
          expect(replacement(source, by, { matchCase, words: false })(text)).toBe(own);
        },
      ),
      { numRuns: 2000 },
    );
  });
});
