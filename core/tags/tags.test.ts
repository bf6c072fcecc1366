import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  be32,
  concat,
  inverseSplices,
  latin1,
  le32,
  sameBytes,
  sourceOf,
  spliced,
  TagTrouble,
  toLatin1,
  toSynchsafe,
  toUtf8,
  u32be,
} from './bytes.ts';
import { editTags, fieldsIn, openTags, pictureIn, TAG_FIELDS } from './edit.ts';
import { fieldOf } from '../fields/table.ts';
import { unsynchronise } from './id3.ts';
import { oggCrc } from './ogg.ts';
import { valueIn } from './values.ts';

/** Sound that is none, but looks like it: MPEG frames of 417 bytes, FLAC's first frame, samples. */
const frames = concat(
  Array.from({ length: 6 }, (_, i) => concat([Uint8Array.of(0xff, 0xfb, 0x90, 0x00), new Uint8Array(413).fill(i + 1)])),
);

const frame = (version: 3 | 4, id: string, body: Uint8Array, flags = 0): Uint8Array =>
  concat([
    toLatin1(id),
    version === 4 ? toSynchsafe(body.length) : be32(body.length),
    Uint8Array.of(flags >> 8, flags & 255),
    body,
  ]);
const text = (id: string, words: string, version: 3 | 4 = 3): Uint8Array =>
  frame(version, id, concat([Uint8Array.of(0), toLatin1(words)]));
function id3(
  version: 3 | 4,
  parts: Uint8Array[],
  { padding = 0, flags = 0, extended = new Uint8Array(0) } = {},
): Uint8Array {
  let body = concat([extended, ...parts, new Uint8Array(padding)]);
  if (flags & 0x80 && version === 3) body = unsynchronise(body);
  return concat([toLatin1('ID3'), Uint8Array.of(version, 0, flags), toSynchsafe(body.length), body]);
}
const priv = frame(3, 'PRIV', concat([toLatin1('somebody\0'), Uint8Array.of(0xff, 0xe0, 0xff, 0x00, 1, 2, 3)]));
const foreign = frame(3, 'COMM', concat([Uint8Array.of(0), toLatin1('deuNotiz\0auf deutsch')]));

function ape(items: [string, string][], withHeader = true): Uint8Array {
  const body = concat(
    items.map(([k, v]) => concat([le32(toUtf8(v).length), le32(0), toLatin1(k), Uint8Array.of(0), toUtf8(v)])),
  );
  const edge = (flags: number): Uint8Array =>
    concat([
      toLatin1('APETAGEX'),
      le32(2000),
      le32(body.length + 32),
      le32(items.length),
      le32(flags),
      new Uint8Array(8),
    ]);
  return concat([...(withHeader ? [edge(0xa000_0000)] : []), body, edge(withHeader ? 0x8000_0000 : 0)]);
}
function id3v1(title: string): Uint8Array {
  const out = new Uint8Array(128);
  out.set(toLatin1(`TAG${title}`));
  out[127] = 17;
  return out;
}
const vorbis = (comments: string[]): Uint8Array =>
  concat([
    le32(4),
    toLatin1('test'),
    le32(comments.length),
    ...comments.flatMap((c) => [le32(toUtf8(c).length), toUtf8(c)]),
  ]);
function flac(comments: string[] | null, padding: number, others: [number, Uint8Array][] = []): Uint8Array {
  const blocks: [number, Uint8Array][] = [
    [0, new Uint8Array(34).fill(7)],
    ...(comments ? [[4, vorbis(comments)] as [number, Uint8Array]] : []),
    ...others,
    [1, new Uint8Array(padding)],
  ];
  return concat([
    toLatin1('fLaC'),
    ...blocks.flatMap(([type, body], i) => [
      Uint8Array.of(type | (i === blocks.length - 1 ? 0x80 : 0), body.length >> 16, body.length >> 8, body.length),
      body,
    ]),
    Uint8Array.of(0xff, 0xf8),
    new Uint8Array(900).fill(9),
  ]);
}
const chunk = (id: string, body: Uint8Array, big = false): Uint8Array =>
  concat([toLatin1(id), big ? be32(body.length) : le32(body.length), body, new Uint8Array(body.length & 1)]);
