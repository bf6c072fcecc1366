import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { folderOf, named, nameOf } from '../files/paths.ts';
import { renameFiles } from './files.ts';
import { inverseOf, type MoveFile } from './items.ts';

/** What lies where, after moves that each need their place free. */
function moved(files: Map<string, number>, moves: readonly MoveFile[]): Map<string, number> {
  const now = new Map(files);
  for (const { trackId, before, after } of moves) {
    if (now.get(before) !== trackId || now.has(after)) continue;
    now.delete(before);
    now.set(after, trackId);
  }
  return now;
}

test('a path is its folder, its name and its ending', () => {
  expect([folderOf('A/b c/d.e.mp3'), nameOf('A/b c/d.e.mp3'), named('A/b c/d.e.mp3', 'x')]).toEqual([
    'A/b c/',
    'd.e',
    'A/b c/x.mp3',
  ]);
  expect([nameOf('.hidden'), nameOf('No. 5 in the row'), nameOf('x.'), named('plain', 'y')]).toEqual([
    '.hidden',
    'No. 5 in the row',
    'x.',
    'y',
  ]);
  fc.assert(
    fc.property(
      fc.string({ minLength: 1 }).filter((s) => !s.endsWith('/')),
      (path) => expect(named(path, nameOf(path))).toBe(path),
    ),
  );
});

describe('other names', () => {
  const wish = (trackId: number, path: string, after: string, before = nameOf(path)) => ({
    trackId,
    path,
    before,
    after,
  });
  test('keep folder and ending; the same name is no move', () => {
    expect(renameFiles([wish(1, 'In/a.flac', 'b'), wish(2, 'In/c.flac', 'c')])).toEqual([
      { kind: 'move-file', trackId: 1, before: 'In/a.flac', after: 'In/b.flac' },
    ]);
  });
  test('what the draft has not seen is a conflict later: before stays as it was seen', () => {
    expect(renameFiles([wish(1, 'In/now.mp3', 'new', 'seen')])).toMatchObject([
      { before: 'In/seen.mp3', after: 'In/new.mp3' },
    ]);
  });
  test('a name that another gives up is taken after it', () => {
    const files = new Map([
      ['1.mp3', 1],
      ['2.mp3', 2],
      ['3.mp3', 3],
    ]);
    const moves = renameFiles([wish(1, '1.mp3', '2'), wish(2, '2.mp3', '3'), wish(3, '3.mp3', '4')]);
    expect(moved(files, moves)).toEqual(
      new Map([
        ['4.mp3', 3],
        ['3.mp3', 2],
        ['2.mp3', 1],
      ]),
    );
  });
  test('whatever was moved, the inverse brings back', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 12 }), { minLength: 1, maxLength: 8 }), (targets) => {
        const files = new Map(targets.map((_, i) => [`f/${i}.mp3`, i]));
        const moves = renameFiles(targets.map((to, i) => wish(i, `f/${i}.mp3`, String(to))));
        let now = files;
        const done = moves.filter((m) => {
          const next = moved(now, [m]),
            made = next.get(m.after) === m.trackId;
          now = next;
          return made;
        });
        expect(now.size).toBe(files.size);
        expect(moved(now, inverseOf(done) as MoveFile[])).toEqual(files);
      }),
    );
  });
});
