import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { readStick } from './stick.ts';

let made: string, home: string;
const ffmpeg = (...args: string[]): void => void execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
beforeAll(() => {
  made = mkdtempSync(join(tmpdir(), 'oystercatcher-made-'));
  const tone = ['-f', 'lavfi', '-i', 'sine=duration=0.3'];
  const tags = ['-metadata', 'title=Lamp Róom', '-metadata', 'artist=Vesna Rook'];
  for (const name of ['3.mp3', '4.mp3'])
    ffmpeg(...tone, ...tags, '-id3v2_version', name[0]!, join(made, name.replace(/./, 'v$&')));
  ffmpeg(...tone, ...tags, join(made, 'a.m4a'));
  ffmpeg(...tone, '-c:a', 'alac', join(made, 'alac.m4a'));
  ffmpeg(...tone, join(made, 'a.flac'));
  for (const [name, size] of [
    ['cover.jpg', 500],
    ['large.jpg', 600],
  ] as const)
    ffmpeg('-f', 'lavfi', '-i', `color=red:size=${size}x${size}`, '-frames:v', '1', join(made, name));
});
afterAll(() => rmSync(made, { recursive: true, force: true }));
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'oystercatcher-'));
});
afterEach(() => rmSync(home, { recursive: true, force: true }));
const put = (what: string, as: string): void => {
  mkdirSync(dirname(join(home, as)), { recursive: true });
  copyFileSync(join(made, what), join(home, as));
};

test('files in the order of their names with what their tags say, and the picture of their folder', () => {
  put('v4.mp3', 'Slipway/10 last.mp3');
  put('v3.mp3', 'Slipway/02 Second.mp3');
  put('a.m4a', 'Slipway/01 first.m4a');
  put('cover.jpg', 'Slipway/folder.jpg');
  put('v3.mp3', 'Slipway/.hidden.mp3');
  writeFileSync(join(home, 'readme.txt'), 'of somebody else');
  const text = 'Vesna Rook - Lamp Róom';
  expect(readStick(home)).toEqual({
    folders: [
      {
        folder: 'Slipway',
        shows: ['01 first.m4a', '02 Second.mp3', '10 last.mp3'].map((name) => ({ file: `Slipway/${name}`, text })),
        picture: true,
      },
    ],
    lists: [],
    refused: [],
  });
});

test('a list shows its lines where it has some, else tags; it is found whatever the case', () => {
  put('v3.mp3', 'Music/a.mp3');
  put('a.m4a', 'Music/b.m4a');
  writeFileSync(
    join(home, 'Set.m3u8'),
    '#EXTM3U\r\n#EXTINF:3,The line\r\nmusic/A.mp3\r\nMusic/b.m4a\r\nMusic/c.mp3\r\n',
  );
  const { lists, refused } = readStick(home);
  expect(lists).toEqual([
    {
      file: 'Set.m3u8',
      entries: [
        { file: 'Music/a.mp3', text: 'The line' },
        { file: 'Music/b.m4a', text: 'Vesna Rook - Lamp Róom' },
      ],
    },
  ]);
  expect(refused).toEqual(['Set.m3u8: Music/c.mp3 is not there']);
});

test.each<[string, string, string]>([
  ['its format is not played', 'a.flac', 'a.flac'],
  ['it holds no AAC', 'alac.m4a', 'a.m4a'],
  ['it holds no MPEG audio', 'a.flac', 'a.mp3'],
  ['it is no MP4 file', 'v3.mp3', 'a.m4a'],
  ['its name has 65 characters', 'v3.mp3', `${'é'.repeat(61)}.mp3`],
  ['its name cannot be on such a stick', 'v3.mp3', 'what?.mp3'],
  ['it has 600 × 600 pixels', 'large.jpg', 'folder.jpg'],
  ['it is no JPEG', 'v3.mp3', 'folder.jpg'],
])('refused: %s', (why, what, as) => {
  put(what, as);
  expect(readStick(home)).toMatchObject({ folders: [], refused: [`${as}: ${why}`] });
});

test('of a folder the first 255 files, and one of two names that differ in case alone', () => {
  put('v3.mp3', 'x/000.mp3');
  for (let i = 1; i < 257; i++) put('v3.mp3', `x/${String(i).padStart(3, '0')}.mp3`);
  put('v3.mp3', 'y/A.mp3');
  put('v3.mp3', 'y/B.mp3');
  renameSync(join(home, 'y/B.mp3'), join(home, 'y/a.mp3'));
  const { folders, refused } = readStick(home);
  expect(folders.map((f) => f.shows.length)).toEqual([255, 1]);
  expect(refused.slice(0, 2)).toEqual([255, 256].map((n) => `x/${n}.mp3: it is behind the 255th file`));
  expect(refused[2]).toMatch(/^y\/[aA]\.mp3: [aA]\.mp3 has the same name$/);
});
