/** Is there enough room on a drive? */
import { statfs } from 'node:fs/promises';
import { bytes as inWords } from '@early-set/core/space/bytes';
import { Problem } from './problem.ts';

/** @param what "a backup", "the music". @throws Problem with both figures where there is not */
export async function mustHaveRoom(folder: string, bytes: number, what: string): Promise<void> {
  const { bavail, bsize } = await statfs(folder);
  if (bavail * bsize < bytes)
    throw new Problem(
      507,
      'no-room',
      `There is not enough room for ${what} in ${folder}: about ${inWords(bytes)} are needed, ` +
        `${inWords(bavail * bsize)} are free`,
    );
}
