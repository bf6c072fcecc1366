/** The only way to files: inside a root, links resolved; everything else is refused. */
import { realpath, stat } from 'node:fs/promises';
import { join, resolve, sep } from 'node:path';
import { Problem } from '../base/problem.ts';

const outside = (): Problem =>
  new Problem(403, 'outside-roots', 'That path lies outside the folders Early Set may use');

/** Does a path lie in a folder (or is it that folder)? Both absolute and resolved. */
export const isInside = (folder: string, path: string): boolean =>
  path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);

/** The resolved path of something below a root. @throws Problem when it is not there or leads outside. */
export async function resolveInRoot(rootPath: string, relative: string): Promise<string> {
  if (relative.includes('\0')) throw outside();
  const wanted = resolve(rootPath, relative);
  if (!isInside(rootPath, wanted)) throw outside();
  let real: string;
  try {
    real = await realpath(wanted);
  } catch {
    throw new Problem(404, 'file-not-found', `The file ${relative} is not where it was`);
  }
  if (!isInside(await realpath(rootPath), real)) throw outside();
  return real;
}

/**
 * Where a new file below a root may be written: every folder on the way that exists is resolved, and
 * none may lead outside. The file itself need not exist. @throws Problem when it leads outside.
 */
export async function resolveForWriting(rootPath: string, segments: string[]): Promise<string> {
  if (segments.length === 0 || segments.some((s) => !s || s === '.' || s === '..' || /[/\0]/.test(s))) throw outside();
  const root = await realpath(rootPath);
  let at = root;
  for (const segment of segments) {
    at = join(at, segment);
    const there = await stat(at).then(
      () => true,
      () => false,
    );
    if (there) {
      at = await realpath(at);
      if (!isInside(root, at)) throw outside();
    }
  }
  return at;
}
