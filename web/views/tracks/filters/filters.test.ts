import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { matches } from '@early-set/core/conditions/condition';
import { chipsOf, conditionsOf, NO_FILTERS, readFilters, signaturesOf, writeFilters, type Filters } from './filters.ts';
import {
  chooseAll,
  chooseOne,
  chooseRange,
  chosenCount,
  isChosen,
  NOTHING,
  toggleOne,
  toSelection,
} from '../sheet/selection.ts';
import { sheetKeys, type SheetActions } from '../sheet/sheetKeys.ts';

const range = fc.tuple(fc.nat(300), fc.nat(300)).map(([a, b]) => ({ low: Math.min(a, b), high: Math.max(a, b) }));
const filters: fc.Arbitrary<Filters> = fc.record({
  find: fc.string({ maxLength: 20 }),
  ranges: fc.record({ tempo: range, energy: range, year: range, length: range }, { requiredKeys: [] }),
  key: fc.option(fc.record({ signature: fc.integer({ min: -5, max: 6 }), reach: fc.nat(6) })),
  lists: fc.record(
    {
      genre: fc.uniqueArray(fc.string({ unit: 'grapheme', maxLength: 8 }), { minLength: 1, maxLength: 3 }),
      artist: fc.uniqueArray(fc.string(), { minLength: 1, maxLength: 2 }),
      format: fc.uniqueArray(fc.constantFrom('MP3', 'WAV'), { minLength: 1 }),
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
        for (let n = 0; chipsOf(now).length > 0 && n < 20; n++) now = chipsOf(now)[0]!.without;
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

test('"none" in a list asks for empty values', () => {
  const { genre } = conditionsOf({ ...NO_FILTERS, lists: { genre: ['House', ''] } });
  expect(matches(genre!, { genre: null })).toBe(true);
  expect(matches(genre!, { genre: ['House', 'Dub'] })).toBe(true);
  expect(matches(genre!, { genre: ['Dub'] })).toBe(false);
});

describe('choosing rows', () => {
  test('everything but a few, counted and sent as such', () => {
    const all = toggleOne(chooseAll(NOTHING), 5, 0);
    expect(chosenCount(all, 100_000)).toBe(99_999);
    expect([isChosen(all, 5), isChosen(all, 6)]).toEqual([false, true]);
    expect(toSelection(all, { all: [] })).toEqual({ where: { all: [] }, except: [5] });
  });
  test('one, more with Ctrl, a range with Shift', () => {
    const one = chooseOne(3, 10);
    expect(chosenCount(toggleOne(one, 4, 11), 50)).toBe(2);
    expect(chosenCount(toggleOne(one, 3, 10), 50)).toBe(0);
    expect(chooseRange(one, [3, 4, 5], 10, 12)).toMatchObject({ anchor: 10, focus: 12, all: false });
  });
});

describe('keys in the sheet', () => {
  const press = (key: string, over: Partial<SheetActions> = {}, modifiers: object = {}): string[] => {
    const calls: string[] = [];
    const note =
      (name: string) =>
      (...args: unknown[]): void => {
        calls.push([name, ...args].join(' '));
      };
    const actions = {
      total: 10,
      focus: 3,
      pageRows: 5,
      chooseAt: note('at'),
      audition: note('audition'),
      add: note('add'),
      hearLater: note('later'),
      open: note('open'),
      edit: note('edit'),
      all: note('all'),
      none: note('none'),
      fit: note('fit'),
      listen: note('listen'),
      ...over,
    };
    sheetKeys(actions)({
      key,
      preventDefault: () => undefined,
      stopPropagation: () => undefined,
      shiftKey: false,
      ctrlKey: false,
      metaKey: false,
      altKey: false,
      ...modifiers,
    } as never);
    return calls;
  };
  test.each([
    ['ArrowDown', {}, 'at 4 one'],
    ['ArrowUp', { shiftKey: true }, 'at 2 range'],
    ['End', {}, 'at 9 one'],
    ['PageDown', {}, 'at 8 one'],
    ['a', {}, 'add'],
    ['a', { ctrlKey: true }, 'all'],
    [' ', {}, 'audition'],
    ['F', {}, 'fit'],
    ['m', {}, 'listen'],
    ['Escape', {}, 'none'],
  ])('%s %j', (key, modifiers, expected) => {
    expect(press(key, {}, modifiers)).toEqual([expected]);
  });
  test('stay inside, and leave other keys to the page', () => {
    expect(press('ArrowUp', { focus: 0 })).toEqual(['at 0 one']);
    expect(press('ArrowDown', { total: 0, focus: null })).toEqual([]);
    expect(press('z', {}, { ctrlKey: true })).toEqual([]);
  });
});
