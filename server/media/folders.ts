/** Folders on a drive, without looking at files. */
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { Problem } from '../base/problem.ts';
import { resolveInRoot } from './roots.ts';

/** A folder that is gone holds none. */
function goneOr(error: unknown): null {
  if (error instanceof Problem && error.status === 404) return null;
  throw error;
}

/** So many are looked at. */
const MAX_FOLDERS = 20_000;

/**
 * Folders below one inside a root, as paths inside the root; hidden ones and links are passed over, and what cannot be
 * read.
 * @throws Problem for a place outside the root
 */
export async function foldersBelow(root: string, path: string): Promise<string[]> {
  const found: string[] = [];
  const top = path === '' ? root : await resolveInRoot(root, path).catch(goneOr);
  if (top === null) return found;
  const waiting = [path];
  for (let at = waiting.pop(); at !== undefined && found.length < MAX_FOLDERS; at = waiting.pop()) {
    const inside = await readdir(at === path ? top : join(root, at), { withFileTypes: true }).catch(() => []);
    for (const entry of inside) {
      if (!entry.isDirectory() || entry.name.startsWith('.')) continue;
      const below = at === '' ? entry.name : `${at}/${entry.name}`;
      found.push(below);
      waiting.push(below);
    }
  }
  return found;
}
