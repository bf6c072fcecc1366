/** The picture block of FLAC (RFC 9639, 8.8), which Ogg files carry in base64; and the size of JPEG and PNG. */
import { be32, concat, toLatin1, u16be, u32be, utf8Text } from '../bytes.ts';
import type { Picture } from '../tagSet.ts';

/** Reads a block; null when its lengths do not add up. */
export function parseFlacPicture(b: Uint8Array): (Picture & { type: number }) | null {
  if (b.length < 32) return null;
  const mimeLength = u32be(b, 4),
    nameAt = 8 + mimeLength;
  if (nameAt + 4 > b.length) return null;
  const dataAt = nameAt + 4 + u32be(b, nameAt) + 16;
  if (dataAt + 4 > b.length || dataAt + 4 + u32be(b, dataAt) > b.length) return null;
  return {
    type: u32be(b, 0),
    mime: utf8Text(b.subarray(8, nameAt)),
    data: b.slice(dataAt + 4, dataAt + 4 + u32be(b, dataAt)),
  };
}

/** A front cover as a block, with its size where it can be told. */
export function pictureBlock({ mime, data }: Picture): Uint8Array {
  const { width, height, depth } = sizeOf(data);
  return concat([
    be32(3),
    be32(mime.length),
    toLatin1(mime),
    be32(0),
    be32(width),
    be32(height),
    be32(depth),
    be32(0),
    be32(data.length),
    data,
  ]);
}

function sizeOf(b: Uint8Array): { width: number; height: number; depth: number } {
  if (b.length > 26 && u32be(b, 0) === 0x8950_4e47)
    return {
      width: u32be(b, 16),
      height: u32be(b, 20),
      depth: b[24]! * ({ 0: 1, 2: 3, 3: 3, 4: 2, 6: 4 }[b[25]!] ?? 3),
    };
  // JPEG: the frame header is one of C0 to CF, but for C4, C8 and CC.
  for (let at = 2; b[0] === 0xff && b[1] === 0xd8 && at + 9 < b.length && b[at] === 0xff; at += 2 + u16be(b, at + 2)) {
    const kind = b[at + 1]!;
    if (kind >= 0xc0 && kind <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(kind))
      return { width: u16be(b, at + 7), height: u16be(b, at + 5), depth: b[at + 4]! * b[at + 9]! };
  }
  return { width: 0, height: 0, depth: 0 };
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

export function base64Of(bytes: Uint8Array): string {
  const out: string[] = [];
  for (let i = 0; i < bytes.length; i += 3) {
    const n = (bytes[i]! << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    out.push(
      DIGITS[n >> 18]! +
        DIGITS[(n >> 12) & 63]! +
        (i + 1 < bytes.length ? DIGITS[(n >> 6) & 63]! : '=') +
        (i + 2 < bytes.length ? DIGITS[n & 63]! : '='),
    );
  }
  return out.join('');
}

/** Reads base64, past anything that does not belong to it. */
export function bytesOfBase64(text: string): Uint8Array {
  const out = new Uint8Array(Math.floor((text.length * 3) / 4));
  let n = 0,
    bits = 0,
    length = 0;
  for (const c of text) {
    const v = DIGITS.indexOf(c);
    if (v < 0) continue;
    n = ((n << 6) | v) & 0xff_ffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      out[length++] = (n >> bits) & 255;
    }
  }
  return out.subarray(0, length);
}
