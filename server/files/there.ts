/** Whether something lies at a path. */
import { lstat } from 'node:fs/promises';

/** A file, a folder, a link to anything. */
export const isThere = (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    () => false,
  );
