/** A file that arrived or was made put below a root, under the first name that is free. */
import { stat } from 'node:fs/promises';
import { resolveForWriting } from '../media/roots.ts';
import { Problem } from '../base/problem.ts';
import { FileTrouble, type FilePool } from './filePool.ts';
import { TAKEN } from './place.ts';

const MAX_TRIES = 1000;

/**
 * Moves a file to a name below a root; where one is, the new one gets a number.
 * @param segments folders and name below the root
 * @returns the path below the root
 * @throws Problem with the reason why it could not be placed
 */
export async function placeNew(
  files: FilePool,
  from: string,
  rootPath: string,
  segments: readonly string[],
): Promise<string> {
  const folders = segments.slice(0, -1),
    name = segments.at(-1)!,
    dot = name.lastIndexOf('.');
  const { size, mtimeMs } = await stat(from);
  for (let n = 1; n < MAX_TRIES; n++) {
    const numbered = n === 1 ? name : dot > 0 ? `${name.slice(0, dot)} (${n})${name.slice(dot)}` : `${name} (${n})`;
    const to = await resolveForWriting(rootPath, [...folders, numbered]);
    try {
      await files.ask({ op: 'place', mode: 'move', from, to, size, modifiedMs: mtimeMs, begun: false });
      return [...folders, numbered].join('/');
    } catch (error) {
      if (!(error instanceof FileTrouble)) throw error;
      if (error.message !== TAKEN)
        throw new Problem(409, 'not-placed', `${name} could not be put into ${rootPath}: ${error.message}`);
    }
  }
  throw new Problem(409, 'file-exists', `There are too many files named ${name}`);
}
