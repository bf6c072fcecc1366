/** What stands in a file, as far as Oystercatcher looks: is it sound that it plays, and what do its tags say? */
import { closeSync, openSync, readSync, statSync } from 'node:fs';

export interface Sound {
  title: string | null;
  artist: string | null;
}

/** It never reads more of a file at once. */
const MOST = 1 << 20;

function bytesOf(path: string, from: number, length: number): Buffer {
  const file = openSync(path, 'r');
  try {
    const bytes = Buffer.alloc(Math.min(length, MOST));
    return bytes.subarray(0, readSync(file, bytes, 0, bytes.length, from));
  } finally {
    closeSync(file);
  }
}

/** @returns what it knows of a file; a sentence why it does not play it */
export function soundOf(path: string): Sound | string {
  if (/\.mp3$/i.test(path)) return mp3(path);
  if (/\.m4a$/i.test(path)) return m4a(path);
  return 'its format is not played';
}

const synchsafe = (b: Buffer, at: number): number =>
  ((b[at]! & 127) << 21) | ((b[at + 1]! & 127) << 14) | ((b[at + 2]! & 127) << 7) | (b[at + 3]! & 127);

function mp3(path: string): Sound | string {
  const head = bytesOf(path, 0, 10);
  const sound: Sound = { title: null, artist: null };
  let from = 0;
  if (head.toString('latin1', 0, 3) === 'ID3') {
    from = 10 + synchsafe(head, 6);
    readId3(bytesOf(path, 0, from), sound);
  }
  // Fillers may stand between a tag and the first frame.
  const start = bytesOf(path, from, 1 << 16);
  for (let i = 0; i + 4 <= start.length; i++) if (isFrame(start, i)) return sound;
  return 'it holds no MPEG audio';
}

/** Layer III, with a bit rate and a sample rate that there are. */
const isFrame = (b: Buffer, at: number): boolean =>
  b[at] === 0xff &&
  (b[at + 1]! & 0xe6) === 0xe2 &&
  (b[at + 1]! & 0x18) !== 0x08 &&
  b[at + 2]! >> 4 !== 15 &&
  b[at + 2]! >> 4 !== 0 &&
  ((b[at + 2]! >> 2) & 3) !== 3;

function readId3(b: Buffer, sound: Sound): void {
  const version = b[3]!;
  if (version !== 3 && version !== 4) return;
  for (let at = 10; at + 10 < b.length && b[at] !== 0;) {
    const id = b.toString('latin1', at, at + 4),
      size = version === 4 ? synchsafe(b, at + 4) : b.readUInt32BE(at + 4);
    const text = (): string => id3Text(b.subarray(at + 10, at + 10 + size));
    if (id === 'TIT2') sound.title = text() || null;
    if (id === 'TPE1') sound.artist = text().replaceAll('\0', '; ') || null;
    at += 10 + size;
  }
}

function id3Text(b: Buffer): string {
  const how = b[0],
    rest = b.subarray(1);
  if (how === 1 || how === 2) {
    const big = how === 2 || (rest[0] === 0xfe && rest[1] === 0xff),
      marked = how === 1 ? rest.subarray(2) : rest;
    const even = Buffer.from(marked.subarray(0, marked.length & ~1));
    return (big ? even.swap16() : even).toString('utf16le').replace(/\0+$/, '');
  }
  return rest.toString(how === 3 ? 'utf8' : 'latin1').replace(/\0+$/, '');
}

interface Atom {
  type: string;
  from: number;
  to: number;
}
function* atomsIn(b: Buffer, start: number, end: number): Generator<Atom> {
  for (let at = start; at + 8 <= end;) {
    const size = b.readUInt32BE(at);
    if (size < 8) return;
    yield { type: b.toString('latin1', at + 4, at + 8), from: at + 8, to: Math.min(end, at + size) };
    at += size;
  }
}
const atomIn = (b: Buffer, start: number, end: number, type: string): Atom | undefined =>
  [...atomsIn(b, start, end)].find((a) => a.type === type);

/** Where the atom "moov" stands: from its first byte behind the head. */
function moovOf(path: string): Buffer | null {
  const { size: length } = statSync(path);
  for (let at = 0; at + 8 <= length;) {
    const head = bytesOf(path, at, 16);
    const small = head.readUInt32BE(0),
      size = small === 1 ? Number(head.readBigUInt64BE(8)) : small === 0 ? length - at : small;
    if (size < 8) return null;
    if (head.toString('latin1', 4, 8) === 'moov') return bytesOf(path, at + 8, size - 8);
    at += size;
  }
  return null;
}

function m4a(path: string): Sound | string {
  if (bytesOf(path, 4, 4).toString('latin1') !== 'ftyp') return 'it is no MP4 file';
  const moov = moovOf(path);
  if (!moov) return 'its MP4 file has no index';
  // The description of a sound names its coding; of AAC there is one of these.
  if (!moov.includes('mp4a', 0, 'latin1')) return 'it holds no AAC';
  let inside: Atom | undefined = { type: 'moov', from: 0, to: moov.length };
  for (const type of ['udta', 'meta', 'ilst']) {
    inside = inside && atomIn(moov, inside.from, inside.to, type);
    if (inside && type === 'meta') inside = { ...inside, from: inside.from + 4 };
  }
  const said = (type: string): string | null => {
    const item = inside && atomIn(moov, inside.from, inside.to, type),
      data = item && atomIn(moov, item.from, item.to, 'data');
    return data ? moov.toString('utf8', data.from + 8, data.to) || null : null;
  };
  return { title: said('\u00a9nam'), artist: said('\u00a9ART') };
}
