/**
 * ID3v2.3 and v2.4 (id3.org: "ID3 tag version 2.3.0" and "2.4.0, main structure"). Frames that are not asked to change
 * stay as they are, in their order: private ones, chapters, other languages, compressed and encrypted ones.
 */
import {
  be16,
  be32,
  concat,
  crc32,
  isSynchsafe,
  latin1,
  synchsafe,
  TagTrouble,
  toLatin1,
  toSynchsafe,
  u16be,
  u32be,
  type Source,
} from '../bytes.ts';
import { EXTENDED_V23, EXTENDED_V24, FRAME_V23, FRAME_V24, TAG_FLAG } from './id3Flags.ts';
import { decodeText, decodeTexts, encodeText, encodeTexts, encodingFor, endOfText, textEnd } from './id3Text.ts';
import type { Picture, TagSet } from '../tagSet.ts';

/** A frame as it lies in the tag (raw, header included) and what it says. */
interface Frame {
  id: string;
  raw: Uint8Array;
  /** null when it is compressed or encrypted. */ body: Uint8Array | null;
}

/** Room left behind frames when a tag has to grow. */
const NEW_PADDING = 2048;
const HEADER = 10;

export interface Id3Tag extends TagSet {
  readonly version: 3 | 4;
  /** The whole tag, of the length it had where frames fit into it. */
  render(): Uint8Array;
  /** Whether anything was set since it was read. */
  readonly changed: boolean;
  readonly frameCount: number;
}

/** Frames of v2.4 that v2.3 does not know. */
const ONLY_V24 = new Set(['TDRC', 'TDOR', 'TMOO']);

/** Length of the tag at an offset, header and footer included; 0 when there is none. */
export function id3Length(source: Source, at: number): number {
  if (source.size - at < HEADER) return 0;
  const head = source.read(at, HEADER);
  if (latin1(head.subarray(0, 3)) !== 'ID3' || head[3] === 0xff || head[4] === 0xff || !isSynchsafe(head, 6)) return 0;
  return HEADER + synchsafe(head, 6) + (head[3] === 4 && head[5]! & TAG_FLAG.footer ? HEADER : 0);
}

/** Comments and lyrics: with a language and a description, one of each a language. */
const IN_LANGUAGES = ['COMM', 'USLT'];
/** Of each listener: an address, a rating from 1 to 255 (0 for none), and how often it was played. */
const RATING = 'POPM';

/**
 * Takes a tag apart; without bytes, a new one of that version.
 * @param room bytes that the tag may take before the file has to grow
 * @throws TagTrouble when it is of another version or its frames do not add up
 */

