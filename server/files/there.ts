/** Whether something lies at a path. */
import { lstatSync } from 'node:fs';
import { lstat } from 'node:fs/promises';

/** A file, a folder, a link to anything. */
export const isThere = (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    () => false,
  );

export const isThereSync = (path: string): boolean => lstatSync(path, { throwIfNoEntry: false }) !== undefined;
