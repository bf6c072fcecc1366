import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { LIST_FORMATS, LIST_FORMAT_IDS, lossesOf, NO_ENTRY, type ListedEntry, type ListedTrack } from './listFile.ts';
import { mapped, readLocation } from './locations.ts';
import { readList } from './readList.ts';
import { writeList } from './writeList.ts';

const names = (text: string | Uint8Array, ending: string): (string | null)[] =>
  readList(text, ending).entries.map((e) => e.location);
const latin1 = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));

describe('locations, as others write them', () => {
  test.each([
    ['file:///C:/Music/a%20b.mp3', 'C:/Music/a b.mp3'],
    ['file:///music/%C3%BC%23.mp3', '/music/ü#.mp3'],
    ['file://localhost/music/a.mp3', '/music/a.mp3'],
    ['FILE:///D:\\House\\a.mp3', 'D:/House/a.mp3'],
    ['file:///music/M%FCller.mp3', '/music/Müller.mp3'],
    ['file:///music/100%.mp3', '/music/100%.mp3'],
    ['C:\\Music\\a.mp3', 'C:/Music/a.mp3'],
    ['..\\House\\a.mp3', '../House/a.mp3'],
    ['./#1 boat.mp3', '#1 boat.mp3'],
    ['a%20b.mp3', 'a%20b.mp3'],
    ['https://skerry.example/a%20b.mp3', 'https://skerry.example/a%20b.mp3'],
    ['  ', null],
  ])('%s', (written, path) => expect(readLocation(written)).toBe(path));
  test('escapes in a relative URI are escapes', () => {
    expect(readLocation('../a%20b.mp3', true)).toBe('../a b.mp3');
  });
  test.each([
    ['D:/Music/a.mp3', [['d:\\music', '/mnt/m']], '/mnt/m/a.mp3'],
    ['/music/a.mp3', [['/mus', '/x']], '/music/a.mp3'],
    ['/music/a.mp3', [['/music/', '/x/']], '/x/a.mp3'],
    ['/a.mp3', [['/', '/mnt']], '/mnt/a.mp3'],
    [
      '/m/a.mp3',
      [
        ['/n', '/x'],
        ['/m', '/y'],
      ],
      '/y/a.mp3',
    ],
  ] as [string, [string, string][], string][])('%s under %j', (path, maps, result) =>
    expect(mapped(path, maps)).toBe(result),
  );
});

describe('M3U', () => {
  test('with everything real ones hold', () => {
    const list = readList(
      '\uFEFF#EXTM3U\r\n#PLAYLIST: Slipway \r\n\r\n# a remark\r\n#EXTINF:98 tvg-id="x",Keel Nine - Lamp Room - Dub\r\n' +
        'House\\Lamp Room.mp3\r\n#EXTINF:-1,Tin Ladle\r\nfile:///C:/m/Tin%20Ladle.mp3\r\n#EXTINF:x,Odd\r\nlast.mp3',
      'm3u',
    );
    expect(list.name).toBe('Slipway');
    expect(list.entries).toEqual([
      { ...NO_ENTRY, location: 'House/Lamp Room.mp3', artist: 'Keel Nine', title: 'Lamp Room - Dub', seconds: 98 },
      { ...NO_ENTRY, location: 'C:/m/Tin Ladle.mp3', title: 'Tin Ladle' },
      { ...NO_ENTRY, location: 'last.mp3', title: 'x,Odd' },
    ]);
    expect(list.problems).toEqual([{ line: 9, reason: 'its length is not a number' }]);
  });
  test('in the encodings that are met', () => {
    expect(names(latin1('M\u00fcller.mp3\n'), 'm3u')).toEqual(['Müller.mp3']);
    const wide = (big: boolean): Uint8Array =>
      Uint8Array.from(
        [...'\uFEFFü.mp3\n'].flatMap((c) => {
          const pair = [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8];
          return big ? pair.reverse() : pair;
        }),
      );
    expect([names(wide(false), 'm3u8'), names(wide(true), 'm3u8')]).toEqual([['ü.mp3'], ['ü.mp3']]);
  });
  test('a title without a path is said; old Mac line ends are lines', () => {
    expect(readList('#EXTM3U\n#EXTINF:9,Lost\n', 'm3u').problems).toEqual([
      { line: null, reason: '"Lost" has no path' },
    ]);
    expect(names('a.mp3\rb.mp3', 'm3u')).toEqual(['a.mp3', 'b.mp3']);
  });
  test('a list of many lines is read at once', () => {
    const list = readList('#EXTM3U\n' + '#EXTINF:60,Artist - Title\nfolder/file.mp3\n'.repeat(200_000), 'm3u8');
    expect(list.entries).toHaveLength(200_000);
  });
});