export function openId3(bytes: Uint8Array | null, newVersion: 3 | 4 = 4, room = bytes?.length ?? 0): Id3Tag {
  const major = bytes ? bytes[3]! : newVersion;
  if (major !== 3 && major !== 4) throw new TagTrouble(`Its ID3v2.${major} tag can be read, but not changed`);
  const flags = bytes ? bytes[5]! : 0;
  const unsynchronised = (flags & TAG_FLAG.unsynchronised) !== 0,
    footer = major === 4 && (flags & TAG_FLAG.footer) !== 0;
  let content: Uint8Array = bytes ? bytes.subarray(HEADER, HEADER + synchsafe(bytes, 6)) : new Uint8Array(0);
  // Before v2.4 the tag is unsynchronised as a whole, from then on each frame.
  if (unsynchronised && major === 3) content = resynchronise(content);
  const extended = flags & TAG_FLAG.extendedHeader ? extendedHeader(content, major) : null;
  let frames = framesOf(content, extended?.length ?? 0, major);
  let changed = false;

  const frameOf = (id: string, body: Uint8Array): Frame => {
    const stored = unsynchronised && major === 4 ? unsynchronise(body) : body;
    const size = major === 4 ? toSynchsafe(stored.length) : be32(stored.length);
    return {
      id,
      body,
      raw: concat([toLatin1(id), size, be16(unsynchronised && major === 4 ? FRAME_V24.unsynchronised : 0), stored]),
    };
  };
  /** Puts a frame in the place of the first that matches, takes the other matches out. */
  const replace = (matches: (f: Frame) => boolean, made: Frame | null): void => {
    const at = frames.findIndex(matches);
    const rest = frames.filter((f, i) => i === at || !matches(f));
    if (made && at >= 0) rest[at] = made;
    else if (made) rest.push(made);
    frames = made || at < 0 ? rest : rest.filter((_, i) => i !== at);
    changed = true;
  };

  return {
    family: 'id3',
    label: `ID3v2.${major}`,
    version: major,
    get changed() {
      return changed;
    },
    get frameCount() {
      return frames.length;
    },
    place: (names) =>
      names.includes('TDRC') && major === 3 ? 'TYER' : (names.find((n) => major === 4 || !ONLY_V24.has(n)) ?? null),
    get(name) {
      const found = frames
        .filter(matching(name))
        .map((f) => textsOf(f, name))
        .filter((t): t is string[] => t !== null);
      // They stand in several languages; the first is the one that is shown.
      if (IN_LANGUAGES.includes(name) || name === RATING) return found[0] ?? null;
      return found.length ? found.flat() : null;
    },
    set(name, texts) {
      // Of ratings, what others gave and how often it was played stays.
      if (texts.length === 0 && name !== RATING) {
        if (frames.some(matching(name))) replace(matching(name), null);
        return;
      }
      const old = frames.find(matching(name));
      if (texts.length === 0 && !old) return;
      const replaced =
        (IN_LANGUAGES.includes(name) || name === RATING) && old ? (f: Frame): boolean => f === old : matching(name);
      replace(replaced, frameOf(name.slice(0, 4), bodyFor(name, texts, major, old)));
    },
    picture() {
      const found = frames.map(pictureOf).filter((p) => p !== null);
      return found.find((p) => p.type === 3) ?? found[0] ?? null;
    },
    setPicture(picture) {
      const front = (f: Frame): boolean => pictureOf(f)?.type === 3;
      const others = frames.some((f) => pictureOf(f) !== null) && !frames.some(front);
      // A lone picture of another kind is what people see; it is the one they mean.
      const first = frames.find((f) => pictureOf(f) !== null);
      replace(
        others ? (f) => f === first : front,
        picture &&
          frameOf('APIC', concat([Uint8Array.of(0), toLatin1(picture.mime), Uint8Array.of(0, 3, 0), picture.data])),
      );
    },
    render() {
      const body = concat(frames.map((f) => f.raw));
      const build = (padding: number): Uint8Array => {
        const inside = concat([
          extended ? extended.render(body, padding) : new Uint8Array(0),
          body,
          new Uint8Array(padding),
        ]);
        const stored = unsynchronised && major === 3 ? unsynchronise(inside) : inside;
        if (stored.length >= 2 ** 28) throw new TagTrouble('More than an ID3 tag can hold');
        const head = concat([
          toLatin1('ID3'),
          Uint8Array.of(major, bytes ? bytes[4]! : 0, flags),
          toSynchsafe(stored.length),
        ]);
        return footer ? concat([head, stored, toLatin1('3DI'), head.subarray(3)]) : concat([head, stored]);
      };
      // A footer allows no padding.
      if (footer) return build(0);
      const bare = build(0);
      return bare.length <= room ? build(room - bare.length) : build(NEW_PADDING);
    },
  };
}

/** Zeros that were put between bytes that look like the start of an MPEG frame are taken out. */
export function resynchronise(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  let n = 0;
  for (let i = 0; i < bytes.length; i++) {
    out[n++] = bytes[i]!;
    if (bytes[i] === 0xff && bytes[i + 1] === 0) i++;
  }
  return out.subarray(0, n);
}

