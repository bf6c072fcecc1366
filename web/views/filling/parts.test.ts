import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { matches, type Condition } from '@early-set/core/conditions/condition';
import { conditionWords, ruleWords } from '@early-set/core/conditions/words';
import { isWhole, leafOf, newRow, SUBJECTS, testsFor, toCondition, toGroup } from './parts.ts';

const leaf = fc.constantFrom<Condition>(
  { field: 'genre', test: 'one of', values: ['House'] },
  { field: 'bpm', test: 'between', low: 118, high: 126 },
  { field: 'bpm', test: 'tempo', low: 60, high: 64 },
  { field: 'key', test: 'near key', key: 'A minor', reach: 1 },
  { field: 'comment', test: 'empty' },
  { test: 'words', text: 'tide' },
  { field: 'hearLater', test: 'is', value: true },
  { inLists: ['a'] },
);
const tree = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    leaf,
    fc.record({ all: fc.array(tie('node'), { minLength: 1, maxLength: 3 }) }),
    fc.record({ any: fc.array(tie('node'), { minLength: 1, maxLength: 3 }) }),
    fc.record({ not: tie('node') }),
  ),
})).node;
const track = fc.record({
  genre: fc.constantFrom<string[] | null>(null, ['House'], ['Dub']),
  bpm: fc.constantFrom(null, 62, 120, 124),
  key: fc.constantFrom(null, 'C major', 'E minor', 'F♯ major'),
  comment: fc.constantFrom(null, 'tide'),
  hearLater: fc.constantFrom(null, true),
  listIds: fc.constantFrom<string[]>([], ['a']),
});

test('a condition taken apart and put together again is met by the same tracks', () => {
  fc.assert(
    fc.property(tree, track, (condition, values) => {
      const again = toCondition(toGroup(condition));
      expect(again && matches(again, values)).toBe(matches(condition, values));
    }),
    { numRuns: 500 },
  );
});

test('every field has tests, and each begins as something that says so in words', () => {
  for (const { id } of SUBJECTS)
    for (const name of testsFor(id)) {
      const begun = leafOf(id, name);
      expect(conditionWords(begun, { list: () => 'x', root: () => 'x', date: () => 'x' })).not.toBe('');
    }
  expect(isWhole(newRow())).toBe(false);
  expect(toCondition({ mode: 'all', parts: [newRow()] })).toBeNull();
});

test('rules are read as sentences', () => {
  const known = {
    list: (id: string) => (id === 'a' ? 'Skerry' : undefined),
    root: () => 'Music',
    date: (id: number) => (id === 3 ? 'Boathouse, 12 Dec 2026' : undefined),
  };
  const words = (where: Condition): string => ruleWords({ where }, known);
  expect(
    words({
      all: [
        { field: 'genre', test: 'one of', values: ['House', 'Dub'] },
        { field: 'bpm', test: 'between', low: 118 },
      ],
    }),
  ).toBe('Genre House or Dub and BPM at least 118');
  expect(words({ not: { inLists: ['a', 'b'] } })).toBe('Not in Skerry or a removed list');
  expect(
    words({
      any: [
        {
          all: [
            { field: 'addedAt', test: 'in the last', days: 30 },
            { field: 'comment', test: 'empty' },
          ],
        },
        { test: 'words', text: 'tide' },
      ],
    }),
  ).toBe('(Added in the last 30 days and Comment empty) or any text contains “tide”');
  expect(ruleWords({ where: { all: [] }, limit: { count: 50, by: 'addedAt', descending: true } }, known)).toBe(
    'All tracks; the first 50 by Added, highest first',
  );
  expect(words({ inFolder: { rootId: 1, path: 'Rips' }, below: true })).toBe('In Music / Rips and below');
  expect(words({ field: 'durationSeconds', test: 'between', high: 240 })).toBe('Length at most 4:00');
});
