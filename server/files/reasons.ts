/** Why a file could not be read or written, as sentences. */
import { TagTrouble } from '@early-set/core/tags/bytes';

const CODES: Record<string, string> = {
  ENOENT: 'There is no such file',
  EACCES: 'The file may not be read or written',
  EPERM: 'The file may not be changed',
  EROFS: 'The disk is read-only',
  ENOSPC: 'The disk is full; the file is as it was',
  EDQUOT: 'The space you may use is full; the file is as it was',
  EISDIR: 'This is a folder',
  EIO: 'The disk reports an error',
  EBUSY: 'The file is in use',
  EMFILE: 'Too many files are open',
  ENAMETOOLONG: 'The name is too long for this disk',
};

/** The sentence for what went wrong with a file. @throws the error itself when it is not about files */
export function reasonOf(error: unknown): string {
  if (error instanceof TagTrouble || error instanceof RangeError) return error.message;
  const { code } = error as NodeJS.ErrnoException;
  if (code !== undefined && CODES[code]) return CODES[code];
  throw error;
}
