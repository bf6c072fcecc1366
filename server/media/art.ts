/** Pictures: stored once by content, shown as thumbnails made on first use. */
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from '../db/database.ts';
import { hashOfPicture } from './pictureHash.ts';
import { readThrough, workOnPicture } from './raster.ts';

export const THUMBNAIL_SIZES = [64, 160, 480] as const;

export interface ArtStore {
  /** Keeps a picture; returns its hash, or null when it is none that can be shown. */
  keep(data: Uint8Array): Promise<string | null>;
  /** A kept picture as it came; null when it is unknown. */
  original(hash: string): Promise<{ data: Uint8Array; mime: string } | null>;
  /** Where a kept picture lies; null when it is unknown. */
  whereIs(hash: string): Promise<{ path: string; mime: string } | null>;
  /** Path of a JPEG thumbnail with at most `size` pixels a side; null when the picture is unknown or broken. */
  thumbnail(hash: string, size: number): Promise<string | null>;
}

/** A JPEG thumbnail with `size` pixels a side; null for what is no picture. */
export const thumbnailOf = (data: Uint8Array, size: number): Promise<Buffer | null> =>
  workOnPicture(data, (picture) =>
    picture
      .rotate()
      .resize(size, size, { fit: 'cover' })
      .flatten({ background: '#fff' })
      .jpeg({ quality: 84 })
      .toBuffer(),
  );

/** Opens the store below a folder. */
export function openArtStore(folder: string, database: Database): ArtStore {
  const originals = join(folder, 'originals');
  const thumbnails = join(folder, 'thumbnails');
  const pathOf = (base: string, hash: string, ending: string): string =>
    join(base, hash.slice(0, 2), `${hash}${ending}`);

  const writeOnce = async (path: string, data: Uint8Array): Promise<void> => {
    if (existsSync(path)) return;
    await mkdir(join(path, '..'), { recursive: true });
    const temporary = `${path}.${process.pid}.${Math.random().toString(36).slice(2)}`;
    await writeFile(temporary, data);
    await rename(temporary, path);
  };

  return {
    async keep(data) {
      const hash = hashOfPicture(data);
      const path = pathOf(originals, hash, '');
      if (existsSync(path)) return hash;
      const info = await workOnPicture(data, async (picture) => {
        await readThrough(picture);
        return picture.metadata();
      });
      if (!info) return null;
      await writeOnce(path, data);
      await database.run(
        'INSERT INTO arts (hash, mime, bytes, width, height) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING',
        [hash, `image/${info.format}`, data.length, info.width ?? null, info.height ?? null],
      );
      return hash;
    },
    async original(hash) {
      const [known] = await database.rows<{ mime: string }>('SELECT mime FROM arts WHERE hash = $1', [hash]);
      const data = known ? await readFile(pathOf(originals, hash, '')).catch(() => null) : null;
      return known && data ? { data: new Uint8Array(data), mime: known.mime } : null;
    },
    async whereIs(hash) {
      const [known] = await database.rows<{ mime: string }>('SELECT mime FROM arts WHERE hash = $1', [hash]);
      return known ? { path: pathOf(originals, hash, ''), mime: known.mime } : null;
    },
    async thumbnail(hash, size) {
      if (!/^[0-9a-f]{40}$/.test(hash)) return null;
      const wanted = THUMBNAIL_SIZES.find((s) => s >= size) ?? THUMBNAIL_SIZES.at(-1)!;
      const path = pathOf(thumbnails, hash, `-${wanted}.jpg`);
      if (existsSync(path)) return path;
      const original = await readFile(pathOf(originals, hash, '')).catch(() => null);
      if (!original) return null;
      const jpeg = await thumbnailOf(original, wanted);
      if (!jpeg) return null;
      await writeOnce(path, jpeg);
      return path;
    },
  };
}
