/** A file from outside copied into a library folder, and none over another. */
import { open, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { endingOf } from '@early-set/core/files/paths';
import { Problem } from '../base/problem.ts';
import { FileTrouble, type FilePool } from '../files/filePool.ts';
import { TAKEN } from '../files/place.ts';
import { isThere } from '../files/there.ts';
import { resolveForWriting } from '../media/roots.ts';

const MAX_TRIES = 1000;
const BLOCK = 1 << 20;

/** A copy under the first name that is free, or that holds the same bytes already. */
export async function copyNew(
  files: FilePool,
  from: string,
  rootPath: string,
  segments: readonly string[],
  signal: AbortSignal,
): Promise<{ path: string; here: boolean }> {
  const folders = segments.filter((s) => s !== '.').slice(0, -1),
    name = segments.at(-1)!,
    ending = endingOf(name);
  const { size, mtimeMs } = await stat(from);
  for (let n = 1; n < MAX_TRIES; n++) {
    const numbered = n === 1 ? name : `${name.slice(0, name.length - ending.length)} (${n})${ending}`;
    const to = await resolveForWriting(rootPath, [...folders, numbered]);
    const path = [...folders, numbered].join('/');
    if (await isThere(to)) {
      if (await sameBytes(from, to)) return { path, here: true };
      continue;
    }
    try {
      await files.ask({ op: 'place', mode: 'copy', from, to, size, modifiedMs: mtimeMs, begun: false }, { signal });
      return { path, here: false };
    } catch (error) {
      if (!(error instanceof FileTrouble)) throw error;
      if (error.message !== TAKEN) throw new Problem(409, 'not-placed', error.message);
    }
  }
  throw new Problem(409, 'file-exists', `There are too many files named ${basename(name)}`);
}

async function sameBytes(a: string, b: string): Promise<boolean> {
  const [one, other] = await Promise.all([stat(a), stat(b)]);
  if (one.size !== other.size || !other.isFile()) return false;
  const files = await Promise.all([open(a, 'r'), open(b, 'r')]);
  const [left, right] = [Buffer.allocUnsafe(BLOCK), Buffer.allocUnsafe(BLOCK)];
  try {
    for (let at = 0; at < one.size;) {
      const [{ bytesRead }, there] = await Promise.all([
        files[0].read(left, 0, BLOCK, at),
        files[1].read(right, 0, BLOCK, at),
      ]);
      if (bytesRead === 0 || bytesRead !== there.bytesRead) return false;
      if (!left.subarray(0, bytesRead).equals(right.subarray(0, bytesRead))) return false;
      at += bytesRead;
    }
    return true;
  } finally {
    await Promise.all(files.map((file) => file.close()));
  }
}
