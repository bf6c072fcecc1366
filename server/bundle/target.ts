/** Where a bundle is written: a folder, or one zip. It grows under another name, and has its own when it is whole. */
import { ZipArchive } from 'archiver';
import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { PassThrough, Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { summed } from '../base/hashed.ts';
import { Problem } from '../base/problem.ts';

export interface WriteOptions {
  signal?: AbortSignal;
  tell?: (current: string, done: number, total: number) => Promise<void>;
}

export interface Target {
  /** Writes a file of it. @returns the sum of its bytes */
  file: (name: string, content: Readable) => Promise<string>;
  /** Gives it its name. */
  finish: () => Promise<void>;
  /** It came to nothing. */
  drop: () => Promise<void>;
}

/** @throws Problem when something of that name is there */
export function mustBeFree(path: string): void {
  if (existsSync(path)) throw new Problem(409, 'is-there', `${basename(path)} is there already; give it another name`);
}

/** @throws Problem when something of that name is there, or the folder is not */
export async function openTarget(path: string, zip: boolean): Promise<Target> {
  mustBeFree(path);
  // One at a time is written: what lies there was left by a kill.
  const growing = join(dirname(path), `.${basename(path)}.making`);
  await rm(growing, { recursive: true, force: true });
  const target = zip ? zipAt(growing) : await folderAt(growing);
  return {
    file: async (name, content) => {
      const { pieces, sha256 } = summed(content);
      await target.file(name, Readable.from(pieces));
      return sha256();
    },
    async finish() {
      await target.close();
      // No other name is taken, also not one that came meanwhile.
      mustBeFree(path);
      await rename(growing, path);
    },
    async drop() {
      await target.abandon();
      await rm(growing, { recursive: true, force: true });
    },
  };
}

interface Growing {
  file: (name: string, content: Readable) => Promise<void>;
  close: () => Promise<void>;
  /** Nothing more comes, and what there is is of no use. */
  abandon: () => Promise<void>;
}

async function folderAt(growing: string): Promise<Growing> {
  await mkdir(growing);
  return {
    async file(name, content) {
      const path = join(growing, name);
      await mkdir(dirname(path), { recursive: true });
      await pipeline(content, createWriteStream(path, { flags: 'wx', flush: true }));
    },
    close: () => Promise.resolve(),
    abandon: () => Promise.resolve(),
  };
}

function zipAt(growing: string): Growing {
  const zip = new ZipArchive({ zlib: { level: 1 } });
  const out = createWriteStream(growing, { flags: 'wx', flush: true });
  let failed: Error | null = null;
  const written = pipeline(zip, out).catch((error: Error) => void (failed = error));
  return {
    async file(name, content) {
      const through = new PassThrough();
      // What has been compressed is not compressed again.
      zip.append(through, { name, store: !name.endsWith('.jsonl') && !name.endsWith('.json') });
      const done = Promise.race([
        pipeline(content, through),
        written.then(() => {
          throw failed ?? new Error('The zip ended before its time');
        }),
      ]);
      await done;
    },
    async close() {
      await Promise.race([zip.finalize(), written]);
      await written;
      if (failed) throw failed;
    },
    async abandon() {
      zip.destroy();
      await written;
    },
  };
}