function wav(chunks: Uint8Array[]): Uint8Array {
  const body = concat([toLatin1('WAVE'), chunk('fmt ', new Uint8Array(16)), ...chunks]);
  return concat([toLatin1('RIFF'), le32(body.length), body]);
}
function aiff(chunks: Uint8Array[]): Uint8Array {
  const body = concat([toLatin1('AIFF'), chunk('COMM', new Uint8Array(18), true), ...chunks]);
  return concat([toLatin1('FORM'), be32(body.length), body]);
}
const info = (items: [string, string][]): Uint8Array =>
  chunk(
    'LIST',
    concat([toLatin1('INFO'), ...items.map(([id, v]) => chunk(id, concat([toLatin1(v), Uint8Array.of(0)])))]),
  );
function oggPage(number: number, packets: Uint8Array[], kind = 0, last = true): Uint8Array {
  const lacing = packets.flatMap((p, i) => [
    ...Array<number>(Math.floor(p.length / 255)).fill(255),
    ...(i < packets.length - 1 || last ? [p.length % 255] : []),
  ]);
  const page = concat([
    Uint8Array.of(79, 103, 103, 83, 0, kind),
    new Uint8Array(8),
    le32(77),
    le32(number),
    le32(0),
    Uint8Array.of(lacing.length),
    Uint8Array.from(lacing),
    ...packets,
  ]);
  page.set(le32(oggCrc(page)), 22);
  return page;
}
const ogg = (comments: string[]): Uint8Array =>
  concat([
    oggPage(0, [concat([toLatin1('\x01vorbis'), new Uint8Array(23)])], 2),
    oggPage(1, [
      concat([toLatin1('\x03vorbis'), vorbis(comments), Uint8Array.of(1)]),
      concat([toLatin1('\x05vorbis'), new Uint8Array(300).fill(3)]),
    ]),
    ...Array.from({ length: 5 }, (_, i) => oggPage(2 + i, [new Uint8Array(700).fill(i)])),
  ]);
const opus = (comments: string[]): Uint8Array =>
  concat([
    oggPage(0, [concat([toLatin1('OpusHead'), new Uint8Array(11)])], 2),
    oggPage(1, [concat([toLatin1('OpusTags'), vorbis(comments)])]),
    oggPage(2, [new Uint8Array(500).fill(4)]),
  ]);
const atom = (type: string, ...parts: Uint8Array[]): Uint8Array => {
  const body = concat(parts);
  return concat([be32(body.length + 8), toLatin1(type), body]);
};
const item = (type: string, words: string): Uint8Array => atom(type, atom('data', be32(1), be32(0), toUtf8(words)));
function m4a({ items, fast, free = 0 }: { items: Uint8Array[] | null; fast: boolean; free?: number }): Uint8Array {
  const samples = new Uint8Array(400).map((_, i) => i & 255);
  const build = (offset: number): [Uint8Array, Uint8Array] => {
    const stbl = atom('stbl', atom('stco', be32(0), be32(2), be32(offset), be32(offset + 200)));
    const chapters = atom('chpl', new Uint8Array(9).fill(5));
    const udta = items
      ? atom(
          'udta',
          chapters,
          atom(
            'meta',
            be32(0),
            atom('hdlr', new Uint8Array(25)),
            atom('ilst', ...items),
            ...(free ? [atom('free', new Uint8Array(free - 8))] : []),
          ),
        )
      : null;
    return [
      atom('ftyp', toLatin1('M4A \0\0\0\0M4A ')),
      atom(
        'moov',
        atom('mvhd', new Uint8Array(100)),
        atom('trak', atom('mdia', atom('minf', stbl))),
        ...(udta ? [udta] : []),
      ),
    ];
  };
  const [ftyp, moov] = build(0),
    mdat = atom('mdat', samples);
  const [, real] = build(ftyp.length + (fast ? moov.length : 0) + 8);
  return concat(fast ? [ftyp, real, mdat] : [ftyp, mdat, real]);
}

const old22 = (id: string, body: Uint8Array): Uint8Array =>
  concat([toLatin1(id), Uint8Array.of(body.length >> 16, body.length >> 8, body.length), body]);
