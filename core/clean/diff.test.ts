import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { differences } from './diff.ts';

const side = (before: string, after: string, without: 'gone' | 'new'): string =>
  differences(before, after)
    .filter((p) => p.kind !== without)
    .map((p) => p.text)
    .join('');

describe('differences', () => {
  test('both texts can be read from the pieces', () => {
    const text = fc
      .array(fc.constantFrom('Low', 'Tide', ' ', '  ', '-', '(', ')', 'Dub', 'é', '日本', '_'), { maxLength: 30 })
      .map((parts) => parts.join(''));
    fc.assert(
      fc.property(text, text, (a, b) => {
        expect(side(a, b, 'new')).toBe(a);
        expect(side(a, b, 'gone')).toBe(b);
        expect(differences(a, a).every((p) => p.kind === 'same')).toBe(true);
      }),
    );
  });
  test('what goes is marked as one piece, what stays is not', () => {
    expect(differences('07. Dry Dock', 'Dry Dock')).toEqual([
      { text: '07. ', kind: 'gone' },
      { text: 'Dry Dock', kind: 'same' },
    ]);
    expect(differences('MARROW & PINE', 'Marrow & Pine').map((p) => p.kind)).toEqual([
      'gone',
      'new',
      'same',
      'gone',
      'new',
    ]);
    expect(differences('', 'Dub')).toEqual([{ text: 'Dub', kind: 'new' }]);
  });
  test('very long texts end soon', () => {
    const pieces = differences('a b '.repeat(4000), 'c d '.repeat(4000));
    expect(pieces.map((p) => p.kind)).toEqual(['gone', 'new', 'same']);
  });
});
