/**
 * Ogg (RFC 3533) with Vorbis (Vorbis I, section 4 and A) or Opus (RFC 7845): the comment header is a packet of its own
 * behind the first page. It keeps room behind the comments for the next edit; when it takes more or fewer pages than
 * before, all pages behind it get new numbers.
 */
import { concat, latin1, le32, sameBytes, TagTrouble, tidySplices, u32le, type Source, type Splice } from '../bytes.ts';
import type { Container } from '../tagSet.ts';
import { openVorbis } from '../kinds/vorbis.ts';

interface Page {
  at: number;
  head: Uint8Array;
  body: number;
  length: number;
  serial: number;
  lacing: Uint8Array;
}

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let crc = n << 24;
  for (let k = 0; k < 8; k++) crc = crc & 0x8000_0000 ? (crc << 1) ^ 0x04c1_1db7 : crc << 1;
  return crc >>> 0;
});

/** The checksum of a page whose checksum field is zero. */
export function oggCrc(page: Uint8Array): number {
  let crc = 0;
  for (const byte of page) crc = ((crc << 8) ^ CRC[((crc >>> 24) ^ byte) & 255]!) >>> 0;
  return crc;
}

function pageAt(source: Source, at: number): Page {
  const fixed = source.read(at, 27);
  if (latin1(fixed.subarray(0, 4)) !== 'OggS' || fixed[4] !== 0)
    throw new TagTrouble('A page of this Ogg file is missing or broken');
  const head = source.read(at, 27 + fixed[26]!);
  const lacing = head.subarray(27);
  return {
    at,
    head,
    body: at + head.length,
    length: head.length + lacing.reduce((a, b) => a + b, 0),
    serial: u32le(head, 14),
    lacing,
  };
}

const CONTINUED = 1,
  FIRST = 2;
const SEGMENTS = 255,
  SEGMENT = 255;

/** Takes an Ogg file apart. @throws TagTrouble when its first pages do not add up, or hold something else */
export function openOgg(source: Source): Container {
  const first = pageAt(source, 0);
  const start = source.read(first.body, Math.min(8, first.length - first.head.length));
  const opus = latin1(start) === 'OpusHead',
    vorbis = latin1(start.subarray(0, 7)) === '\x01vorbis';
  if (!opus && !vorbis) throw new TagTrouble('This Ogg file holds neither Vorbis nor Opus');
  const wanted = opus ? 1 : 2;
  const packets: Uint8Array[] = [];
  const pages: Page[] = [];
  let open: Uint8Array[] = [];
  let at = first.length;
  while (packets.length < wanted) {
    const page = pageAt(source, at);
    if (page.serial !== first.serial) throw new TagTrouble('Several streams are mixed in this Ogg file');
    let from = page.body;
    for (const [i, length] of page.lacing.entries()) {
      open.push(source.read(from, length).slice());
      from += length;
      if (length < SEGMENT) {
        packets.push(concat(open));
        open = [];
      }
      if (packets.length === wanted && i < page.lacing.length - 1)
        throw new TagTrouble('The headers of this Ogg file do not end with their page');
    }
    pages.push(page);
    at += page.length;
  }
  const end = at;
  const prefix = opus ? 8 : 7;
  const comment = packets[0]!;
  if (latin1(comment.subarray(0, prefix)) !== (opus ? 'OpusTags' : '\x03vorbis'))
    throw new TagTrouble('The comments of this Ogg file are not where they belong');
  const comments = openVorbis(comment.subarray(prefix), true, opus);

  return {
    label: opus ? 'Opus' : 'Ogg',
    sets: [comments],
    audio: [{ from: end, to: source.size }],
    splices() {
      const whole = concat([comment.subarray(0, prefix), comments.render()]);
      if (sameBytes(whole, comment)) return [];
      const body = withRoom(whole.subarray(0, whole.length - zerosBehind(comments.rest)), comment.length);
      const made = paginate([body, ...packets.slice(1)], first.serial, u32le(pages[0]!.head, 18));
      const out: Splice[] = [{ at: first.length, remove: end - first.length, insert: concat(made) }];
      const more = made.length - pages.length;
      if (more !== 0) out.push(...renumbered(source, end, first.serial, more));
      return tidySplices(source, out);
    },
  };
}

/** Room left behind comments that have to grow. */
const NEW_ROOM = 2048;
/** More than this is given back. */
const MOST_ROOM = 1 << 16;

/** Zeros at the end of what lies behind the comments: readers stop before them (RFC 7845, 5.2; Vorbis I, 5.2.1). */
const zerosBehind = (rest: Uint8Array): number => {
  let bare = rest.length;
  while (bare > 0 && rest[bare - 1] === 0) bare--;
  return rest.length - bare;
};

/** A packet that takes the room there is, so that no page moves; else with new room. */
function withRoom(bare: Uint8Array, before: number): Uint8Array {
  const left = before - bare.length;
  return concat([bare, new Uint8Array(left >= 0 && left <= MOST_ROOM ? left : NEW_ROOM)]);
}

/** Pages for packets that begin with the first page and end with the last. */
function paginate(packets: readonly Uint8Array[], serial: number, number: number): Uint8Array[] {
  const lacing = packets.flatMap((p) => [
    ...Array.from({ length: Math.floor(p.length / SEGMENT) }, () => SEGMENT),
    p.length % SEGMENT,
  ]);
  const bytes = concat(packets);
  const pages: Uint8Array[] = [];
  for (let s = 0, at = 0; s < lacing.length; s += SEGMENTS) {
    const own = lacing.slice(s, s + SEGMENTS),
      length = own.reduce((a, b) => a + b, 0);
    // A page on which no packet ends has no position.
    const position = own.some((l) => l < SEGMENT) ? new Uint8Array(8) : new Uint8Array(8).fill(255);
    const head = concat([
      Uint8Array.of(79, 103, 103, 83, 0, s > 0 && lacing[s - 1] === SEGMENT ? CONTINUED : 0),
      position,
      le32(serial),
      le32(number + pages.length),
      le32(0),
      Uint8Array.of(own.length),
      Uint8Array.from(own),
    ]);
    pages.push(sealed(concat([head, bytes.subarray(at, at + length)])));
    at += length;
  }
  return pages;
}

function sealed(page: Uint8Array): Uint8Array {
  page.fill(0, 22, 26);
  page.set(le32(oggCrc(page)), 22);
  return page;
}

/**
 * New numbers and checksums for all pages of a stream from an offset on. A stream that is chained behind keeps its
 * own.
 */
function renumbered(source: Source, from: number, serial: number, more: number): Splice[] {
  const out: Splice[] = [];
  for (let at = from; at < source.size;) {
    const page = pageAt(source, at);
    if (page.head[5]! & FIRST) break;
    if (page.serial === serial) {
      const whole = source.read(at, page.length).slice();
      whole.set(le32(u32le(whole, 18) + more), 18);
      out.push({ at: at + 18, remove: 8, insert: sealed(whole).slice(18, 26) });
    }
    at += page.length;
  }
  return out;
}
