/** What comes over from another collection: values, energy and moods out of comments, lists, folders. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Held } from '../fields/values.ts';
import { commonFolder, foldersFor } from './folders.ts';
import { inComment } from './inComment.ts';
import { takenOver, withNew } from './taken.ts';

test.each([
  ['68/100; opener', 68, []],
  ['energy 7, dark', 70, ['dark']],
  ['Energy: 85', 85, []],
  ['7/10 | Warm / Sea fog', 70, ['warm', 'Sea Fog']],
  ['uplifting - for the last hour', null, ['uplifting']],
  ['Dark Matter remix', null, []],
  ['12/10', null, []],
  ['', null, []],
  [null, null, []],
])('%s: energy %s, moods %s', (comment, energy, moods) => {
  expect(inComment(comment, ['Sea Fog'])).toEqual({ energy, moods });
});

const held =
  (values: Record<string, unknown>, locked: readonly string[] = []) =>
  (field: string) =>
    field in values
      ? ({
          value: values[field],
          origin: 'file tag',
          at: '2026-11-29T10:00:00Z',
          locked: locked.includes(field),
        } as Held)
      : null;
const RULE = { over: 'fill gaps', fromComments: true, moods: [] } as const;

describe('values', () => {
  test('gaps are filled, others stay, or are replaced where that is wished; locked ones never change', () => {
    const theirs = { title: 'Theirs', album: 'Slack Water', rating: 4, comment: 'energy 6; dark', year: null };
    const here = held({ title: 'Mine', album: 'Old' }, ['album']);
    expect(takenOver(theirs, here, RULE)).toEqual({
      rating: { before: null, after: 4 },
      comment: { before: null, after: 'energy 6; dark' },
      energy: { before: null, after: 60 },
      moods: { before: null, after: ['dark'] },
    });
    expect(takenOver(theirs, here, { ...RULE, over: 'replace', fromComments: false })).toEqual({
      title: { before: 'Mine', after: 'Theirs' },
      rating: { before: null, after: 4 },
      comment: { before: null, after: 'energy 6; dark' },
    });
  });

  test('a field of its own counts more than what a comment says', () => {
    expect(takenOver({ energy: 30, comment: 'energy 9' }, held({}), RULE).energy).toEqual({ before: null, after: 30 });
  });
});

describe('lists', () => {
  test('what is new comes behind what it follows there', () => {
    expect(withNew([1, 2, 3], [2, 9, 3, 8, 1, 7])).toEqual([1, 7, 2, 9, 3, 8]);
    expect(withNew([], [3, 1, 3])).toEqual([3, 1]);
    expect(withNew([5, 5], [4, 5])).toEqual([4, 5, 5]);
  });

  test('nothing that is here goes or changes its order, all that is there comes, and once more brings nothing', () => {
    const ids = fc.array(fc.nat(8), { maxLength: 12 });
    fc.assert(
      fc.property(ids, ids, (here, there) => {
        const after = withNew(here, there);
        expect(after.filter((id) => here.includes(id))).toEqual(here);
        expect(after).toEqual(expect.arrayContaining(there));
        expect(withNew(after, there)).toEqual(after);
      }),
    );
  });
});

describe('folders', () => {
  test('one that holds all, unless it may not be one', () => {
    const paths = ['/home/odi/Old/a/1.mp3', '/home/odi/Old/b/c/2.mp3', '/home/odi/Rips/3.mp3', '/home/odi/4.mp3'];
    expect(commonFolder(paths)).toBe('/home/odi');
    expect([...foldersFor(paths, ['/home/odi'])]).toEqual([
      ['/home/odi/Old', paths.slice(0, 2)],
      ['/home/odi/Rips', [paths[2]]],
    ]);
    expect([...foldersFor(paths.slice(0, 2), ['/home/odi', '/home/odi/Old/b/lib'])].map(([f]) => f)).toEqual([
      '/home/odi/Old/a',
      '/home/odi/Old/b/c',
    ]);
    expect([...foldersFor(['/x.mp3'], [])]).toEqual([]);
  });

  test('every file is in one folder that holds it, and none holds what may not be', () => {
    const name = fc.constantFrom('a', 'b', 'c');
    const path = fc.array(name, { minLength: 1, maxLength: 4 }).map((parts) => `/${parts.join('/')}`);
    fc.assert(
      fc.property(fc.uniqueArray(path.map((p) => `${p}/x.mp3`)), fc.array(path, { maxLength: 3 }), (paths, never) => {
        const found = foldersFor(paths, never);
        const inside = [...found.values()].flat();
        expect(new Set(inside).size).toBe(inside.length);
        for (const [folder, files] of found) {
          for (const file of files) expect(file.startsWith(`${folder}/`)).toBe(true);
          for (const other of never) expect(`${other}/`.startsWith(`${folder}/`)).toBe(false);
        }
        for (const file of paths) {
          const own = file.slice(0, file.lastIndexOf('/'));
          if (!never.some((n) => `${n}/`.startsWith(`${own}/`))) expect(inside).toContain(file);
        }
      }),
    );
  });
});