describe('PLS', () => {
  test('in the order of its numbers', () => {
    const list = readList(
      '[playlist]\nFile2=b.mp3\nTitle2=Keel Nine - B\nFile1=a.mp3\nLength1=61\nTitle3=Lost\nwhat\nNumberOfEntries=3\nVersion=2',
      'pls',
    );
    expect(list.entries.map((e) => [e.location, e.artist, e.title, e.seconds])).toEqual([
      ['a.mp3', null, null, 61],
      ['b.mp3', 'Keel Nine', 'B', null],
    ]);
    expect(list.problems.map((p) => p.reason)).toEqual(['it is none of File, Title and Length', 'entry 3 has no path']);
  });
});

describe('XSPF and JSPF', () => {
  test('are read with prefixes, entities and relative locations', () => {
    const list = readList(
      '<?xml version="1.0"?><x:playlist xmlns:x="http://xspf.org/ns/0/" version="1"><x:title>Rope &amp; Tide</x:title>' +
        '<x:trackList><x:track><x:location>../a%20b.mp3</x:location><x:location>other.mp3</x:location>' +
        '<x:title>&#252;ber</x:title><x:creator>Keel Nine</x:creator><x:duration>61500</x:duration></x:track>' +
        '<x:track><x:annotation>nothing</x:annotation></x:track></x:trackList></x:playlist>',
      'xspf',
    );
    expect(list.name).toBe('Rope & Tide');
    expect(list.entries).toEqual([
      { location: '../a b.mp3', title: 'über', artist: 'Keel Nine', album: null, seconds: 61.5 },
    ]);
    expect(list.problems).toEqual([{ line: null, reason: 'track 2 has neither location nor title' }]);
  });
  test('broken ones give what is whole, or a sentence', () => {
    const broken = '<playlist><trackList><track><location>a.mp3</location></track><track><location>b.mp3</loc';
    expect(names(broken, 'xspf')).toContain('a.mp3');
    expect(readList('<html></html>', 'xspf').problems[0]!.reason).toBe('there is no playlist in it');
    expect(readList('{"playlist": {', 'jspf').problems[0]!.reason).toBe('it is not JSON');
    expect(readList('{"tracks": []}', 'jspf').problems[0]!.reason).toBe('there is no playlist in it');
    expect(names('{"playlist":{"track":[{"location":"a.mp3"},7]}}', 'jspf')).toEqual(['a.mp3']);
  });
});

describe('CSV and TSV', () => {
  test('columns are told by their names, in any order, with any character between', () => {
    const list = readList('Length;Track;Artist;Location\r\n"3:05";"Rope; Tide";Keel Nine;C:\\m\\a.mp3\r\n', 'csv');
    expect(list.entries).toEqual([
      { location: 'C:/m/a.mp3', title: 'Rope; Tide', artist: 'Keel Nine', album: null, seconds: 185 },
    ]);
  });
  test('without names, two columns are artist and title, and a path is a path', () => {
    expect(readList('Keel Nine\tLamp Room\t/m/a.mp3', 'tsv').entries).toEqual([
      { ...NO_ENTRY, location: '/m/a.mp3', title: 'Lamp Room', artist: 'Keel Nine' },
    ]);
  });
  test('a row without anything is said', () => {
    expect(readList('Artist,Title\nKeel Nine,\n', 'csv').problems).toEqual([
      { line: 2, reason: 'it has neither path nor title' },
    ]);
  });
});

describe('CUE sheets and text', () => {
  test('every track of a sheet is an entry', () => {
    const list = readList(
      'REM DATE 2020\nPERFORMER "Brine Choir"\nTITLE "Slow Tides"\nFILE "Slow Tides.wav" WAVE\n  TRACK 01 AUDIO\n' +
        '    TITLE "One"\n    INDEX 01 00:00:00\n  TRACK 02 AUDIO\n    TITLE "Two"\n    PERFORMER "Vesna Rook"\n',
      'cue',
    );
    expect([list.name, ...list.entries.map((e) => `${e.artist}: ${e.title} in ${e.location}`)]).toEqual([
      'Slow Tides',
      'Brine Choir: One in Slow Tides.wav',
      'Vesna Rook: Two in Slow Tides.wav',
    ]);
  });
  test.each([
    ['Keel Nine - Lamp Room', 'Keel Nine', 'Lamp Room', null],
    ['01. Keel Nine – Lamp Room', 'Keel Nine', 'Lamp Room', null],
    ['[00:12:30] Keel Nine - Lamp Room', 'Keel Nine', 'Lamp Room', null],
    ['12) Keel Nine - Lamp Room (3:05)', 'Keel Nine', 'Lamp Room', 185],
    ['- Lamp Room', null, 'Lamp Room', null],
    ['99 Nets - Tin Shed', '99 Nets', 'Tin Shed', null],
  ])('%s', (text, artist, title, seconds) => {
    expect(readList(text, 'txt').entries).toEqual([{ ...NO_ENTRY, artist, title, seconds }]);
  });
  test('a path in text is a path; what a file is named matters less than what is in it', () => {
    expect(names('C:\\m\\a - b.mp3\n', 'txt')).toEqual(['C:/m/a - b.mp3']);
    expect(names('#EXTM3U\na.mp3\n', 'txt')).toEqual(['a.mp3']);
  });
});

