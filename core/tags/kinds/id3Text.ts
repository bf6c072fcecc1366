/** Texts in ID3v2 frames: four encodings, each text ended by a zero of its width (ID3v2.4 structure, section 4). */
import { concat, isLatin1, latin1, toLatin1, toUtf8, utf8Text } from '../bytes.ts';

function utf16(bytes: Uint8Array, littleEndian: boolean): string {
  let text = '';
  for (let i = 0; i + 1 < bytes.length; i += 2)
    text += String.fromCharCode(littleEndian ? bytes[i]! | (bytes[i + 1]! << 8) : (bytes[i]! << 8) | bytes[i + 1]!);
  return text;
}

/** One text without its end. Sixteen bits without a mark are taken as they come from most programs: low byte first. */
export function decodeText(encoding: number, bytes: Uint8Array): string {
  if (encoding === 0) return latin1(bytes);
  if (encoding === 3) return utf8Text(bytes);
  if (encoding === 2) return utf16(bytes, false);
  const mark = bytes.length >= 2 ? (bytes[0]! << 8) | bytes[1]! : 0;
  return mark === 0xfeff ? utf16(bytes.subarray(2), false) : utf16(mark === 0xfffe ? bytes.subarray(2) : bytes, true);
}

/** Index behind the text that begins at `from`: of its end where there is one, else of the bytes. */
export function textEnd(encoding: number, bytes: Uint8Array, from: number): { end: number; next: number } {
  if (encoding === 0 || encoding === 3) {
    const end = bytes.indexOf(0, from);
    return end < 0 ? { end: bytes.length, next: bytes.length } : { end, next: end + 1 };
  }
  for (let i = from; i + 1 < bytes.length; i += 2)
    if (bytes[i] === 0 && bytes[i + 1] === 0) return { end: i, next: i + 2 };
  return { end: bytes.length, next: bytes.length };
}

/** All texts from an index on; ends at the end of the frame do not make an empty one. */
export function decodeTexts(encoding: number, bytes: Uint8Array, from: number): string[] {
  const out: string[] = [];
  for (let at = from; at < bytes.length;) {
    const { end, next } = textEnd(encoding, bytes, at);
    out.push(decodeText(encoding, bytes.subarray(at, end)));
    at = next;
  }
  while (out.length > 1 && out.at(-1) === '') out.pop();
  return out;
}

/** The encoding in which a version can hold texts: UTF-8 from v2.4 on, before that Latin-1 or sixteen bits. */
export const encodingFor = (version: 3 | 4, texts: readonly string[]): number =>
  version === 4 ? (texts.every(isAscii) ? 0 : 3) : texts.every(isLatin1) ? 0 : 1;

const isAscii = (text: string): boolean => Array.from(text).every((c) => c.charCodeAt(0) < 128);

export function encodeText(encoding: number, text: string): Uint8Array {
  if (encoding === 0) return toLatin1(text);
  if (encoding === 3) return toUtf8(text);
  const out = new Uint8Array(2 + text.length * 2);
  out.set([0xff, 0xfe]);
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    out[2 + 2 * i] = c & 255;
    out[3 + 2 * i] = c >> 8;
  }
  return out;
}

export const endOfText = (encoding: number): Uint8Array => new Uint8Array(encoding === 1 || encoding === 2 ? 2 : 1);

/** Texts with an end between each two. */
export const encodeTexts = (encoding: number, texts: readonly string[]): Uint8Array =>
  concat(
    texts.flatMap((t, i) => (i === 0 ? [encodeText(encoding, t)] : [endOfText(encoding), encodeText(encoding, t)])),
  );
