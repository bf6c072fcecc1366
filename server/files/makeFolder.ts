/** Folders made with those above them. */
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { isThereSync } from './there.ts';

/**
 * Makes a folder, and what it lies in; one that is there is left as it is. One level after the other: made at once,
 * Node.js says of a read-only drive that there is no such file.
 * @throws the system's error
 */
export function makeFolder(path: string): void {
  if (isThereSync(path)) return;
  if (dirname(path) !== path) makeFolder(dirname(path));
  try {
    mkdirSync(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error; // another process was quicker
  }
}
