/** A bundle beside the library that is here: it becomes a destination that is only read. */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { MANIFEST, type BundleManifest, type FolderPlace } from '@early-set/core/bundle/manifest';
import { COMPARED_PARTS } from '@early-set/core/exchange/bundle/format';
import type { PathMap } from '@early-set/core/relink/pathMap';
import { writeSummed } from '../base/hashed.ts';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { mustBeWhole } from './read.ts';
import { openSource, type Source } from './source.ts';

/** Zips that are compared lie here, unpacked. */
const UNPACKED = 'unpacked-bundles';

/** @throws Problem when it cannot be read, or is not whole */
export async function addBundle(
  { database, dataFolder }: { database: Database; dataFolder: string },
  path: string,
  places: readonly FolderPlace[],
): Promise<{ id: number }> {
  const source = await openSource(path);
  try {
    const { parts, folders } = source.manifest;
    for (const part of parts) if (isCompared(part.name)) await mustBeWhole(source, part);
    const info = await stat(path);
    const folder = info.isDirectory()
      ? path
      : await unpacked(source, dataFolder, `${path}\n${info.size}\n${info.mtimeMs}`);
    const [row] = await database.rows<{ id: number }>(
      `INSERT INTO destinations (kind, name, folder, settings) VALUES ('bundle', $1, $2, $3::jsonb)
        ON CONFLICT (folder) DO UPDATE SET settings = destinations.settings || excluded.settings
          WHERE destinations.kind = 'bundle' RETURNING id`,
      [basename(path).replace(/\.zip$/i, ''), folder, JSON.stringify({ maps: mapsOf(folders, places) })],
    );
    if (!row) throw new Problem(409, 'there-already', `${folder} is a destination already`);
    await database.notify({ kind: 'destinations' });
    return row;
  } finally {
    await source.close();
  }
}

const isCompared = (name: string): boolean => (COMPARED_PARTS as readonly string[]).includes(name);

/** Paths there as they are here. Music that goes along is found in the bundle, and recognised by its sound. */
function mapsOf(folders: BundleManifest['folders'], places: readonly FolderPlace[]): PathMap[] {
  const here = new Map(places.map(({ id, path }) => [id, path]));
  return folders.flatMap(({ id, path }) => {
    const to = here.get(id) ?? path;
    return to === path ? [] : { from: path, to };
  });
}

/** The parts that are compared, in a folder of their own; what was unpacked before is taken as it is. */
async function unpacked(source: Source, dataFolder: string, which: string): Promise<string> {
  const name = createHash('sha256').update(which).digest('hex').slice(0, 16);
  const folder = join(dataFolder, UNPACKED, name);
  if (existsSync(folder)) return folder;
  const growing = `${folder}.making`;
  await rm(growing, { recursive: true, force: true });
  await mkdir(growing, { recursive: true, mode: 0o700 });
  try {
    for (const { name: part } of source.manifest.parts)
      if (isCompared(part)) await lay(source, growing, `${part}.jsonl`);
    await lay(source, growing, MANIFEST);
    await rename(growing, folder);
    return folder;
  } catch (error) {
    await rm(growing, { recursive: true, force: true });
    throw error;
  }
}

const lay = async (source: Source, folder: string, file: string): Promise<unknown> =>
  writeSummed(await source.open(file), folder, () => join(folder, file));

/** What was unpacked for it goes with a destination. */
export async function forgetUnpacked(dataFolder: string, folder: string): Promise<void> {
  if (folder.startsWith(`${join(dataFolder, UNPACKED)}/`)) await rm(folder, { recursive: true, force: true });
}
