import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { judgeEntries, type PackedFile } from './archiveEntries.ts';

const packed = (name: string, more: Partial<PackedFile> = {}): PackedFile => ({
  name,
  size: 5_000_000,
  packedSize: 4_900_000,
  encrypted: false,
  special: false,
  readable: true,
  ...more,
});
const why = (file: PackedFile): string | null => judgeEntries([file]).entries[0]!.why;

test.each<[string, Partial<PackedFile>, RegExp]>([
  ['../../etc/passwd.mp3', {}, /leads out/],
  ['/tmp/a.mp3', {}, /leads out/],
  ['C:\\Music\\a.mp3', {}, /leads out/],
  ['a\\..\\..\\b.mp3', {}, /leads out/],
  ['a.mp3', { encrypted: true }, /password/],
  ['a.mp3', { special: true }, /link/],
  ['a.mp3', { readable: false }, /packed in a way/i],
  ['a.mp3', { size: 0 }, /zero bytes/],
  ['a.wav', { size: 900_000_000, packedSize: 900_000 }, /far more/],
  ['read me.txt', {}, /Text, not music/],
  ['inner.zip', {}, /archive/],
  ['a.cdg', {}, /whose music/],
])('%s is left in the archive', (name, more, reason) => {
  expect(why(packed(name, more))).toMatch(reason);
});

test('silence packs well; a short file may', () => {
  expect(why(packed('silence.wav', { size: 10_000_000, packedSize: 12_000 }))).toBeNull();
});

test('karaoke graphics go with their music; covers come along; folders and what systems add are no files', () => {
  const { entries, trouble } = judgeEntries(
    ['Song.mp3', 'song.CDG', 'cover.jpg', 'Disc 1/', '__MACOSX/Song.mp3', '.hidden.mp3'].map((n) => packed(n)),
  );
  expect(trouble).toBeNull();
  expect(entries.map((e) => [e.name, e.why])).toEqual([
    ['Song.mp3', null],
    ['song.CDG', null],
    ['cover.jpg', null],
  ]);
});

test('names that are the same on some drives are taken once', () => {
  const { entries } = judgeEntries([
    packed('Tide.mp3'),
    packed('tide.MP3'),
    packed('Cafe\u0301.mp3'),
    packed('Café.mp3'),
  ]);
  expect(entries.map((e) => e.why)).toEqual([
    null,
    expect.stringMatching(/twice/),
    null,
    expect.stringMatching(/twice/),
  ]);
});

describe('as a whole', () => {
  test('without music, or with a password on everything, nothing is unpacked', () => {
    expect(judgeEntries([packed('a.txt')]).trouble).toBe('There is no music in it');
    expect(judgeEntries([]).trouble).toBe('There is no music in it');
    expect(judgeEntries([packed('a.mp3', { encrypted: true })]).trouble).toBe('It is protected by a password');
  });
  test('too many files or too many bytes are refused before any is unpacked', () => {
    const many = Array.from({ length: 20_001 }, (_, i) => packed(`${i}.mp3`));
    expect(judgeEntries(many).trouble).toMatch(/more than 20,000/);
    const large = Array.from({ length: 20 }, (_, i) => packed(`${i}.wav`, { size: 4e9, packedSize: 3.9e9 }));
    expect(judgeEntries(large).trouble).toMatch(/64 GB/);
  });
  test('whatever an archive says, nothing is unpacked outside its folder', () => {
    const part = fc.constantFrom('..', '.', 'a', 'b.mp3', '', 'C:', '\0', '~', 'con', ' . ');
    const name = fc.array(part, { minLength: 1, maxLength: 6 }).map((p) => `${p.join('/')}/x.mp3`);
    fc.assert(
      fc.property(fc.array(name, { maxLength: 8 }), (names) => {
        for (const { segments } of judgeEntries(names.map((n) => packed(n))).entries)
          for (const s of segments ?? []) expect(s).not.toMatch(/^\.{0,2}$|[/\\\0]/);
      }),
    );
  });
});
