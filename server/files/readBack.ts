/** A file read from its drive, past what the computer's memory holds of it (O_DIRECT, open(2)). */
import { createHash } from 'node:crypto';
import { closeSync, constants, openSync, readSync } from 'node:fs';

const BLOCK = 4 << 20;
/** What a drive is read by begins at a multiple of this in memory, and so does every block. */
const PAGE = 4096;
/** Memory is handed out in steps of so many bytes. */
const STEP = 16;

let memory: Buffer | null = null;
/** Where in it a page begins; null: nobody has found out yet. */
let begins: number | null = null;

/**
 * SHA-256 of a file as its drive has it.
 * @returns null where the file system cannot be read so
 */
export function hashFromMedium(path: string): string | null {
  let file: number;
  try {
    file = openSync(path, constants.O_RDONLY | constants.O_DIRECT);
  } catch (error) {
    if (cannot(error)) return null;
    throw error;
  }
  try {
    const hash = createHash('sha256');
    for (let at = 0; ;) {
      const block = readBlock(file, at);
      if (block === null) return null;
      hash.update(block);
      at += block.length;
      // Only the last one is shorter.
      if (block.length < BLOCK) return hash.digest('hex');
    }
  } finally {
    closeSync(file);
  }
}

/** Null where it cannot be read so. */
function readBlock(file: number, at: number): Buffer | null {
  memory ??= Buffer.allocUnsafeSlow(BLOCK + PAGE);
  // Where memory lies is not told: the first beginning that the system takes is one.
  for (let begin = begins ?? 0; begin < PAGE; begin += STEP)
    try {
      const got = readSync(file, memory, begin, BLOCK, at);
      begins = begin;
      return memory.subarray(begin, begin + got);
    } catch (error) {
      if (!cannot(error)) throw error;
      if (begins !== null) return null;
    }
  return null;
}

const cannot = (error: unknown): boolean =>
  ['EINVAL', 'ENOTSUP', 'EOPNOTSUPP'].includes((error as NodeJS.ErrnoException).code ?? '');
