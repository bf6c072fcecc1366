import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mapFromExample, mapFromExamples, mapPath, plainPath, tryMap } from './pathMap.ts';

test.each([
  ['D:\\Music\\House\\a.mp3', 'D:/Music/House/a.mp3'],
  ['\\\\nas\\music\\a.mp3', '//nas/music/a.mp3'],
  ['file:///D:/Music/a%20b.mp3', 'D:/Music/a b.mp3'],
  ['file:///Volumes/Music/a%CC%88.mp3', '/Volumes/Music/ä.mp3'.normalize('NFD')],
  ['"/media/old drive/"', '/media/old drive'],
  ['/media//old', '/media/old'],
  ['/', '/'],
])('%s is read as %s', (typed, path) => {
  expect(plainPath(typed)).toBe(path);
});

describe('a map', () => {
  test('is learned from one file that lies elsewhere now: what their paths share at the end is left out', () => {
    expect(mapFromExample('D:\\Musik\\Soul\\Tar Barrel.mp3', '/music/Old drive/Soul/tar barrel.MP3')).toEqual({
      from: 'D:/Musik',
      to: '/music/Old drive',
    });
    expect(mapFromExample('D:/a.mp3', '/music/b.mp3')).toBeNull();
  });
  test('from two, the one that does justice to both', () => {
    const one = ['E:/Music/House/a.mp3', '/music/House/a.mp3'] as const,
      two = ['E:/Music/Soul/House/b.mp3', '/music/Soul/House/b.mp3'] as const;
    expect(mapFromExamples(one, two)).toEqual({ from: 'E:/Music', to: '/music' });
    // The first alone would say too much: its folder has another name now.
    const renamed = ['E:/In/x/a.mp3', '/music/Out/x/a.mp3'] as const;
    expect(mapFromExamples(renamed, one)).toBeNull();
  });
  test('leads from beginnings at borders between folders, whatever their case', () => {
    const map = { from: 'd:/music', to: '/mnt/stick' };
    expect(mapPath('D:\\Music\\House\\a.mp3', map)).toBe('/mnt/stick/House/a.mp3');
    expect(mapPath('D:/Musical/a.mp3', map)).toBeNull();
    expect(mapPath('D:/Music', map)).toBeNull();
  });
  test('is tried out against files that are there', () => {
    const files = ['/mnt/a/Ö.mp3'.normalize('NFD'), '/mnt/b.mp3'];
    expect(tryMap(['C:\\x\\A\\ö.mp3', 'C:\\x\\c.mp3', 'E:\\b.mp3'], { from: 'C:/x', to: '/mnt' }, files)).toEqual([
      0,
      null,
      null,
    ]);
  });
  test('that is learned from a file leads to it', () => {
    const segment = fc.stringMatching(/^[A-Za-z0-9äöü ]*[A-Za-z0-9äöü]$/);
    const folders = fc.array(segment, { minLength: 1, maxLength: 4 });
    fc.assert(
      fc.property(folders, folders, folders, (old, now, tail) => {
        const was = `D:/${[...old, ...tail].join('/')}`,
          is = `/${[...now, ...tail].join('/')}`;
        const map = mapFromExample(was, is);
        if (!map) return expect(tail.at(-1)!.trim()).toBe('');
        expect(mapPath(was, map)!.toLowerCase()).toBe(plainPath(is).toLowerCase());
      }),
    );
  });
});