const word = fc.stringMatching(/^[A-Za-zäöü'&+.()!#%,;=0-9]{1,8}( [A-Za-zäöü'&+.()!#%,;=0-9]{1,8}){0,3}$/);
const someTrack: fc.Arbitrary<ListedTrack> = fc.record({
  path: fc
    .array(fc.stringMatching(/^[^/\\\u0000-\u001f\u007f"'\u2028\u2029]{1,12}$/u), { minLength: 1, maxLength: 3 })
    .map((parts) => `/music/${parts.map((p) => p.toWellFormed().trim() || '_').join('/')}.mp3`),
  durationSeconds: fc.integer({ min: 1, max: 9000 }),
  title: fc.stringMatching(/^[A-Za-z][A-Za-zäöü'&+.()!#%;=0-9]{0,8}( [A-Za-zäöü'&+.()!#%;=0-9]{1,8}){0,3}$/),
  artist: word.filter((w) => /^[A-Za-z]/.test(w)),
  album: word.filter((w) => /^[A-Za-z]/.test(w)),
  fields: fc.constant({}),
});
const LINE = '{{ artist }} - {{ title }}';

describe('written and read again', () => {
  test.each(LIST_FORMAT_IDS.filter((id) => id !== 'html'))(
    '%s names the same tracks, whatever they are called',
    (id) => {
      const holds: readonly string[] = LIST_FORMATS[id].holds;
      fc.assert(
        fc.property(fc.array(someTrack, { minLength: 1, maxLength: 5 }), (tracks) => {
          const text = writeList(tracks, id, { paths: 'absolute', folder: '/', name: 'Slipway', line: LINE });
          const list = readList(new TextEncoder().encode(text), id);
          const kept = <T>(what: string, value: T): T | null => (holds.includes(what) ? value : null);
          expect(list.problems).toEqual([]);
          expect(list.entries).toEqual(
            tracks.map((t): ListedEntry => ({
              location: kept('path', t.path),
              title: t.title,
              artist: t.artist,
              album: kept('album', t.album),
              seconds: kept('length', t.durationSeconds),
            })),
          );
          expect(list.name).toBe(holds.includes('name of the list') ? 'Slipway' : null);
        }),
      );
    },
  );
  test('what a format has no place for is said before', () => {
    const entries = [
      { ...NO_ENTRY, location: 'a.mp3', title: 'A', album: 'B' },
      { ...NO_ENTRY, title: 'C', album: 'D' },
    ];
    expect(lossesOf(entries, 'Slipway', LIST_FORMATS.txt)).toEqual([
      'Text holds no path (1 entry has one)',
      'Text holds no album (2 entries have one)',
      'Text holds no name of the list',
    ]);
    expect(lossesOf(entries, 'Slipway', LIST_FORMATS.xspf)).toEqual([]);
  });
  test('an HTML page shows every line as text, whatever is in it', () => {
    const track = { path: '/a.mp3', durationSeconds: 61, title: '<b>&', artist: 'Keel "Nine"', album: '', fields: {} };
    const page = writeList([track], 'html', { paths: 'absolute', folder: '/', name: 'Late <shift>', line: LINE });
    expect(page).toContain('<td>Keel &quot;Nine&quot; - &lt;b&gt;&amp;</td><td></td><td>1:01</td>');
    expect(page).toContain('<h1>Late &lt;shift&gt;</h1>');
  });
  test('any bytes at all give entries and problems, never an error', () => {
    const endings = fc.constantFrom('m3u', 'pls', 'xspf', 'jspf', 'csv', 'tsv', 'cue', 'txt', 'odd');
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), endings, (bytes, ending) => {
        expect(Array.isArray(readList(bytes, ending).entries)).toBe(true);
      }),
    );
    const parts = fc.constantFrom(
      '<playlist>',
      '<track>',
      '</track>',
      '<location>',
      '&',
      '"',
      ';',
      '\n',
      'File1=',
      '#EXTINF:',
      '{',
      'a.mp3',
    );
    fc.assert(
      fc.property(fc.array(parts, { maxLength: 30 }), endings, (some, ending) => {
        expect(Array.isArray(readList(some.join(''), ending).entries)).toBe(true);
      }),
    );
  });
});
