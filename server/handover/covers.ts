/** Covers as a destination wants them: in a folder of its own as PNG, named by the picture that they were made of. */
import { existsSync } from 'node:fs';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { ArtStore } from '../media/art.ts';
import { workOnPicture } from '../media/raster.ts';

const GROWING = '.early-set-';

export interface CoverWish {
  /** Made where it is not there. */
  folder: string;
  hashes: readonly string[];
  maxPixels: number;
}

/**
 * Lays pictures there that are not there yet. What is there stays as it is.
 * @param told after each, how many
 * @param gone nobody waits for it any more
 * @returns those that cannot be read (any more)
 */
export async function layCovers(
  art: ArtStore,
  { folder, hashes, maxPixels }: CoverWish,
  told: (done: number) => void,
  gone?: AbortSignal,
): Promise<string[]> {
  if (hashes.length === 0) return [];
  await mkdir(folder, { recursive: true });
  // What a kill has left.
  for (const name of await readdir(folder)) if (name.startsWith(GROWING)) await rm(join(folder, name), { force: true });
  const missing: string[] = [];
  for (const [at, hash] of hashes.entries()) {
    gone?.throwIfAborted();
    const path = join(folder, `${hash}.png`);
    if (!existsSync(path)) {
      const png = await pngOf(art, hash, maxPixels);
      if (png) await writeWhole(folder, path, png);
      else missing.push(hash);
    }
    told(at + 1);
  }
  return missing;
}

async function pngOf(art: ArtStore, hash: string, maxPixels: number): Promise<Buffer | null> {
  const original = await art.original(hash);
  return (
    original &&
    workOnPicture(original.data, (picture) =>
      picture.rotate().resize(maxPixels, maxPixels, { fit: 'inside', withoutEnlargement: true }).png().toBuffer(),
    )
  );
}

async function writeWhole(folder: string, path: string, data: Buffer): Promise<void> {
  const growing = join(folder, `${GROWING}${process.pid}`);
  const file = await open(growing, 'w');
  try {
    await file.writeFile(data);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(growing, path);
}
