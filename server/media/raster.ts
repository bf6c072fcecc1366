/**
 * Pictures from outside, taken for what their bytes say: JPEG, PNG, WebP and GIF only, of a size that can be worked on,
 * one at a time and not for ever. Vector drawings can hold work without end and are none of them.
 */
import sharp, { type Sharp } from 'sharp';
import { hashOfPicture } from './pictureHash.ts';

/** Larger files are not read. */
export const MAX_PICTURE_BYTES = 30 * 1024 * 1024;
const MAX_PIXELS = 64_000_000;
const TIMEOUT_SECONDS = 20;
const MAX_REMEMBERED = 2000;

export type RasterKind = 'jpeg' | 'png' | 'webp' | 'gif';

/** What a picture is by its first bytes; null for all that is not taken. */
export function rasterKind(data: Uint8Array): RasterKind | null {
  const text = (from: number, to: number): string => String.fromCharCode(...data.subarray(from, to));
  if (data[0] === 0xff && data[1] === 0xd8 && data[2] === 0xff) return 'jpeg';
  if (data[0] === 0x89 && text(1, 4) === 'PNG') return 'png';
  if (text(0, 4) === 'RIFF' && text(8, 12) === 'WEBP') return 'webp';
  return /^GIF8[79]a$/.test(text(0, 6)) ? 'gif' : null;
}

/** Opens a picture for work; null for what is none that is taken. */
export const openRaster = (data: Uint8Array): Sharp | null =>
  data.length > 0 && data.length <= MAX_PICTURE_BYTES && rasterKind(data)
    ? sharp(data, { limitInputPixels: MAX_PIXELS, failOn: 'truncated' }).timeout({ seconds: TIMEOUT_SECONDS })
    : null;

const refused = new Set<string>();

let last: Promise<unknown> = Promise.resolve();

/** Does work on a picture when all before it are done. What could not be read once is refused without trying again. */
export function workOnPicture<T>(data: Uint8Array, work: (picture: Sharp) => Promise<T>): Promise<T | null> {
  const next = last.then(async () => {
    const picture = openRaster(data);
    const hash = hashOfPicture(data);
    if (!picture || refused.has(hash)) return null;
    try {
      return await work(picture);
    } catch {
      if (refused.size >= MAX_REMEMBERED) refused.clear();
      refused.add(hash);
      return null;
    }
  });
  last = next;
  return next;
}

/** Reads a picture through to its last pixel: a truncated one fails. */
export const readThrough = async (picture: Sharp): Promise<void> => {
  await picture.clone().resize(8, 8).raw().toBuffer();
};
