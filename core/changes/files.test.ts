import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { folderOf, named, nameOf } from '../files/paths.ts';
import { renameFiles } from './files.ts';
import { refKey } from '../files/fileRef.ts';
import { inverseOf } from './items.ts';
import { relocateFile, type RelocateFile } from './kinds/relocateFile.ts';

/** What lies where, after moves that each need their place free. */
function moved(files: Map<string, number>, moves: readonly RelocateFile[]): Map<string, number> {
  const now = new Map(files);
  for (const { trackId, before, after } of moves) {
    if (now.get(before!.path) !== trackId || now.has(after.path)) continue;
    now.delete(before!.path);
    now.set(after.path, trackId);
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
    fileId: `file-${trackId}`,
    ref: { rootId: 1, path },
    before,
    after,
  });
  test('keep folder and ending; the same name is no move', () => {
    expect(renameFiles([wish(1, 'In/a.flac', 'b'), wish(2, 'In/c.flac', 'c')])).toEqual([
      relocateFile(
        'move',
        { trackId: 1, fileId: 'file-1' },
        { rootId: 1, path: 'In/a.flac' },
        { rootId: 1, path: 'In/b.flac' },
      ),
    ]);
  });
  test('what the draft has not seen is a conflict later: before stays as it was seen', () => {
    expect(renameFiles([wish(1, 'In/now.mp3', 'new', 'seen')])).toMatchObject([
      { before: { path: 'In/seen.mp3' }, after: { path: 'In/new.mp3' } },
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
  test('files that change places in a ring do so by way of a name that is nobody’s', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([0, 1, 2, 3, 4, 5, 6], { minLength: 2, maxLength: 7 }), (targets) => {
        const sources = [...targets].sort();
        const files = new Map(sources.map((n) => [`f/${n}.mp3`, n]));
        const moves = renameFiles(sources.map((n, i) => wish(n, `f/${n}.mp3`, String(targets[i]))));
        const now = moved(files, moves);
        expect(now).toEqual(new Map(sources.map((n, i) => [`f/${targets[i]}.mp3`, n])));
        expect(moved(now, inverseOf(moves) as RelocateFile[])).toEqual(files);
        for (const m of moves) expect(refKey(m.after)).not.toBe(refKey(m.before!));
      }),
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
            made = next.get(m.after.path) === m.trackId;
          now = next;
          return made;
        });
        expect(now.size).toBe(files.size);
        expect(moved(now, inverseOf(done) as RelocateFile[])).toEqual(files);
      }),
    );
  });
});
