/**
 * Opening what is meant to be a file. A pipe, a socket or a device in its place would block whoever opens or reads it:
 * none of them is waited for, and none is read.
 */
import { closeSync, constants, fstatSync, openSync } from 'node:fs';
import { open } from 'node:fs/promises';

export const NOT_REGULAR = 'This is no ordinary file';

const FLAGS = { read: constants.O_RDONLY, write: constants.O_RDWR } as const;

/** Opens an ordinary file. @throws RangeError for anything else; else the system's error */
export function openRegular(path: string, mode: keyof typeof FLAGS = 'read'): number {
  const file = openSync(path, FLAGS[mode] | constants.O_NONBLOCK);
  try {
    if (!fstatSync(file).isFile()) throw new RangeError(NOT_REGULAR);
    return file;
  } catch (error) {
    closeSync(file);
    throw error;
  }
}

/** Reads an ordinary file. @param maxBytes larger ones are not read @throws RangeError with what stands in the way */
export async function readRegular(path: string, maxBytes: number): Promise<Uint8Array> {
  const file = await open(path, FLAGS.read | constants.O_NONBLOCK);
  try {
    const stats = await file.stat();
    if (!stats.isFile()) throw new RangeError(NOT_REGULAR);
    if (stats.size > maxBytes) throw new RangeError('The file is too large for this');
    return new Uint8Array(await file.readFile());
  } finally {
    await file.close();
  }
}