export function unsynchronise(bytes: Uint8Array): Uint8Array {
  const out: number[] = [];
  for (let i = 0; i < bytes.length; i++) {
    out.push(bytes[i]!);
    const next = bytes[i + 1];
    if (bytes[i] === 0xff && (next === undefined || next === 0 || next >= 0xe0)) out.push(0);
  }
  return Uint8Array.from(out);
}

/** An extended header; its checksum and its word on padding follow what is written. */
function extendedHeader(
  content: Uint8Array,
  major: 3 | 4,
): { length: number; render(frames: Uint8Array, padding: number): Uint8Array } {
  const length = content.length < 6 ? Infinity : major === 4 ? synchsafe(content, 0) : u32be(content, 0) + 4;
  if (length > content.length || length < 6) throw new TagTrouble('The extended header of its ID3 tag does not add up');
  const own = content.slice(0, length);
  if (major === 3) {
    return {
      length,
      render(frames, padding) {
        own.set(be32(padding), 6);
        if (own[4]! & EXTENDED_V23.checksum && own.length >= 14) own.set(be32(crc32(frames)), 10);
        return own;
      },
    };
  }
  return {
    length,
    render(frames, padding) {
      // Flag data follow each other in the order of their bits, each behind its length: update (none), checksum,
      // restrictions.
      let at = 6;
      if (own[5]! & EXTENDED_V24.update) at += 1 + own[at]!;
      if (own[5]! & EXTENDED_V24.checksum && own[at] === 5) {
        const crc = crc32(concat([frames, new Uint8Array(padding)]));
        own.set(concat([Uint8Array.of((crc >>> 28) & 15), toSynchsafe(crc & 0xfff_ffff)]), at + 1);
      }
      return own;
    },
  };
}

const FRAME_ID = /^[A-Z][A-Z0-9]{2}[A-Z0-9 ]$/;

function framesOf(content: Uint8Array, from: number, major: 3 | 4): Frame[] {
  const frames: Frame[] = [];
  for (let at = from; at + HEADER <= content.length && content[at] !== 0;) {
    const id = latin1(content.subarray(at, at + 4));
    if (!FRAME_ID.test(id)) throw new TagTrouble('The frames of its ID3 tag do not add up');
    const size = frameSize(content, at, major);
    const end = at + HEADER + size;
    if (end > content.length) throw new TagTrouble(`The frame ${id} of its ID3 tag is longer than the tag`);
    const raw = content.slice(at, end);
    frames.push({ id, raw, body: bodyOf(raw, major) });
    at = end;
  }
  return frames;
}

/** v2.4 counts in seven bits; some programs wrote eight all the same, which shows in what lies behind. */
function frameSize(content: Uint8Array, at: number, major: 3 | 4): number {
  const plain = u32be(content, at + 4);
  if (major === 3) return plain;
  if (!isSynchsafe(content, at + 4)) return plain;
  const safe = synchsafe(content, at + 4);
  if (safe === plain) return plain;
  const leads = (size: number): boolean => {
    const next = at + HEADER + size;
    return (
      next === content.length ||
      (next < content.length && (content[next] === 0 || FRAME_ID.test(latin1(content.subarray(next, next + 4)))))
    );
  };
  return !leads(safe) && leads(plain) ? plain : safe;
}

/** What a frame holds, without what its flags put before it; null when it is compressed or encrypted. */
function bodyOf(raw: Uint8Array, major: 3 | 4): Uint8Array | null {
  const flags = u16be(raw, 8);
  if (major === 3) {
    if (flags & (FRAME_V23.compressed | FRAME_V23.encrypted)) return null;
    return raw.subarray(HEADER + (flags & FRAME_V23.grouped ? 1 : 0));
  }
  if (flags & (FRAME_V24.compressed | FRAME_V24.encrypted)) return null;
  const before = (flags & FRAME_V24.grouped ? 1 : 0) + (flags & FRAME_V24.lengthGiven ? 4 : 0);
  const body = raw.subarray(HEADER + before);
  return flags & FRAME_V24.unsynchronised ? resynchronise(body) : body;
}

