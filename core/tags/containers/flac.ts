/** FLAC (RFC 9639): metadata blocks before the sound; ID3 tags in front of it, where a program put them, stay. */
import { be24, concat, latin1, sameBytes, TagTrouble, tidySplices, u24be, type Source } from '../bytes.ts';
import { parseFlacPicture, pictureBlock } from '../kinds/flacPicture.ts';
import { id3Length } from '../kinds/id3.ts';
import { openAnyId3 } from '../kinds/id3v22.ts';
import type { Container, Picture } from '../tagSet.ts';
import { openVorbis } from '../kinds/vorbis.ts';

const PADDING = 1,
  COMMENTS = 4,
  PICTURE = 6;
const NEW_PADDING = 4096;
const LONGEST = 2 ** 24 - 1;
const FRONT = 3;
/** Who wrote comments where there were none. */
const VENDOR = 'Early Set';

interface Block {
  type: number;
  body: Uint8Array;
}

/** Takes a FLAC file apart. @throws TagTrouble when its blocks do not add up */
export function openFlac(source: Source): Container {
  const fronts: { at: number; length: number }[] = [];
  let from = 0;
  for (let length = id3Length(source, 0); length > 0; length = id3Length(source, from)) {
    fronts.push({ at: from, length });
    from += length;
  }
  if (latin1(source.read(from, 4)) !== 'fLaC') throw new TagTrouble('No FLAC begins where it should');
  let blocks: Block[] = [];
  let at = from + 4;
  for (let last = false; !last;) {
    const head = source.read(at, 4);
    last = (head[0]! & 0x80) !== 0;
    const type = head[0]! & 0x7f;
    if (type === 127) throw new TagTrouble('The metadata blocks of this FLAC do not add up');
    blocks.push({ type, body: source.read(at + 4, u24be(head, 1)).slice() });
    at += 4 + u24be(head, 1);
  }
  if (blocks[0]?.type !== 0 || blocks[0].body.length < 34)
    throw new TagTrouble('This FLAC does not begin with what it is');
  if (at + 2 > source.size) throw new TagTrouble('There is no sound behind the metadata of this FLAC');
  const sync = source.read(at, 2);
  if (sync[0] !== 0xff || (sync[1]! & 0xfe) !== 0xf8)
    throw new TagTrouble('The sound of this FLAC does not begin where its metadata ends');
  const end = at;
  const had = blocks.find((b) => b.type === COMMENTS);
  const empty = concat([
    Uint8Array.of(VENDOR.length, 0, 0, 0),
    Uint8Array.from(VENDOR, (c) => c.charCodeAt(0)),
    new Uint8Array(4),
  ]);
  const comments = openVorbis(had?.body ?? empty, false);
  const pictureOf = (b: Block) => (b.type === PICTURE ? parseFlacPicture(b.body) : null);
  const shown = (): Block | undefined =>
    blocks.find((b) => pictureOf(b)?.type === FRONT) ?? blocks.find((b) => b.type === PICTURE);
  comments.picture = () => {
    const block = shown();
    return block ? pictureOf(block) : null;
  };
  comments.setPicture = (picture: Picture | null) => {
    const old = shown(),
      made = picture && { type: PICTURE, body: pictureBlock(picture) };
    blocks = old ? blocks.flatMap((b) => (b !== old ? [b] : made ? [made] : [])) : [...blocks, ...(made ? [made] : [])];
  };
  const tags = fronts.map((f) => ({ ...f, tag: openAnyId3(source.read(f.at, f.length)) }));

  const render = (): Uint8Array => {
    const body = comments.render();
    const kept = blocks.filter((b) => b.type !== PADDING).map((b) => (b.type === COMMENTS ? { ...b, body } : b));
    // Only where something is said, comments are made.
    if (!had && body.length !== empty.length) kept.push({ type: COMMENTS, body });
    const tooLong = kept.find((b) => b.body.length > LONGEST);
    if (tooLong) throw new TagTrouble('More than a FLAC block can hold');
    const bare = kept.reduce((sum, b) => sum + 4 + b.body.length, 0);
    const room = end - from - 4 - bare;
    const all = [...kept, ...paddingFor(room).map((length) => ({ type: PADDING, body: new Uint8Array(length) }))];
    return concat(
      all.flatMap((b, i) => [Uint8Array.of(b.type | (i === all.length - 1 ? 0x80 : 0)), be24(b.body.length), b.body]),
    );
  };
  const unchanged = (): boolean => sameBytes(comments.render(), had?.body ?? empty);
  const before = blocks;
  return {
    label: 'FLAC',
    sets: [comments, ...tags.map((t) => t.tag)],
    audio: [{ from: end, to: source.size }],
    splices: () =>
      tidySplices(source, [
        ...tags.filter((t) => t.tag.changed).map((t) => ({ at: t.at, remove: t.length, insert: t.tag.render() })),
        ...(unchanged() && blocks === before ? [] : [{ at: from + 4, remove: end - from - 4, insert: render() }]),
      ]),
  };
}

/** Padding blocks that fill the room there is; where there is none, the file grows and gets new room. */
function paddingFor(room: number): number[] {
  if (room === 0) return [];
  if (room < 4) return [NEW_PADDING];
  const total = room - 4;
  return total > LONGEST ? [LONGEST, Math.max(0, total - LONGEST - 4)] : [total];
}
