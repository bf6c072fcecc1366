/** Files as bytes, one of each kind that holds tags, for tests. */
import fc from 'fast-check';
import { be32, concat, latin1, le32, sourceOf, spliced, toLatin1, toSynchsafe, toUtf8 } from '../tags/bytes.ts';
import { editTags, fieldsIn, openTags } from '../tags/edit.ts';
import { unsynchronise } from '../tags/kinds/id3.ts';
import { oggCrc } from '../tags/containers/ogg.ts';

/** Sound that is none, but looks like it: MPEG frames of 417 bytes, FLAC's first frame, samples. */
export const frames = concat(
  Array.from({ length: 6 }, (_, i) => concat([Uint8Array.of(0xff, 0xfb, 0x90, 0x00), new Uint8Array(413).fill(i + 1)])),
);

export const frame = (version: 3 | 4, id: string, body: Uint8Array, flags = 0): Uint8Array =>
  concat([
    toLatin1(id),
    version === 4 ? toSynchsafe(body.length) : be32(body.length),
    Uint8Array.of(flags >> 8, flags & 255),
    body,
  ]);
export const text = (id: string, words: string, version: 3 | 4 = 3): Uint8Array =>
  frame(version, id, concat([Uint8Array.of(0), toLatin1(words)]));
export function id3(
  version: 3 | 4,
  parts: Uint8Array[],
  { padding = 0, flags = 0, extended = new Uint8Array(0) } = {},
): Uint8Array {
  let body = concat([extended, ...parts, new Uint8Array(padding)]);
  if (flags & 0x80 && version === 3) body = unsynchronise(body);
  return concat([toLatin1('ID3'), Uint8Array.of(version, 0, flags), toSynchsafe(body.length), body]);
}
export const priv = frame(3, 'PRIV', concat([toLatin1('somebody\0'), Uint8Array.of(0xff, 0xe0, 0xff, 0x00, 1, 2, 3)]));
export const foreign = frame(3, 'COMM', concat([Uint8Array.of(0), toLatin1('deuNotiz\0auf deutsch')]));

export function ape(items: [string, string][], withHeader = true): Uint8Array {
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
export function id3v1(title: string): Uint8Array {
  const out = new Uint8Array(128);
  out.set(toLatin1(`TAG${title}`));
  out[127] = 17;
  return out;
}
export const vorbis = (comments: string[]): Uint8Array =>
  concat([
    le32(4),
    toLatin1('test'),
    le32(comments.length),
    ...comments.flatMap((c) => [le32(toUtf8(c).length), toUtf8(c)]),
  ]);
export function flac(comments: string[] | null, padding: number, others: [number, Uint8Array][] = []): Uint8Array {
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
export const chunk = (id: string, body: Uint8Array, big = false): Uint8Array =>
  concat([toLatin1(id), big ? be32(body.length) : le32(body.length), body, new Uint8Array(body.length & 1)]);
export function wav(chunks: Uint8Array[]): Uint8Array {
  const body = concat([toLatin1('WAVE'), chunk('fmt ', new Uint8Array(16)), ...chunks]);
  return concat([toLatin1('RIFF'), le32(body.length), body]);
}
export function aiff(chunks: Uint8Array[]): Uint8Array {
  const body = concat([toLatin1('AIFF'), chunk('COMM', new Uint8Array(18), true), ...chunks]);
  return concat([toLatin1('FORM'), be32(body.length), body]);
}
export const info = (items: [string, string][]): Uint8Array =>
  chunk(
    'LIST',
    concat([toLatin1('INFO'), ...items.map(([id, v]) => chunk(id, concat([toLatin1(v), Uint8Array.of(0)])))]),
  );
export function oggPage(number: number, packets: Uint8Array[], kind = 0, last = true): Uint8Array {
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
export const ogg = (comments: string[]): Uint8Array =>
  concat([
    oggPage(0, [concat([toLatin1('\x01vorbis'), new Uint8Array(23)])], 2),
    oggPage(1, [
      concat([toLatin1('\x03vorbis'), vorbis(comments), Uint8Array.of(1)]),
      concat([toLatin1('\x05vorbis'), new Uint8Array(300).fill(3)]),
    ]),
    ...Array.from({ length: 5 }, (_, i) => oggPage(2 + i, [new Uint8Array(700).fill(i)])),
  ]);
export const opus = (comments: string[]): Uint8Array =>
  concat([
    oggPage(0, [concat([toLatin1('OpusHead'), new Uint8Array(11)])], 2),
    oggPage(1, [concat([toLatin1('OpusTags'), vorbis(comments)])]),
    oggPage(2, [new Uint8Array(500).fill(4)]),
  ]);
export const atom = (type: string, ...parts: Uint8Array[]): Uint8Array => {
  const body = concat(parts);
  return concat([be32(body.length + 8), toLatin1(type), body]);
};
export const item = (type: string, words: string): Uint8Array =>
  atom(type, atom('data', be32(1), be32(0), toUtf8(words)));
export function m4a({
  items,
  fast,
  free = 0,
}: {
  items: Uint8Array[] | null;
  fast: boolean;
  free?: number;
}): Uint8Array {
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

export const old22 = (id: string, body: Uint8Array): Uint8Array =>
  concat([toLatin1(id), Uint8Array.of(body.length >> 16, body.length >> 8, body.length), body]);
export const id3v22 = (parts: Uint8Array[], padding: number): Uint8Array => {
  const body = concat([...parts, new Uint8Array(padding)]);
  return concat([toLatin1('ID3'), Uint8Array.of(2, 0, 0), toSynchsafe(body.length), body]);
};
export const latinText = (words: string): Uint8Array => concat([Uint8Array.of(0), toLatin1(words)]);

export const old = { TIT2: 'Old title', TPE1: 'Somebody' };
export const FILES: Record<string, Uint8Array> = {
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
export const NAMES = Object.keys(FILES);
export const soundOf = (bytes: Uint8Array): Uint8Array =>
  concat(openTags(sourceOf(bytes)).audio.map((a) => bytes.slice(a.from, a.to)));
export const after = (bytes: Uint8Array, fields: Record<string, string[]>): Uint8Array =>
  spliced(bytes, editTags(sourceOf(bytes), { fields }));
export const read = (bytes: Uint8Array): Record<string, string[]> => fieldsIn(openTags(sourceOf(bytes)));
export const holds = (bytes: Uint8Array, words: string): boolean => latin1(bytes).includes(words);

/** Pages of Ogg without their numbers and checksums. */
export function unnumbered(sound: Uint8Array): Uint8Array {
  const out = sound.slice();
  for (let at = 0; latin1(out.subarray(at, at + 4)) === 'OggS';) {
    out.fill(0, at + 18, at + 26);
    at += 27 + out[at + 26]! + out.subarray(at + 27, at + 27 + out[at + 26]!).reduce((a, b) => a + b, 0);
  }
  return out;
}

export const someText = fc
  .stringMatching(/^[A-Za-z0-9 äöüßéČ日本Ω.,'&()-]{1,40}$/)
  .map((t) => t.trim())
  .filter(Boolean);
export const texts = ['title', 'album', 'albumArtist', 'comment', 'label', 'catalogueNumber', 'version'] as const;
export const someFields = fc.dictionary(fc.constantFrom(...texts), fc.tuple(someText), { minKeys: 1, maxKeys: 4 });
