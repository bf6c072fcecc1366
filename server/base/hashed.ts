/** Copies with the sum of what was copied. */
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** Hands a stream on and sums it up; the sum is there when all of it has been read. */
export function summed(content: AsyncIterable<unknown>): { pieces: AsyncGenerator<Buffer>; sha256: () => string } {
  const hash = createHash('sha256');
  let sum: string | null = null;
  const pieces = async function* (): AsyncGenerator<Buffer> {
    for await (const piece of content) {
      hash.update(piece as Buffer);
      yield piece as Buffer;
    }
  };
  return { pieces: pieces(), sha256: () => (sum ??= hash.digest('hex')) };
}

/**
 * Writes a stream under a name that is given when its sum is known; until then it has another one in `folder`.
 * @param named may throw: nothing is left then
 * @param modes permissions of what is made
 */
export async function writeSummed(
  content: Readable,
  folder: string,
  named: (sha256: string) => string,
  modes = PRIVATE,
): Promise<string> {
  await mkdir(folder, { recursive: true, mode: modes.folder });
  const growing = join(folder, `.${randomUUID()}`);
  const { pieces, sha256 } = summed(content);
  try {
    await pipeline(pieces, createWriteStream(growing, { flags: 'wx', mode: modes.file, flush: true }));
    const path = named(sha256());
    await mkdir(dirname(path), { recursive: true, mode: modes.folder });
    await rename(growing, path);
    return sha256();
  } catch (error) {
    await rm(growing, { force: true });
    throw error;
  }
}
const PRIVATE = { folder: 0o700, file: 0o600 };
