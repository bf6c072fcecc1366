/**
 * WAV (RIFF, and RF64 of EBU Tech 3306) and AIFF: chunks of one shape, little-endian in the one, big-endian in the
 * other. Tags lie in an ID3 chunk, and in plain text chunks that are kept in step: LIST INFO, NAME, AUTH, ANNO.
 */
import {
  be32,
  concat,
  latin1,
  le32,
  le64,
  TagTrouble,
  tidySplices,
  toLatin1,
  toUtf8,
  u32be,
  u32le,
  u64le,
  utf8Text,
  type Source,
  type Splice,
} from '../bytes.ts';
import { id3Length, openId3 } from '../kinds/id3.ts';
import { openAnyId3 } from '../kinds/id3v22.ts';
import type { Container, TagSet } from '../tagSet.ts';

/** A chunk of the file: where its header begins, and its body. */
interface Chunk {
  id: string;
  at: number;
  body: number;
  size: number;
}

/** The most bytes that are read of a chunk of tags. */
const MAX_CHUNK_BYTES = 2 ** 28;
const BIG = 0xffff_ffff;
/** Room left behind texts that have to grow; more than the other is given back. */
const NEW_ROOM = 1024,
  MOST_ROOM = 1 << 16;

interface Parts {
  wave: boolean;
  chunks: Chunk[];
  /** The chunks with sound. */
  sound: Chunk[];
  /** A chunk as it lies in the file, padded to an even length. */
  written(id: string, body: Uint8Array): Uint8Array;
  /** Another body in the place of a chunk; null: it goes. */
  instead(chunk: Chunk, body: Uint8Array | null): Splice;
  /** The same where texts come and go: with the filler behind it, room is kept or made for the next. */
  inRoom(chunk: Chunk, body: Uint8Array | null): Splice;
  /** A chunk behind all others. */
  behind(id: string, body: Uint8Array): Splice;
  /** All that has to change for these changes, the length of the whole too. */
  whole(changes: Splice[]): Splice[];
}

/** @throws TagTrouble when its chunks do not add up */
function partsOf(source: Source): Parts {
  const head = source.read(0, 12);
  const form = latin1(head.subarray(0, 4)),
    kind = latin1(head.subarray(8, 12));
  const wave = kind === 'WAVE';
  const u32 = wave ? u32le : u32be,
    to32 = wave ? le32 : be32;
  let total = u32(head, 4),
    dataSize: number | null = null,
    ds64: Chunk | null = null;
  const chunks: Chunk[] = [];
  let at = 12;
  for (; at + 8 <= Math.min(source.size, 8 + total);) {
    const h = source.read(at, 8);
    const id = latin1(h.subarray(0, 4));
    let size = u32(h, 4);
    if (!/^[\x20-\x7e]{4}$/.test(id)) throw new TagTrouble('Its chunks do not add up');
    if (id === 'data' && size === BIG && dataSize !== null) size = dataSize;
    if (at + 8 + size > source.size)
      throw new TagTrouble(
        size === BIG || id === 'data' || id === 'SSND'
          ? 'Its sound is cut off, or its length was never written'
          : `Its chunk "${id}" is longer than the file`,
      );
    const chunk = { id, at, body: at + 8, size };
    if (id === 'ds64' && form !== 'RIFF') {
      const sizes = source.read(at + 8, 16);
      total = u64le(sizes, 0);
      dataSize = u64le(sizes, 8);
      ds64 = chunk;
    }
    chunks.push(chunk);
    at += 8 + size + (size & 1);
  }
  // The last chunk may lack the byte that makes it even, or the whole may not count it.
  if (at > 8 + total + 1 || at > source.size + 1) throw new TagTrouble('Its chunks do not add up');
  const end = Math.min(at, source.size),
    unpadded = at - end;
  const sound = chunks.filter((c) => c.id === (wave ? 'data' : 'SSND'));
  if (sound.length === 0 || !chunks.some((c) => c.id === (wave ? 'fmt ' : 'COMM')))
    throw new TagTrouble('There is no sound in its chunks');
  if (8 + total > source.size + 1) throw new TagTrouble('It ends before it says it does');
  const written = (id: string, body: Uint8Array): Uint8Array =>
    concat([toLatin1(id), to32(body.length), body, new Uint8Array(body.length & 1)]);
  const span = (c: Chunk): number => Math.min(8 + c.size + (c.size & 1), source.size - c.at);
  const filler = wave ? 'JUNK' : 'FLLR';
  const instead = (c: Chunk, body: Uint8Array | null): Splice => ({
    at: c.at,
    remove: span(c),
    insert: body ? written(c.id, body) : new Uint8Array(0),
  });
  return {
    ...{ wave, chunks, sound, written, instead },
    inRoom(c, body) {
      const next = chunks[chunks.indexOf(c) + 1];
      const { at: from, remove: own, insert } = instead(c, body);
      const remove = own + (next?.id === filler ? span(next) : 0);
      const left = remove - insert.length;
      if (left === 0) return { at: from, remove, insert };
      const room = left >= 8 && left <= MOST_ROOM ? left - 8 : NEW_ROOM;
      return { at: from, remove, insert: concat([insert, written(filler, new Uint8Array(room))]) };
    },
    behind: (id, body) => ({ at: end, remove: 0, insert: concat([new Uint8Array(unpadded), written(id, body)]) }),
    whole(changes) {
      const out = [...changes];
      const grown = out.reduce((sum, s) => sum + s.insert.length - s.remove, 0);
      if (grown !== 0) {
        const size = Math.min(source.size, Math.max(8 + total, at)) - 8 + grown;
        if (ds64) out.push({ at: ds64.body, remove: 8, insert: le64(size) });
        else if (size > BIG) throw new TagTrouble('It would be longer than such a file can be');
        else out.push({ at: 4, remove: 4, insert: to32(size) });
      }
      return tidySplices(source, out);
    },
  };
}

