import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { relativePath, safeFileName } from '../files/paths.ts';
import { DEFAULT_LINE, renderLine, TemplateError } from './line.ts';
import type { ListedTrack, WriteOptions } from './listFile.ts';
import { writeList } from './writeList.ts';

const track = (over: Partial<ListedTrack> = {}): ListedTrack => ({
  path: '/music/Crates/House/Keel Nine - Lamp Room.mp3',
  durationSeconds: 98.4,
  title: 'Lamp Room',
  artist: 'Keel Nine',
  album: 'Lamp',
  fields: { version: 'Dub', number: 3 },
  ...over,
});
const options = (over: Partial<WriteOptions> = {}): WriteOptions => ({
  paths: 'absolute',
  folder: '/music/lists',
  name: 'Slipway',
  line: DEFAULT_LINE,
  ...over,
});

describe('M3U8', () => {
  test('a line break in a path stays inside one line', () => {
    const lines = writeList([track({ path: '/music/two\nlines.mp3' })], 'm3u8', options()).split('\n');
    expect(lines).toHaveLength(5);
    expect(lines[3]).toBe('file:///music/two%0Alines.mp3');
    const relative = writeList([track({ path: '/music/two\r\nlines.mp3' })], 'm3u8', options({ paths: 'relative' }));
    expect(relative.split('\n')[3]).toBe('../two%0D%0Alines.mp3');
  });

  test('is the extended form', () => {
    expect(writeList([track()], 'm3u8', options())).toBe(
      '#EXTM3U\n#PLAYLIST:Slipway\n#EXTINF:98,Keel Nine - Lamp Room (Dub)\n/music/Crates/House/Keel Nine - Lamp Room.mp3\n',
    );
  });
  test('relative paths lead from the folder; a name with # in front is no comment', () => {
    expect(writeList([track()], 'm3u8', options({ paths: 'relative' }))).toContain(
      '\n../Crates/House/Keel Nine - Lamp Room.mp3\n',
    );
    expect(writeList([track({ path: '/music/lists/#1 boat.mp3' })], 'm3u8', options({ paths: 'relative' }))).toContain(
      '\n./#1 boat.mp3\n',
    );
  });
  test('an unknown length is −1', () => {
    expect(writeList([track({ durationSeconds: null })], 'm3u8', options())).toContain('#EXTINF:-1,');
  });
  test('no text, whatever is in it, makes a second line', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (title) => {
        expect(writeList([track({ title })], 'm3u8', options()).split('\n')).toHaveLength(5);
      }),
    );
  });
});

describe('XSPF', () => {
  test('percent-encodes locations and escapes text', () => {
    const text = writeList([track({ path: '/music/a & b/ü#1?.mp3', title: '<Tide> & "Rope"' })], 'xspf', options());
    expect(text).toContain('<location>file:///music/a%20%26%20b/%C3%BC%231%3F.mp3</location>');
    expect(text).toContain('<title>&lt;Tide&gt; &amp; &quot;Rope&quot;</title>');
    expect(text).toContain('<duration>98400</duration>');
  });
  test('stays well-formed for any text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 40 }), (title) => {
        const inside =
          /<title>Slipway<\/title>[\s\S]*?(?:<title>([\s\S]*?)<\/title>[\s\S]*)?<\/trackList>/.exec(
            writeList([track({ title, artist: '' })], 'xspf', options()),
          )?.[1] ?? '';
        expect(inside).not.toMatch(/[<>\u0000-\u001f]|&(?!amp;|lt;|gt;|quot;)/);
      }),
    );
  });
});

describe('line templates', () => {
  test('a track without an artist has no dash in front', () => {
    expect(renderLine(DEFAULT_LINE, track({ artist: '', fields: {} }))).toBe('Lamp Room');
  });
  test('fill in fields and pad numbers', () => {
    expect(renderLine('{{ number | pad: 2 }} {{ title | upcase }}', track())).toBe('03 LAMP ROOM');
  });
  test('a broken one, or one that runs away, is refused with a sentence', () => {
    expect(() => renderLine('{{ title | nosuch }}', track())).toThrow(TemplateError);
    expect(() => renderLine('{% if %}', track())).toThrow(/line template cannot be used/);
    expect(() => renderLine('{% for a in (1..99999999) %}{{ a }}{% endfor %}', track())).toThrow(TemplateError);
  });
});

describe('paths', () => {
  test.each([
    ['/m', '/m/a.mp3', 'a.mp3'],
    ['/m/lists', '/m/a/b.mp3', '../a/b.mp3'],
    ['/x/y', '/z.mp3', '../../z.mp3'],
    ['/', '/a/b.mp3', 'a/b.mp3'],
  ])('from %s to %s', (folder, file, expected) => {
    expect(relativePath(folder, file)).toBe(expected);
  });
  test('file names hold nothing that a file system would mind', () => {
    expect(safeFileName('AC/DC: live? ..')).toBe('AC DC live');
    expect(safeFileName('CON')).toBe('untitled');
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (name) => {
        const safe = safeFileName(name);
        expect(safe.length).toBeGreaterThan(0);
        expect(safe).not.toMatch(/[/\\:*?"<>|\u0000-\u001f]|^\.|[. ]$/);
      }),
    );
  });
});