const id3v22 = (parts: Uint8Array[], padding: number): Uint8Array => {
  const body = concat([...parts, new Uint8Array(padding)]);
  return concat([toLatin1('ID3'), Uint8Array.of(2, 0, 0), toSynchsafe(body.length), body]);
};
const latinText = (words: string): Uint8Array => concat([Uint8Array.of(0), toLatin1(words)]);

const old = { TIT2: 'Old title', TPE1: 'Somebody' };
const FILES: Record<string, Uint8Array> = {
  'MP3 with v2.3': concat([
    id3(3, [text('TIT2', old.TIT2), priv, text('TPE1', old.TPE1), foreign], { padding: 300 }),
    frames,
  ]),
  'MP3 with v2.4': concat([
    id3(4, [text('TIT2', old.TIT2, 4), frame(4, 'GEOB', new Uint8Array(60).fill(1)), text('TPE1', old.TPE1, 4)]),
    frames,
  ]),
  'MP3, whole tag unsynchronised': concat([
    id3(3, [priv, text('TIT2', old.TIT2)], { flags: 0x80, padding: 40 }),
    frames,
  ]),
  'MP3, two tags in a row': concat([
    id3(3, [text('TIT2', old.TIT2)]),
    id3(4, [text('TIT2', 'second', 4), priv.slice(0, 0), frame(4, 'XABC', new Uint8Array(9))]),
    frames,
  ]),
  'MP3 with APE and v1': concat([
    frames,
    ape([
      ['Title', old.TIT2],
      ['mine', 'kept'],
    ]),
    id3v1(old.TIT2),
  ]),
  'MP3 with v2.2': concat([
    id3v22(
      [
        old22('TT2', latinText(old.TIT2)),
        old22('TP1', latinText(old.TPE1)),
        old22('UFI', toLatin1('somebody\x00id')),
        old22('COM', concat([Uint8Array.of(0), toLatin1('deuNotiz\0auf deutsch')])),
      ],
      200,
    ),
    frames,
  ]),
  'MP3 with nothing': frames,
  FLAC: flac(['title=Old title', 'WHATEVER=x', 'artist=Somebody'], 200, [
    [2, new Uint8Array(30).fill(2)],
    [5, new Uint8Array(80)],
  ]),
  'FLAC without comments': flac(null, 0),
  'FLAC behind ID3': concat([id3(3, [text('TIT2', old.TIT2), priv]), flac(['Title=Old title'], 10)]),
  WAV: wav([
    chunk('data', new Uint8Array(1001)),
    info([
      ['INAM', old.TIT2],
      ['ISFT', 'kept'],
    ]),
    chunk('bext', new Uint8Array(602).fill(6)),
    chunk('id3 ', id3(3, [text('TIT2', old.TIT2), priv])),
  ]),
  'WAV with nothing': wav([chunk('odd ', new Uint8Array(3)), chunk('data', new Uint8Array(500))]),
  AIFF: aiff([
    chunk('NAME', toLatin1('Old title'), true),
    chunk('SSND', new Uint8Array(801), true),
    chunk('APPL', new Uint8Array(7), true),
  ]),
  Ogg: ogg(['title=Old title', 'Mine=kept']),
  Opus: opus(['TITLE=Old title']),
  'M4A, index first': m4a({ items: [item('©nam', old.TIT2), item('©too', 'kept')], fast: true }),
  'M4A with room': m4a({ items: [item('©nam', old.TIT2)], fast: true, free: 600 }),
  'M4A, index last': m4a({ items: [item('©nam', old.TIT2)], fast: false }),
  'M4A without tags': m4a({ items: null, fast: true }),
};
const NAMES = Object.keys(FILES);
const soundOf = (bytes: Uint8Array): Uint8Array =>
  concat(openTags(sourceOf(bytes)).audio.map((a) => bytes.slice(a.from, a.to)));
const after = (bytes: Uint8Array, fields: Record<string, string[]>): Uint8Array =>
  spliced(bytes, editTags(sourceOf(bytes), { fields }));
const read = (bytes: Uint8Array): Record<string, string[]> => fieldsIn(openTags(sourceOf(bytes)));
const holds = (bytes: Uint8Array, words: string): boolean => latin1(bytes).includes(words);

