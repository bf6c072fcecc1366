/**
 * Bytes of a file as tag surgery sees them: read where needed, changed by splices. Nothing here touches a disk; the
 * server turns splices into a rewritten file, or into a write in place when no splice changes a length.
 */

/** A file to read from. */
export interface Source {
  readonly size: number;
  /** @throws TagTrouble when the file ends before `at + length` */
  read(at: number, length: number): Uint8Array;
}

/** At `at` of the file as it was, `remove` bytes go and `insert` comes. */
export interface Splice {
  at: number;
  remove: number;
  insert: Uint8Array;
}

/** Why a file is left as it is, as a sentence for people. */
export class TagTrouble extends Error {
  override name = 'TagTrouble';
}

/** A source over bytes in memory. */
export function sourceOf(bytes: Uint8Array): Source {
  return {
    size: bytes.length,
    read(at, length) {
      if (at < 0 || length < 0 || at + length > bytes.length)
        throw new TagTrouble('The file ends in the middle of its structure');
      return bytes.subarray(at, at + length);
    },
  };
}

/** The bytes after splices that are in order and do not overlap. */
export function spliced(bytes: Uint8Array, splices: readonly Splice[]): Uint8Array {
  const parts: Uint8Array[] = [];
  let at = 0;
  for (const s of splices) {
    parts.push(bytes.subarray(at, s.at), s.insert);
    at = s.at + s.remove;
  }
  return concat([...parts, bytes.subarray(at)]);
}

/** Splices that change nothing are left out; the rest is put in order. */
export function tidySplices(source: Source, splices: readonly Splice[]): Splice[] {
  return splices
    .filter((s) => s.insert.length !== s.remove || !sameBytes(s.insert, source.read(s.at, s.remove)))
    .sort((a, b) => a.at - b.at || a.remove - b.remove);
}

/** Splices that turn the changed file into the one it was, at offsets of the changed file. */
export function inverseSplices(source: Source, splices: readonly Splice[]): Splice[] {
  let moved = 0;
  return splices.map((s) => {
    const back = { at: s.at + moved, remove: s.insert.length, insert: source.read(s.at, s.remove).slice() };
    moved += s.insert.length - s.remove;
    return back;
  });
}

export function concat(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

export const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((v, i) => v === b[i]);

export const u16be = (b: Uint8Array, at: number): number => (b[at]! << 8) | b[at + 1]!;
export const u24be = (b: Uint8Array, at: number): number => (b[at]! << 16) | (b[at + 1]! << 8) | b[at + 2]!;
export const u32be = (b: Uint8Array, at: number): number => b[at]! * 0x100_0000 + u24be(b, at + 1);
export const u32le = (b: Uint8Array, at: number): number =>
  b[at + 3]! * 0x100_0000 + ((b[at + 2]! << 16) | (b[at + 1]! << 8) | b[at]!);
export const u64be = (b: Uint8Array, at: number): number => u32be(b, at) * 2 ** 32 + u32be(b, at + 4);
export const u64le = (b: Uint8Array, at: number): number => u32le(b, at + 4) * 2 ** 32 + u32le(b, at);

export const be16 = (v: number): Uint8Array => Uint8Array.of(v >>> 8, v);
export const be24 = (v: number): Uint8Array => Uint8Array.of(v >>> 16, v >>> 8, v);
export const be32 = (v: number): Uint8Array => Uint8Array.of(v / 0x100_0000, v >>> 16, v >>> 8, v);
export const le32 = (v: number): Uint8Array => be32(v).reverse();
export const be64 = (v: number): Uint8Array => concat([be32(Math.floor(v / 2 ** 32)), be32(v % 2 ** 32)]);
export const le64 = (v: number): Uint8Array => be64(v).reverse();

/** Four seven-bit bytes, as ID3 counts. */
export const synchsafe = (b: Uint8Array, at: number): number =>
  (b[at]! << 21) | (b[at + 1]! << 14) | (b[at + 2]! << 7) | b[at + 3]!;
export const toSynchsafe = (v: number): Uint8Array =>
  Uint8Array.of((v >>> 21) & 127, (v >>> 14) & 127, (v >>> 7) & 127, v & 127);
export const isSynchsafe = (b: Uint8Array, at: number): boolean =>
  ((b[at]! | b[at + 1]! | b[at + 2]! | b[at + 3]!) & 0x80) === 0;

const utf8 = new TextEncoder();
const fromUtf8 = new TextDecoder('utf-8');

export const latin1 = (b: Uint8Array): string => {
  let text = '';
  for (const v of b) text += String.fromCharCode(v);
  return text;
};
export const toLatin1 = (text: string): Uint8Array =>
  Uint8Array.from(text, (c) => (c.charCodeAt(0) < 256 && c.length === 1 ? c.charCodeAt(0) : 63));
export const isLatin1 = (text: string): boolean =>
  Array.from(text).every((c) => c.charCodeAt(0) < 256 && c.length === 1);
export const toUtf8 = (text: string): Uint8Array => utf8.encode(text);
export const utf8Text = (b: Uint8Array): string => fromUtf8.decode(b);

/** Cyclic redundancy check of the usual reflected kind (ITU-T V.42), as ID3 and PNG have it. */
export function crc32(bytes: Uint8Array): number {
  let crc = 0xffff_ffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb8_8320 : 0);
  }
  return (crc ^ 0xffff_ffff) >>> 0;
}
