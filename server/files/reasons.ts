/** Why a file could not be read or written, as sentences. */
import { TagTrouble } from '@early-set/core/tags/bytes';
import { Cancelled } from './place.ts';

const CODES: Record<string, string> = {
  ENOENT: 'There is no such file',
  ENOTEMPTY: 'The folder is not empty any more',
  ENOTDIR: 'There is no such folder',
  EACCES: 'The file may not be read or written',
  EPERM: 'The file may not be changed',
  EROFS: 'The drive is read-only',
  ENOSPC: 'The disk is full; the file is as it was',
  EDQUOT: 'The space you may use is full; the file is as it was',
  EFBIG: 'The file is too large for this drive',
  EISDIR: 'This is a folder',
  EIO: 'The drive reports an error',
  ENXIO: 'The drive is not there',
  ENODEV: 'The drive is not there',
  ESTALE: 'The drive was taken away and is another one now; scan the folder again',
  ENOTCONN: 'The drive is not there',
  ETIMEDOUT: 'The drive does not answer',
  EBUSY: 'The file is in use',
  ETXTBSY: 'The file is in use',
  EMFILE: 'Too many files are open',
  ENFILE: 'Too many files are open',
  ELOOP: 'The way to the file leads in a circle',
  EILSEQ: 'The name is none that this drive can hold',
  EINVAL: 'The name is none that this drive can hold',
  EXDEV: 'The file would have to go to another drive',
  ENAMETOOLONG: 'The name is too long for this drive',
};

/** The sentence for what went wrong with a file; also for what nobody has thought of, so that the rest goes on. */
export function reasonOf(error: unknown): string {
  if (
    error instanceof TagTrouble ||
    error instanceof RangeError ||
    error instanceof Cancelled ||
    (error as Error).name === 'HalfWritten'
  )
    return (error as Error).message;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code !== undefined && CODES[code]) return CODES[code];
  return `The file could not be worked on (${code ?? String(message).slice(0, 80)})`;
}
