/** A bundle that is read: a folder or a zip. Whatever leads out of it, or is no plain file, is not read. */
import { createReadStream } from 'node:fs';
import { lstat, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { MANIFEST, readManifest, type BundleManifest } from '@early-set/core/bundle/manifest';
import { Problem } from '../base/problem.ts';

export interface Source {
  manifest: BundleManifest;
  /** @throws Problem when it is not in it */
  open: (name: string) => Promise<Readable>;
  close: () => Promise<void>;
}

const MAX_MANIFEST_BYTES = 50_000_000;

const broken = (words: string): Problem => new Problem(409, 'broken', words);

/** @throws Problem when it is none, or of a newer version */
export async function openSource(path: string): Promise<Source> {
  const info = await stat(path).catch(() => null);
  if (!info) throw new Problem(404, 'not-there', `There is nothing at ${path}`);
  const opened = info.isDirectory() ? folderOf(path) : await zipOf(path);
  try {
    const read = readManifest(await opened.manifest());
    if (!read.ok) throw broken(read.reason);
    return { manifest: read.manifest, open: opened.open, close: opened.close };
  } catch (error) {
    await opened.close();
    throw error;
  }
}

interface Opened {
  manifest: () => Promise<string>;
  open: (name: string) => Promise<Readable>;
  close: () => Promise<void>;
}

const leadsOut = (name: string): boolean =>
  name.startsWith('/') || name.includes('\0') || name.includes('\\') || name.split('/').includes('..');

function folderOf(folder: string): Opened {
  const plain = async (name: string): Promise<string> => {
    const path = join(folder, name);
    const info = leadsOut(name) ? null : await lstat(path).catch(() => null);
    if (!info?.isFile()) throw broken(`${name} is missing in the bundle`);
    return path;
  };
  return {
    manifest: async () => {
      const path = join(folder, MANIFEST);
      const info = await lstat(path).catch(() => null);
      if (!info?.isFile() || info.size > MAX_MANIFEST_BYTES) throw broken('This folder is no bundle of Early Set');
      return readFile(path, 'utf8');
    },
    open: async (name) => createReadStream(await plain(name), { highWaterMark: 1 << 18 }),
    close: () => Promise.resolve(),
  };
}

async function zipOf(path: string): Promise<Opened> {
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    yauzl.open(path, { lazyEntries: true, autoClose: false, validateEntrySizes: true }, (error, opened) =>
      error ? reject(broken('The zip is damaged, or is none')) : resolve(opened),
    ),
  );
  // Whatever else goes wrong with it is told by the stream that is read.
  zip.on('error', () => undefined);
  const entries = new Map<string, Entry>();
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      if (!leadsOut(entry.fileName) && !entry.fileName.endsWith('/')) entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.once('end', resolve);
    zip.once('error', () => reject(broken('The zip is damaged')));
    zip.readEntry();
  });
  const open = (name: string): Promise<Readable> =>
    new Promise((resolve, reject) => {
      const entry = entries.get(name);
      if (!entry) return reject(broken(`${name} is missing in the bundle`));
      zip.openReadStream(entry, (error, stream) =>
        error ? reject(broken(`${name} cannot be read: the zip is damaged`)) : resolve(stream),
      );
    });
  return {
    manifest: async () => {
      const size = entries.get(MANIFEST)?.uncompressedSize;
      if (size === undefined || size > MAX_MANIFEST_BYTES) throw broken('This zip is no bundle of Early Set');
      return text(await open(MANIFEST));
    },
    open,
    close: () => {
      zip.close();
      return Promise.resolve();
    },
  };
}
