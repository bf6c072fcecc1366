import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fold, searchWords, sortText } from './fold.ts';
import { ALL_KEYS, fifthsApart, keyParts, parseKey, shortKey, signatureLabel, signatureOf } from './keys.ts';
import { merge } from './merge.ts';
import { FIELDS } from './table.ts';
import { cleanText } from './text.ts';
import { checkValue, splitList, type Held } from './values.ts';

describe('keys', () => {
  test.each([
    ['F#m', 'F# minor'],
    ['Gb minor', 'F# minor'],
    ['B♭', 'Bb major'],
    ['C♯ min', 'C# minor'],
    ['Amaj', 'A major'],
    ['a-moll', 'A minor'],
    ['Es dur', 'Eb major'],
    ['D', 'D major'],
    ['dm', 'D minor'],
    ['Abm', 'G# minor'],
  ])('%s is %s', (text, key) => {
    expect(parseKey(text)).toBe(key);
  });
  test.each(['', 'H#x', '120', 'minor', 'Q major', 'A minor 7', '🎹'])('%s is none', (text) => {
    expect(parseKey(text)).toBeNull();
  });
  test('all 24 are there once, and each survives being shown and read again', () => {
    expect(new Set(ALL_KEYS).size).toBe(24);
    for (const key of ALL_KEYS) {
      expect(parseKey(shortKey(key))).toBe(key);
      expect(parseKey(key)).toBe(key);
    }
  });
  test('signatures: relatives share theirs, steps go round the circle', () => {
    expect(signatureOf('C major')).toBe(0);
    expect(signatureLabel('F minor')).toBe('4♭');
    expect(signatureLabel('B minor')).toBe('2♯');
    expect(fifthsApart('A minor', 'C major')).toBe(0);
    expect(fifthsApart('C major', 'G major')).toBe(1);
    expect(fifthsApart('Db major', 'F# major')).toBe(1);
  });
  test('distance is symmetric and at most six', () => {
    fc.assert(
      fc.property(fc.constantFrom(...ALL_KEYS), fc.constantFrom(...ALL_KEYS), (a, b) => {
        expect(fifthsApart(a, b)).toBe(fifthsApart(b, a));
        expect(fifthsApart(a, b)).toBeLessThanOrEqual(6);
        expect(keyParts(a)).not.toBeNull();
      }),
    );
  });
});

describe('typed values', () => {
  test('are read for their field, or refused with a sentence', () => {
    expect(checkValue('bpm', '121,5')).toEqual({ ok: true, value: 121.5 });
    expect(checkValue('year', '1998')).toEqual({ ok: true, value: 1998 });
    expect(checkValue('year', '19.5')).toMatchObject({ ok: false });
    expect(checkValue('bpm', 900)).toEqual({ ok: false, reason: 'BPM lies between 20 and 400' });
    expect(checkValue('artist', 'Brine Choir; Vesna Rook ;')).toEqual({
      ok: true,
      value: ['Brine Choir', 'Vesna Rook'],
    });
    expect(checkValue('key', 'e♭ maj')).toEqual({ ok: true, value: 'Eb major' });
    expect(checkValue('hearLater', 'yes')).toMatchObject({ ok: false });
    expect(checkValue('title', 'x'.repeat(20_001))).toMatchObject({ ok: false });
  });
  test('empty means empty for every field', () => {
    for (const field of FIELDS) expect(checkValue(field.id, '')).toEqual({ ok: true, value: null });
  });
  test('no text keeps what a database cannot hold', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => {
        const clean = cleanText(text);
        expect(clean).not.toMatch(/\u0000/);
        expect(clean.isWellFormed()).toBe(true);
        expect(cleanText(clean)).toBe(clean);
        expect(splitList(text).every((part) => part && !part.includes(';'))).toBe(true);
      }),
    );
  });
});

describe('folding', () => {
  test('accents and case do not count', () => {
    expect(fold('Corazón de SAL')).toBe('corazon de sal');
    expect(fold('Straße, Smørrebrød, Łódź')).toBe('strasse, smorrebrod, lodz');
    expect(searchWords('  Niña   DEL  niña ')).toEqual(['nina', 'del']);
  });
  test.each([
    ['"Late  Night" dub', ['late night', 'dub']],
    ['“Corazón de sal”', ['corazon de sal']],
    ['tide "not closed ye', ['tide', 'not closed ye']],
    ['12" mix', ['12"', 'mix']],
    ['"the 12" mix" x', ['the 12', 'mix"', 'x']],
    ['"" " "', []],
  ])('what stands in quotes is one: %s', (text, words) => {
    expect(searchWords(text)).toEqual(words);
  });
  test('numbers sort by size', () => {
    expect(['10 boats', '9 boats', '“Alpha”'].sort((a, b) => (sortText(a) < sortText(b) ? -1 : 1))).toEqual([
      '9 boats',
      '10 boats',
      '“Alpha”',
    ]);
  });
  test('folding twice changes nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (t) => {
        expect(fold(fold(t))).toBe(fold(t));
      }),
    );
  });
});

describe('merging', () => {
  const at = '2026-01-01T00:00:00Z';
  const held = (value: Held['value'], origin: Held['origin'], locked = false): Held => ({ value, origin, at, locked });
  test('measuring replaces what tags said, never what a person said', () => {
    expect(merge(held(120, 'file tag'), { value: 121.5, origin: 'analysis', at }, 'by trust')?.value).toBe(121.5);
    expect(merge(held(120, 'typed'), { value: 121.5, origin: 'analysis', at }, 'by trust')?.value).toBe(120);
  });
  test('a lock holds against everything', () => {
    for (const policy of ['fill gaps', 'by trust', 'keep', 'replace'] as const)
      expect(merge(held('a', 'file tag', true), { value: 'b', origin: 'typed', at }, policy)?.value).toBe('a');
    expect(merge(held(null, 'typed', true), { value: 'b', origin: 'analysis', at }, 'fill gaps')?.value).toBeNull();
  });
  test('gaps are filled, and nothing is emptied by an empty value', () => {
    expect(merge(undefined, { value: 'b', origin: 'file tag', at }, 'fill gaps')?.value).toBe('b');
    expect(merge(held('a', 'file tag'), { value: null, origin: 'analysis', at }, 'by trust')?.value).toBe('a');
    expect(merge(undefined, { value: 'b', origin: 'catalogue', at }, 'keep')).toBeUndefined();
    expect(merge(undefined, { value: null, origin: 'file tag', at }, 'replace')).toBeUndefined();
  });
  test('an equal value keeps its history', () => {
    const before = held(['x'], 'file tag');
    expect(merge(before, { value: ['x'], origin: 'analysis', at }, 'replace')).toBe(before);
  });
});

test('the table of fields has no id or column twice', () => {
  expect(new Set(FIELDS.map((f) => f.id)).size).toBe(FIELDS.length);
  expect(new Set(FIELDS.map((f) => f.column)).size).toBe(FIELDS.length);
});
