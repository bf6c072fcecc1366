import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Mark } from '../fields/marks.ts';
import { canKeepBoth, mergeMarks, sameMarks, type MarkChoice } from './marks.ts';

const NAMES = ['in', 'drop', 'out'];
/** What a side does with a mark of before: nothing, another name, another place, away. */
const edit = fc.constantFrom('keep', 'keep', 'rename', 'move', 'remove');
const side = fc.record({
  edits: fc.array(edit, { minLength: 4, maxLength: 4 }),
  /** Where to, or which name; two sides may choose the same. */
  picks: fc.array(fc.integer({ min: 1, max: 2 }), { minLength: 4, maxLength: 4 }),
  added: fc.uniqueArray(fc.integer({ min: 50, max: 53 }), { maxLength: 2 }),
  addedName: fc.constantFrom('a', 'b'),
});
const BASE: Mark[] = NAMES.map((name, i) => ({ at: i * 10, name })).concat({ at: 30, name: 'end' });

const edited = ({
  edits,
  picks,
  added,
  addedName,
}: {
  edits: string[];
  picks: number[];
  added: number[];
  addedName: string;
}): Mark[] =>
  [
    ...BASE.flatMap((mark, i): Mark[] => {
      if (edits[i] === 'remove') return [];
      if (edits[i] === 'rename') return [{ ...mark, name: `${mark.name} ${picks[i]}` }];
      return [edits[i] === 'move' ? { ...mark, at: mark.at + picks[i]! } : mark];
    }),
    ...added.map((at) => ({ at, name: addedName })),
  ].sort((a, b) => a.at - b.at);

const has = (marks: readonly Mark[], mark: Mark): boolean => marks.some((m) => sameMarks([m], [mark]));

test('nothing that either side has set is lost; the same whichever goes first; still after a second time', () => {
  fc.assert(
    fc.property(side, side, (one, other) => {
      const [here, there] = [edited(one), edited(other)];
      const merged = mergeMarks(BASE, here, there);
      for (const mark of here) if (!has(BASE, mark)) expect(has(merged.here, mark)).toBe(true);
      for (const mark of there) if (!has(BASE, mark)) expect(has(merged.there, mark)).toBe(true);
      const turned = mergeMarks(BASE, there, here);
      expect(turned.clashes.map((c) => c.key)).toEqual(merged.clashes.map((c) => c.key));
      expect([turned.there, turned.here]).toEqual([merged.here, merged.there]);
      const again = mergeMarks(merged.past, merged.here, merged.there);
      expect([again.here, again.there]).toEqual([merged.here, merged.there]);
      expect(again.clashes.map((c) => c.key)).toEqual(merged.clashes.map((c) => c.key));
      if (merged.clashes.length === 0) expect(merged.here).toEqual(merged.there);
    }),
    { numRuns: 1000 },
  );
});

test('what is chosen for each is so on both sides, and nothing is left to ask', () => {
  fc.assert(
    fc.property(
      side,
      side,
      fc.array(fc.constantFrom<MarkChoice>('here', 'there', 'both'), { minLength: 9, maxLength: 9 }),
      (one, other, choices) => {
        const [here, there] = [edited(one), edited(other)];
        let asked = 0;
        const merged = mergeMarks(BASE, here, there, (clash) => {
          const choice = choices[asked++ % choices.length]!;
          return choice === 'both' && !canKeepBoth(clash) ? 'here' : choice;
        });
        expect(merged.here).toEqual(merged.there);
        expect(merged.past).toEqual(merged.here);
        expect(asked).toBe(merged.clashes.length);
        for (const [i, { here: mine, there: theirs }] of merged.clashes.entries()) {
          const choice = choices[i % choices.length];
          if (choice === 'there' && theirs) expect(has(merged.here, theirs)).toBe(true);
          if (choice === 'here' && mine) expect(has(merged.there, mine)).toBe(true);
        }
        expect(mergeMarks(merged.past, merged.here, merged.there).clashes).toEqual([]);
      },
    ),
    { numRuns: 1000 },
  );
});

test('of any marks nothing that a side has set is lost, and it is still after a second time', () => {
  const one = fc.record(
    { at: fc.integer({ min: 0, max: 8 }), name: fc.constantFrom('a', 'b'), end: fc.integer({ min: 10, max: 11 }) },
    { requiredKeys: ['at'] },
  );
  const some = fc
    .uniqueArray(one, { maxLength: 5, selector: (m) => `${m.at} ${m.end === undefined}` })
    .map((marks) => marks.sort((a, b) => a.at - b.at || (a.end ?? 0) - (b.end ?? 0)) as Mark[]);
  fc.assert(
    fc.property(some, some, some, (base, here, there) => {
      const merged = mergeMarks(base, here, there);
      for (const mark of here) if (!has(base, mark)) expect(has(merged.here, mark)).toBe(true);
      for (const mark of there) if (!has(base, mark)) expect(has(merged.there, mark)).toBe(true);
      const again = mergeMarks(merged.past, merged.here, merged.there);
      expect([again.here, again.there]).toEqual([merged.here, merged.there]);
      if (merged.clashes.length === 0) expect(merged.here).toEqual(merged.there);
    }),
    { numRuns: 2000 },
  );
});