/**
 * Sets whole chunks of a WAV (`cart`, `bext`): in the place of one that is there, else in front of the sound, where
 * those who read them look first. Nothing else moves; null takes one out.
 * @throws TagTrouble when its chunks do not add up, or it is no WAV
 */
export function setWaveChunks(source: Source, bodies: Readonly<Record<string, Uint8Array | null>>): Splice[] {
  const { wave, chunks, sound, instead, written, whole } = partsOf(source);
  if (!wave) throw new TagTrouble('It is no WAV');
  const changes: Splice[] = [];
  const fresh: Uint8Array[] = [];
  for (const [id, body] of Object.entries(bodies)) {
    const there = chunks.find((c) => c.id === id);
    if (there) changes.push(instead(there, body));
    else if (body) fresh.push(written(id, body));
  }
  if (fresh.length > 0) changes.push({ at: sound[0]!.at, remove: 0, insert: concat(fresh) });
  return whole(changes);
}

/** The body of a chunk; null where there is none, or it is too large to be one of these. */
export function waveChunk(source: Source, id: string): Uint8Array | null {
  const found = partsOf(source).chunks.find((c) => c.id === id && c.size < MAX_CHUNK_BYTES);
  return found ? source.read(found.body, found.size) : null;
}

/** Takes a WAV or AIFF apart. @throws TagTrouble when its chunks do not add up */
export function openIff(source: Source, newVersion: 3 | 4): Container {
  const { wave, chunks, sound, instead, inRoom, behind, whole } = partsOf(source);
  const isId3 = (c: Chunk): boolean => /^id3[ 2]$/i.test(c.id) && c.size >= 10 && id3Length(source, c.body) > 0;
  const id3Chunk = chunks.find(isId3);
  const id3 = id3Chunk
    ? openAnyId3(source.read(id3Chunk.body, Math.min(id3Chunk.size, id3Length(source, id3Chunk.body))))
    : openId3(null, newVersion);
  const infoChunk = wave
    ? chunks.find(
        (c) => c.id === 'LIST' && c.size >= 4 && c.size < MAX_CHUNK_BYTES && latin1(source.read(c.body, 4)) === 'INFO',
      )
    : undefined;
  const info = infoChunk ? openInfo(source.read(infoChunk.body, infoChunk.size)) : null;
  const texts = wave ? null : openTexts(source, chunks);

  return {
    label: wave ? 'WAV' : 'AIFF',
    sets: [id3, ...(info ? [info] : []), ...(texts ? [texts] : [])],
    audio: sound.map((c) => ({ from: c.body, to: c.body + c.size })),
    splices() {
      const out: Splice[] = [];
      if (id3Chunk && id3.changed) {
        // What lies in the chunk behind the tag stays; a tag that shrinks leaves its room to padding.
        out.push(
          instead(
            id3Chunk,
            concat([
              id3.render(),
              source.read(
                id3Chunk.body + id3Length(source, id3Chunk.body),
                Math.max(0, id3Chunk.size - id3Length(source, id3Chunk.body)),
              ),
            ]),
          ),
        );
      }
      if (infoChunk && info!.changed()) out.push(inRoom(infoChunk, info!.render()));
      for (const { chunk, body } of texts?.changes() ?? []) out.push(inRoom(chunk, body));
      if (!id3Chunk && id3.frameCount > 0) out.push(behind(wave ? 'id3 ' : 'ID3 ', id3.render()));
      return whole(out);
    },
  };
}

