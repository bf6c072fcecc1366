/** What a drive says when something cannot be written, as a sentence with its place. */
import { Problem } from './problem.ts';

/** @param then what has not come about, "the backup was not made" */
export function sayingWhere(error: unknown, path: string, then: string): unknown {
  if (error instanceof Problem) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC' || code === 'EDQUOT' || /No space left|could not write|disk full/i.test(message))
    return new Problem(507, 'no-room', `The drive of ${path} is full; ${then}`);
  if (code === 'ENOENT' || code === 'ENXIO' || code === 'ENODEV' || code === 'ENOTDIR')
    return new Problem(409, 'away', `This is not there: ${path}; ${then}`);
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new Problem(409, 'unwritable', `Nothing may be written at ${path}; ${then}`);
  if (code === 'EIO') return new Problem(409, 'drive', `The drive of ${path} reports an error; ${then}`);
  return error;
}
