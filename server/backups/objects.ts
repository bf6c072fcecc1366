/** Files that go with backups, each kept once under the hash of its bytes, however many backups have it. */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
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

/** Copies a file under another name of its folder, tells what was in it, and gives it the name that `named` makes. */
async function copyAs(from: string, folder: string, named: (sha256: string) => string): Promise<string> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const growing = join(folder, `.${randomUUID()}`);
  const hash = createHash('sha256');
  try {
    await pipeline(
      createReadStream(from),
      async function* (pieces: AsyncIterable<Buffer>) {
        for await (const piece of pieces) {
          hash.update(piece);
          yield piece;
        }
      },
      createWriteStream(growing, { flags: 'wx', mode: 0o600, flush: true }),
    );
    const sha256 = hash.digest('hex');
    const path = named(sha256);
    await mkdir(dirname(path), { recursive: true, mode: 0o700 });
    await rename(growing, path);
    return sha256;
  } catch (error) {
    await rm(growing, { force: true });
    throw error;
  }
}

/** The files of the data folder that go with the database, by their paths below it. */
export async function* filesToKeep(dataFolder: string): AsyncGenerator<string> {
  const walk = async function* (at: string): AsyncGenerator<string> {
    const entries = await readdir(join(dataFolder, at), { withFileTypes: true }).catch(() => []);
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (PASSED_OVER.test(entry.name)) continue;
      if (entry.isDirectory()) yield* walk(join(at, entry.name));
      else if (entry.isFile()) yield join(at, entry.name);
    }
  };
  for (const part of PARTS) yield* walk(part);
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
    const sha256 = await copyAs(from, join(folder, OBJECTS), (sum) => objectIn(folder, sum));
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
  const sum = await copyAs(objectIn(folder, file.sha256), dirname(to), () => to);
  if (sum !== file.sha256) {
    await rm(to, { force: true });
    throw new Error(`${file.path} is not what it was`);
  }
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
