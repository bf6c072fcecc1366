/** Files that go with backups, each kept once under the hash of its bytes, however many backups have it. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { writeSummed } from '../base/hashed.ts';
import type { KeptFile } from './folder.ts';

export const OBJECTS = 'objects';

/** What of the data folder goes with the database: covers, states of destinations, plans of sticks. */
export const PARTS = ['art/originals', 'handover', 'sticks'] as const;

/** In the making, or made anew by itself. */
const PASSED_OVER = /^(?:\.|same-|making$)/;

const objectIn = (folder: string, sha256: string): string => join(folder, OBJECTS, sha256.slice(0, 2), sha256);

export async function hashOfFile(path: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(path, signal ? { signal } : {})) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** The files of a part of the data folder that are to be kept, by their paths below it. */
export async function* filesBelow(dataFolder: string, at: string): AsyncGenerator<string> {
  const entries = await readdir(join(dataFolder, at), { withFileTypes: true }).catch(() => []);
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    if (PASSED_OVER.test(entry.name)) continue;
    if (entry.isDirectory()) yield* filesBelow(dataFolder, join(at, entry.name));
    else if (entry.isFile()) yield join(at, entry.name);
  }
}

/** The files that go with the database. */
export async function* filesToKeep(dataFolder: string): AsyncGenerator<string> {
  for (const part of PARTS) yield* filesBelow(dataFolder, part);
}

/**
 * Keeps a file of the data folder; what stands in `known` with the same size and time is not read again.
 * @returns null when it has gone meanwhile
 */
export async function keepFile(
  dataFolder: string,
  folder: string,
  path: string,
  known: ReadonlyMap<string, KeptFile>,
): Promise<KeptFile | null> {
  const from = join(dataFolder, path);
  const info = await stat(from).catch(() => null);
  if (!info) return null;
  const before = known.get(path);
  const same = before?.bytes === info.size && before.modifiedMs === info.mtimeMs;
  if (same && (await stat(objectIn(folder, before.sha256)).catch(() => null))?.size === info.size) return before;
  try {
    const sha256 = await writeSummed(createReadStream(from), join(folder, OBJECTS), (sum) => objectIn(folder, sum));
    return { path, bytes: info.size, modifiedMs: info.mtimeMs, sha256 };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT' && !(await stat(from).catch(() => null))) return null;
    throw error;
  }
}

/** What is wrong with a kept file; null when it is what it should be. */
export async function troubleWith(folder: string, { path, bytes, sha256 }: KeptFile): Promise<string | null> {
  const object = objectIn(folder, sha256);
  const info = await stat(object).catch(() => null);
  if (!info) return `${path} is not there any more`;
  if (info.size !== bytes || (await hashOfFile(object)) !== sha256) return `${path} is not what it was`;
  return null;
}

/** Lays a kept file down again. @throws Error when it is not what it was */
export async function layFile(folder: string, file: KeptFile, to: string): Promise<void> {
  await writeSummed(createReadStream(objectIn(folder, file.sha256)), dirname(to), (sha256) => {
    if (sha256 !== file.sha256) throw new Error(`${file.path} is not what it was`);
    return to;
  });
  const seconds = file.modifiedMs / 1000;
  await utimes(to, seconds, seconds).catch(() => undefined);
}

/** Removes what no backup needs any more. */
export async function sweep(folder: string, needed: ReadonlySet<string>): Promise<void> {
  const base = join(folder, OBJECTS);
  for (const entry of await readdir(base, { withFileTypes: true }).catch(() => [])) {
    if (!entry.isDirectory()) {
      await rm(join(base, entry.name), { force: true });
      continue;
    }
    for (const name of await readdir(join(base, entry.name)))
      if (!needed.has(name)) await rm(join(base, entry.name, name), { force: true });
  }
}