/** LIST INFO: texts under four letters, ended by zero, padded to even lengths. */
function openInfo(bytes: Uint8Array): TagSet & { render(): Uint8Array; changed(): boolean } {
  let items: { id: string; raw: Uint8Array; text: string }[] = [];
  let at = 4;
  for (; at + 8 <= bytes.length;) {
    const size = u32le(bytes, at + 4),
      end = at + 8 + size + (size & 1);
    if (at + 8 + size > bytes.length) throw new TagTrouble('The texts in its LIST chunk do not add up');
    items.push({
      id: latin1(bytes.subarray(at, at + 4)),
      raw: bytes.slice(at, Math.min(end, bytes.length)),
      text: utf8Text(bytes.subarray(at + 8, at + 8 + size)).replace(/\0[\s\S]*$/, ''),
    });
    at = end;
  }
  const rest = bytes.slice(Math.min(at, bytes.length));
  let changed = false;
  return {
    family: 'riff',
    label: 'RIFF INFO',
    changed: () => changed,
    place: (names) => names[0] ?? null,
    get(name) {
      const found = items.find((i) => i.id === name);
      return found ? [found.text] : null;
    },
    set(name, texts) {
      changed = true;
      const old = items.find((i) => i.id === name);
      if (texts.length === 0) {
        items = items.filter((i) => i.id !== name);
        return;
      }
      const text = texts.join('; '),
        body = concat([toUtf8(text), Uint8Array.of(0)]);
      const made = {
        id: name,
        text,
        raw: concat([toLatin1(name), le32(body.length), body, new Uint8Array(body.length & 1)]),
      };
      items = old ? items.map((i) => (i === old ? made : i)) : [...items, made];
    },
    render: () =>
      concat([
        bytes.subarray(0, 4),
        ...items.map((i) => (i.raw.length & 1 ? concat([i.raw, new Uint8Array(1)]) : i.raw)),
        rest,
      ]),
  };
}

/** The text chunks of AIFF. They are changed where they are there; new texts go into the ID3 chunk alone. */
function openTexts(
  source: Source,
  chunks: readonly Chunk[],
): TagSet & { changes(): { chunk: Chunk; body: Uint8Array | null }[] } {
  const set = new Map<Chunk, Uint8Array | null>();
  const find = (name: string): Chunk | undefined => chunks.find((c) => c.id === name && c.size < MAX_CHUNK_BYTES);
  return {
    family: 'aiff',
    label: 'AIFF texts',
    place: () => null,
    get(name) {
      const chunk = ['NAME', 'AUTH', 'ANNO'].includes(name) ? find(name) : undefined;
      const body = chunk && (set.has(chunk) ? set.get(chunk)! : source.read(chunk.body, chunk.size));
      return body ? [utf8Text(body).replace(/\0+$/, '')] : null;
    },
    set(name, texts) {
      const chunk = find(name);
      if (chunk) set.set(chunk, texts.length ? toUtf8(texts.join('; ')) : null);
    },
    changes: () => [...set].map(([chunk, body]) => ({ chunk, body })),
  };
}
