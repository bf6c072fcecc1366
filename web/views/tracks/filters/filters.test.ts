import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { allOf, matches } from '@early-set/core/conditions/condition';
import type { TrackValues } from '@early-set/core/fields/values';
import { filtersFrom } from './filtersFrom.ts';
import { chipsOf, conditionsOf, NO_FILTERS, readFilters, signaturesOf, writeFilters, type Filters } from './filters.ts';

const range = fc.tuple(fc.nat(300), fc.nat(300)).map(([a, b]) => ({ low: Math.min(a, b), high: Math.max(a, b) }));
const filters: fc.Arbitrary<Filters> = fc.record({
  find: fc.string({ maxLength: 20 }),
  findIn: fc.constantFrom(null, 'title', 'comment', 'lyrics'),
  ranges: fc.record({ tempo: range, energy: range, year: range, length: range }, { requiredKeys: [] }),
  key: fc.option(fc.record({ signature: fc.integer({ min: -5, max: 6 }), reach: fc.nat(6) })),
  lists: fc.record(
    {
      genre: fc.uniqueArray(fc.string({ unit: 'grapheme', maxLength: 8 }), { minLength: 1, maxLength: 3 }),
      artist: fc.uniqueArray(fc.string(), { minLength: 1, maxLength: 2 }),
      format: fc.uniqueArray(fc.constantFrom('MP3', 'WAV'), { minLength: 1 }),
      rating: fc.uniqueArray(fc.constantFrom('1', '5', ''), { minLength: 1 }),
      hearLater: fc.constant(['yes']),
      comment: fc.uniqueArray(fc.constantFrom('yes', ''), { minLength: 1 }),
    },
    { requiredKeys: [] },
  ),
  folder: fc.option(fc.record({ rootId: fc.integer({ min: 1, max: 99 }), path: fc.string({ maxLength: 12 }) })),
  needs: fc.uniqueArray(fc.constantFrom('gaps', 'missing', 'failed')),
  also: fc.option(
    fc.record({
      label: fc.string({ maxLength: 10 }),
      where: fc.constant({ field: 'path', test: 'begins' as const, text: 'A/' }),
    }),
  ),
});

describe('filters in the address', () => {
  test('come back as they went in, and leave other parameters alone', () => {
    fc.assert(
      fc.property(filters, (f) => {
        const written = writeFilters(f, new URLSearchParams('fit=7&sort=bpm:asc&genre=Old'));
        expect(readFilters(new URLSearchParams(written.toString()))).toEqual(f);
        expect(written.get('fit')).toBe('7');
      }),
    );
  });
  test('nonsense is passed over', () => {
    expect(readFilters(new URLSearchParams('tempo=x-y&energy=90-10&key=99~1&needs=nothing'))).toEqual(NO_FILTERS);
  });
  test('taking off all chips one after the other leaves nothing', () => {
    fc.assert(
      fc.property(filters, (f) => {
        let now = f;
        for (let n = 0; chipsOf(now).length > 0 && n < 20; n++) now = chipsOf(now)[0]!.without(now);
        expect(Object.keys(conditionsOf(now))).toEqual([]);
      }),
    );
  });
});

test('key filters go round the circle', () => {
  expect(signaturesOf({ signature: 6, reach: 1 })).toEqual([5, 6, -5]);
  const { key } = conditionsOf({ ...NO_FILTERS, key: { signature: -3, reach: 1 } });
  expect(['C minor', 'Eb major', 'F minor', 'G minor'].every((k) => matches(key!, { key: k }))).toBe(true);
  expect(matches(key!, { key: 'A minor' })).toBe(false);
});

test('a comment, stars and what is to be heard later', () => {
  const meets = (lists: Filters['lists'], track: TrackValues): boolean =>
    matches(allOf(...Object.values(conditionsOf({ ...NO_FILTERS, lists }))), track);
  expect(meets({ comment: ['yes'] }, { comment: 'foyer' })).toBe(true);
  expect(meets({ comment: ['yes'] }, { comment: '' })).toBe(false);
  expect(meets({ comment: ['yes', ''] }, { comment: null })).toBe(true);
  expect(meets({ rating: ['4', '5'] }, { rating: 5 })).toBe(true);
  expect(meets({ rating: ['4', '5'] }, { rating: null })).toBe(false);
  expect(meets({ hearLater: ['yes'] }, { hearLater: true })).toBe(true);
  expect(meets({ hearLater: ['yes'] }, { hearLater: null })).toBe(false);
  expect(chipsOf({ ...NO_FILTERS, lists: { rating: ['5', '4'], comment: [''] } }).map((c) => c.label)).toEqual([
    '5 stars or 4 stars',
    'No comment',
  ]);
});

test('"none" in a list asks for empty values', () => {
  const { genre } = conditionsOf({ ...NO_FILTERS, lists: { genre: ['House', ''] } });
  expect(matches(genre!, { genre: null })).toBe(true);
  expect(matches(genre!, { genre: ['House', 'Dub'] })).toBe(true);
  expect(matches(genre!, { genre: ['Dub'] })).toBe(false);
});

test('a condition made of filters becomes these filters again; what they cannot say stays with its words', () => {
  const known = { list: () => 'Skerry', root: () => 'Music', date: () => 'Boathouse' };
  const wished = filters.map((f) => ({ ...f, needs: [], also: null }));
  fc.assert(
    fc.property(wished, (f) => {
      const told = readFilters(writeFilters(f, new URLSearchParams()));
      const back = filtersFrom(allOf(...Object.values(conditionsOf(told))), known);
      expect(allOf(...Object.values(conditionsOf(back)))).toEqual(allOf(...Object.values(conditionsOf(told))));
    }),
  );
  const odd = filtersFrom({ all: [{ inLists: ['a'] }, { field: 'bpm', test: 'between', low: 118, high: 126 }] }, known);
  expect([odd.ranges.tempo, odd.also?.label]).toEqual([{ low: 118, high: 126 }, 'in Skerry']);
});