/** Pages of Ogg without their numbers and checksums. */
function unnumbered(sound: Uint8Array): Uint8Array {
  const out = sound.slice();
  for (let at = 0; latin1(out.subarray(at, at + 4)) === 'OggS';) {
    out.fill(0, at + 18, at + 26);
    at += 27 + out[at + 26]! + out.subarray(at + 27, at + 27 + out[at + 26]!).reduce((a, b) => a + b, 0);
  }
  return out;
}

const someText = fc
  .stringMatching(/^[A-Za-z0-9 äöüßéČ日本Ω.,'&()-]{1,40}$/)
  .map((t) => t.trim())
  .filter(Boolean);
const texts = ['title', 'album', 'albumArtist', 'comment', 'label', 'catalogueNumber', 'version'] as const;
const someFields = fc.dictionary(fc.constantFrom(...texts), fc.tuple(someText), { minKeys: 1, maxKeys: 4 });

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

test('pictures are put in, replaced and taken out', () => {
  const picture = { mime: 'image/png', data: Uint8Array.from({ length: 3000 }, (_, i) => i & 255) };
  for (const name of NAMES) {
    const file = FILES[name]!;
    const made = spliced(file, editTags(sourceOf(file), { fields: {}, picture }));
    expect({ name, picture: pictureIn(openTags(sourceOf(made))) }).toMatchObject({ name, picture });
    expect(read(made)).toEqual(read(file));
    const gone = spliced(made, editTags(sourceOf(made), { fields: {}, picture: null }));
    expect(pictureIn(openTags(sourceOf(gone)))).toBeNull();
  }
});

test('keys and numbers are spelled as tags have them', () => {
  const file = concat([id3(3, [text('TRCK', '3/12'), text('TKEY', 'Am')]), frames]);
  expect(read(after(file, { trackNumber: ['4'], key: ['g# minor'], year: ['2020'] }))).toMatchObject({
    trackNumber: ['4/12'],
    key: ['G#m'],
    year: ['2020'],
  });
  expect(holds(after(file, { year: ['2020'] }), 'TYER')).toBe(true);
  expect(() => after(file, { key: ['no key'] })).toThrow('"no key" is no key');
  expect(() => after(file, { rating: ['3'] })).toThrow(RangeError);
  expect(TAG_FIELDS.length).toBeGreaterThan(15);
});

describe('numbers of how many', () => {
  test('share one text with the number where a tag has it so, and each keeps the other', () => {
    const file = concat([id3(3, [text('TRCK', '3/12'), text('TPOS', '1')]), frames]);
    expect(read(file)).toMatchObject({ trackNumber: ['3/12'], trackTotal: ['12'], discNumber: ['1'] });
    expect(read(file).discTotal).toBeUndefined();
    const made = after(file, { trackTotal: ['14'], discTotal: ['2'] });
    expect(read(made)).toMatchObject({
      trackNumber: ['3/14'],
      trackTotal: ['14'],
      discNumber: ['1/2'],
      discTotal: ['2'],
    });
    expect(read(after(made, { trackTotal: [], discTotal: [] }))).toMatchObject({
      trackNumber: ['3'],
      discNumber: ['1'],
    });
    expect(read(after(made, { trackNumber: ['9'] })).trackTotal).toEqual(['14']);
    const unnumbered = after(made, { trackNumber: [] });
    expect(read(unnumbered)).toMatchObject({ trackNumber: ['0/14'], trackTotal: ['14'] });
    expect(valueIn(fieldOf('trackNumber'), ['0/14'])).toBeNull();
    expect(read(after(unnumbered, { trackTotal: [] })).trackNumber).toBeUndefined();
  });
  test.each(NAMES)('%s takes, gives and loses them', (name) => {
    const made = after(FILES[name]!, { trackNumber: ['3'], trackTotal: ['12'], discTotal: ['2'] });
    const said = read(made);
    if (said.trackTotal === undefined) {
      expect(openTags(sourceOf(made)).sets[0]!.family).toMatch(/riff|aiff/);
      return;
    }
    expect([
      said.trackTotal,
      said.discTotal,
      valueIn(fieldOf('trackNumber'), said.trackNumber!),
      valueIn(fieldOf('discNumber'), said.discNumber ?? []),
    ]).toEqual([['12'], ['2'], 3, null]);
    expect(read(after(made, { trackNumber: [], trackTotal: [], discTotal: [] }))).toEqual(read(FILES[name]!));
  });
  test('in Vorbis comments a total has a name of its own, or follows the number when it was written so', () => {
    const own = after(ogg(['TRACKNUMBER=3']), { trackTotal: ['12'] });
    expect([holds(own, 'TRACKNUMBER=3'), holds(own, 'TRACKNUMBER=3/'), holds(own, 'TRACKTOTAL=12')]).toEqual([
      true,
      false,
      true,
    ]);
    const pair = after(ogg(['TrackNumber=3/11']), { trackTotal: ['12'] });
    expect([holds(pair, 'TrackNumber=3/12'), holds(pair, 'TRACKTOTAL')]).toEqual([true, false]);
  });
});

test('moods go where each kind of tag has them', () => {
  const moods = ['dark', 'slow burn'];
  for (const name of NAMES) {
    const made = after(FILES[name]!, { moods });
    if (read(made).moods) expect([name, read(made).moods]).toEqual([name, moods]);
    else expect(openTags(sourceOf(made)).sets[0]!.family).toMatch(/riff|aiff/);
  }
  expect(holds(after(FILES['MP3 with v2.4']!, { moods }), 'TMOO')).toBe(true);
  const older = after(FILES['MP3 with v2.3']!, { moods });
  expect([holds(older, 'TMOO'), holds(older, 'TXXX')]).toEqual([false, true]);
  expect(holds(after(FILES.FLAC!, { moods }), 'MOOD=dark')).toBe(true);
});

test('a tag of v2.2 becomes one of v2.3 with everything in it, or is left when that cannot be', () => {
  const png = Uint8Array.from({ length: 200 }, (_, i) => (i * 7) & 255);
  const picture = old22('PIC', concat([Uint8Array.of(0), toLatin1('PNG'), Uint8Array.of(3, 0), png]));
  const file = concat([
    id3v22([old22('TT2', latinText('Old')), old22('TXX', latinText('mine\0kept')), picture], 100),
    frames,
  ]);
  expect(openTags(sourceOf(file)).sets[0]!.label).toBe('ID3v2.2');
  const made = after(file, { title: ['New'] });
  expect(made.length).toBe(file.length);
  const opened = openTags(sourceOf(made));
  expect([opened.sets[0]!.label, opened.sets[0]!.get('TXXX:mine'), pictureIn(opened)]).toEqual([
    'ID3v2.3',
    ['kept'],
    { mime: 'image/png', type: 3, data: png },
  ]);
  const strange = concat([id3v22([old22('TT2', latinText('Old')), old22('CRM', new Uint8Array(5))], 10), frames]);
  expect(read(strange).title).toEqual(['Old']);
  expect(() => after(strange, { title: ['New'] })).toThrow('"CRM"');
  expect(after(strange, { title: ['Old'] })).toEqual(strange);
});

test('files that are none are refused', () => {
  for (const bytes of [
    new Uint8Array(0),
    new Uint8Array(5000),
    toLatin1('Dear all, '.repeat(500)),
    id3(3, [text('TIT2', 'only a tag')]),
  ]) {
    expect(() => editTags(sourceOf(bytes), { fields: { title: ['x'] } })).toThrow(TagTrouble);
  }
});

test('gains are said as each container says them', () => {
  const fields = { trackGainDb: ['-6.5'], trackPeak: ['0.98'] };
  const mp3 = after(FILES['MP3 with v2.4']!, fields),
    opusFile = after(FILES.Opus!, fields);
  expect(holds(mp3, 'REPLAYGAIN_TRACK_GAIN\0-6.50 dB')).toBe(true);
  expect(holds(mp3, '0.980000')).toBe(true);
  expect(holds(opusFile, `R128_TRACK_GAIN=${(-6.5 - 5) * 256}`)).toBe(true);
  for (const made of [mp3, opusFile]) expect(read(made).trackGainDb).toEqual(['-6.5']);
  expect(() => after(FILES.FLAC!, { trackGainDb: ['loud'] })).toThrow('is no number');
});