/** Whether a frame holds what a name stands for: "TXXX:NAME" by its description, "COMM" a comment without one. */
function matching(name: string): (f: Frame) => boolean {
  const [id, ...rest] = name.split(':');
  const description = rest.join(':').toUpperCase();
  if (id === 'TXXX')
    return (f) => f.id === 'TXXX' && f.body !== null && descriptionOf(f.body, 1).text.toUpperCase() === description;
  // Of comments those without a description; others hold what programs put there. Lyrics are lyrics, however described.
  if (id === 'COMM')
    return (f) => f.id === 'COMM' && f.body !== null && f.body.length >= 4 && descriptionOf(f.body, 4).text === '';
  return (f) => f.id === id;
}

function descriptionOf(body: Uint8Array, from: number): { text: string; next: number } {
  const { end, next } = textEnd(body[0]!, body, from);
  return { text: decodeText(body[0]!, body.subarray(from, end)), next };
}

function textsOf({ id, body }: Frame, name: string): string[] | null {
  // A counter of four bytes or more, the highest first.
  if (id === RATING && body) {
    const rating = body[body.indexOf(0) + 1];
    return body.includes(0) && rating !== undefined ? [String(rating)] : null;
  }
  if (id === 'PCNT' && body) return [String(body.reduce((n, byte) => n * 256 + byte, 0))];
  if (!body || body.length === 0 || body[0]! > 3) return null;
  if (name.startsWith('TXXX')) return decodeTexts(body[0]!, body, descriptionOf(body, 1).next);
  if (IN_LANGUAGES.includes(id))
    return body.length < 4 ? null : decodeTexts(body[0]!, body, descriptionOf(body, 4).next);
  return id.startsWith('T') ? decodeTexts(body[0]!, body, 1) : null;
}

/** The body of a text frame. The language of a comment and the spelling of a description are kept. */
function bodyFor(name: string, texts: readonly string[], major: 3 | 4, old: Frame | undefined): Uint8Array {
  const [id, ...rest] = name.split(':');
  if (IN_LANGUAGES.includes(id!)) {
    const description = old?.body ? descriptionOf(old.body, 4).text : '';
    const encoding = encodingFor(major, [description, ...texts]);
    const language = old?.body ? old.body.subarray(1, 4) : toLatin1('eng');
    const said =
      description === '' && encoding === 1
        ? Uint8Array.of(0xff, 0xfe, 0, 0)
        : concat([encodeText(encoding, description), endOfText(encoding)]);
    return concat([Uint8Array.of(encoding), language, said, encodeTexts(encoding, texts)]);
  }
  if (id === RATING) {
    const end = old?.body?.indexOf(0) ?? -1;
    const [address, plays] =
      end >= 0 ? [old!.body!.subarray(0, end), old!.body!.subarray(end + 2)] : [new Uint8Array(0), new Uint8Array(0)];
    return concat([address, Uint8Array.of(0, Number(texts[0] ?? 0)), plays]);
  }
  if (id === 'TXXX') {
    const description = old?.body ? descriptionOf(old.body, 1).text : rest.join(':');
    const encoding = encodingFor(major, [description, ...texts]);
    return concat([
      Uint8Array.of(encoding),
      encodeText(encoding, description),
      endOfText(encoding),
      encodeTexts(encoding, texts),
    ]);
  }
  const encoding = encodingFor(major, texts);
  return concat([Uint8Array.of(encoding), encodeTexts(encoding, texts)]);
}

function pictureOf({ id, body }: Frame): (Picture & { type: number }) | null {
  if (id !== 'APIC' || !body || body.length < 4) return null;
  const mimeEnd = body.indexOf(0, 1);
  if (mimeEnd < 0 || mimeEnd + 2 > body.length) return null;
  const { next } = textEnd(body[0]!, body, mimeEnd + 2);
  return { mime: latin1(body.subarray(1, mimeEnd)), type: body[mimeEnd + 1]!, data: body.subarray(next) };
}
