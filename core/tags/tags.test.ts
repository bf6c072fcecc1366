import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inverseSplices, latin1, le32, sameBytes, sourceOf, spliced, TagTrouble, u32be } from './bytes.ts';
import { editTags, openTags } from './edit.ts';
import { oggCrc } from './containers/ogg.ts';

import { FILES, NAMES, soundOf, after, read, holds, unnumbered, someText, someFields } from '../testing/tagSamples.ts';

test('files of other kinds are refused, though something inside of them looks like MPEG audio', () => {
  const inside = FILES[NAMES.find((name) => name.startsWith('MP3'))!]!;
  const beginnings = [
    '\x1aE\xdf\xa3',
    '0&\xb2u',
    'RIFF....AVI ',
    '\0\0\x01\xba',
    'MAC ',
    'wvpk',
    'TTA1',
    'caff',
    'DSD ',
  ];
  for (const beginning of beginnings) {
    const file = Uint8Array.from([...Buffer.from(beginning.padEnd(16, '.'), 'latin1'), ...inside]);
    expect(() => openTags(sourceOf(file))).toThrow('Tags in files of this kind cannot be changed');
  }
});

test('M4A: only the outermost atoms may leave their length open', () => {
  const file = FILES['M4A, index last']!.slice();
  const mvhd = latin1(file).indexOf('mvhd') - 4;
  file.fill(0, mvhd, mvhd + 4);
  expect(() => openTags(sourceOf(file))).toThrow(TagTrouble);
  const open = FILES['M4A, index last']!.slice();
  const moov = latin1(open).indexOf('moov') - 4;
  open.fill(0, moov, moov + 4);
  expect(read(after(open, { title: ['New'] })).title).toEqual(['New']);
});

test('M4A: what does not fill the atom that holds it is refused, but for the end of user data', () => {
  const file = FILES['M4A, index last']!.slice();
  const hdlr = latin1(file).indexOf('hdlr') - 4;
  file[hdlr + 3] = 67; // seven bytes are left behind it, and the list of items is gone
  expect(() => openTags(sourceOf(file))).toThrow('do not fill');
});

describe.each(NAMES)('%s', (name) => {
  const file = FILES[name]!;

  test('fields that were set are read again, and nothing else', () => {
    fc.assert(
      fc.property(someFields, fc.array(someText, { minLength: 1, maxLength: 3 }), (fields, artists) => {
        const wanted = { ...fields, artist: [...new Set(artists)] };
        const made = after(file, wanted);
        const before = read(file);
        expect(read(made)).toEqual({ ...before, ...wanted });
      }),
      { numRuns: 40 },
    );
  });

  test('the sound stays', () => {
    const made = after(file, { title: ['A much longer title than before '.repeat(60)], artist: ['Else'] });
    expect(sameBytes(unnumbered(soundOf(made)), unnumbered(soundOf(file)))).toBe(true);
  });

  test('what was not asked for stays, byte for byte', () => {
    const made = after(file, { title: ['New'], genre: ['Dub', 'House'] });
    for (const kept of [
      'somebody\0',
      'auf deutsch',
      'WHATEVER=x',
      'Mine=kept',
      'mine\0kept',
      'ISFT',
      '©too',
      'chpl',
      'odd ',
      'APPL',
      'bext',
      'GEOB',
      'XABC',
    ]) {
      expect({ kept, there: holds(made, kept) }).toEqual({ kept, there: holds(file, kept) });
    }
  });

  test('the same again changes nothing; taking back gives the old fields', () => {
    const made = after(file, { title: ['New'], year: ['1999'] });
    expect(editTags(sourceOf(made), { fields: { title: ['New'], year: ['1999'] } })).toEqual([]);
    const before = read(file);
    expect(read(after(made, { title: before.title ?? [], year: before.year ?? [] }))).toEqual(before);
  });

  test('the inverse of an edit restores every byte', () => {
    fc.assert(
      fc.property(someFields, fc.option(fc.uint8Array({ minLength: 20, maxLength: 4000 })), (fields, picture) => {
        const splices = editTags(sourceOf(file), {
          fields,
          ...(picture ? { picture: { mime: 'image/png', data: picture } } : {}),
        });
        expect(sameBytes(spliced(spliced(file, splices), inverseSplices(sourceOf(file), splices)), file)).toBe(true);
      }),
      { numRuns: 30 },
    );
  });

  test('a second small edit fits where the first has made room', () => {
    if (/^(Ogg|Opus|.*and v1)/.test(name)) return;
    const once = after(file, { title: ['A first title that is not so short'] });
    const splices = editTags(sourceOf(once), {
      fields: { title: ['A second title, quite a bit longer than the first'] },
    });
    expect(splices.filter((s) => s.insert.length !== s.remove)).toEqual(
      /WAV$|AIFF/.test(name) ? expect.anything() : [],
    );
  });

  test('cut off or spoilt anywhere, it is refused with a reason or changed without harm', () => {
    fc.assert(
      fc.property(fc.nat(file.length - 1), fc.integer({ min: 0, max: 255 }), fc.boolean(), (at, value, cut) => {
        const spoilt = cut ? file.slice(0, at) : file.slice();
        if (!cut) spoilt[at] = value;
        let splices;
        try {
          splices = editTags(sourceOf(spoilt), { fields: { title: ['New'] } });
        } catch (error) {
          expect(error).toBeInstanceOf(TagTrouble);
          return;
        }
        const made = spliced(spoilt, splices);
        expect(read(made).title).toEqual(['New']);
        const before = soundOf(spoilt),
          then = soundOf(made);
        expect(then.length).toBe(before.length);
      }),
      { numRuns: 1200 },
    );
  });
});

test('M4A: offsets of chunks move with the sound', () => {
  const made = after(FILES['M4A, index first']!, { title: ['x'.repeat(5000)] });
  const at = latin1(made).indexOf('stco') + 12;
  expect(made.subarray(u32be(made, at), u32be(made, at) + 4)).toEqual(Uint8Array.of(0, 1, 2, 3));
  expect(made[u32be(made, at + 4)]).toBe(200);
});

test('Ogg: every page has the next number and a checksum that fits', () => {
  const made = after(FILES.Ogg!, { comment: ['long '.repeat(30_000)] });
  let number = 0;
  for (let at = 0; at < made.length;) {
    const lacing = made.slice(at + 27, at + 27 + made[at + 26]!),
      page = made.slice(at, at + 27 + lacing.length + lacing.reduce((a, b) => a + b, 0));
    expect(page[18]! | (page[19]! << 8)).toBe(number++);
    const told = latin1(page.subarray(22, 26));
    page.fill(0, 22, 26);
    expect(latin1(le32(oggCrc(page)))).toBe(told);
    at += page.length;
  }
  expect(number).toBeGreaterThan(8);
});
