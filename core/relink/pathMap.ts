/**
 * A path map: everything that lay below one folder lies below another now. Paths are understood as Windows, macOS and
 * Linux write them: drive letters, shares, `file://`, percent escapes, any case, composed letters or not.
 */
import { readLocation } from '../exchange/locations.ts';
import { pathKey } from './likePath.ts';

export interface PathMap {
  /** Beginnings, without a slash at their end. */
  from: string;
  to: string;
}

/** A path as it was typed or copied, with forward slashes; a share keeps its two. */
export function plainPath(text: string): string {
  const share = /^\s*(?:\\\\|\/\/)(?=[^\\/])/.test(text);
  const path = (readLocation(text.trim().replace(/^["']|["']$/g, '')) ?? '').replace(/\/{2,}/g, '/');
  const tidy = path.length > 1 ? path.replace(/\/$/, '') : path;
  return share ? `/${tidy}` : tidy;
}

const segments = (path: string): string[] => plainPath(path).split('/');
const sameSegment = (a: string | undefined, b: string | undefined): boolean =>
  a !== undefined && b !== undefined && pathKey(a) === pathKey(b);

/** The map by which the first of two paths of one file becomes the second; null where not even their names agree. */
export function mapFromExample(was: string, is: string): PathMap | null {
  const old = segments(was),
    now = segments(is);
  if (!sameSegment(old.at(-1), now.at(-1))) return null;
  // Folders count as the same where they are written alike: one that is written otherwise may be another.
  let shared = 1;
  while (
    shared < old.length - 1 &&
    shared < now.length - 1 &&
    old[old.length - 1 - shared]!.normalize() === now[now.length - 1 - shared]!.normalize()
  )
    shared++;
  const beginning = (path: readonly string[]): string => {
    const joined = path.slice(0, path.length - shared).join('/');
    return joined === '' && path[0] === '' ? '/' : joined;
  };
  return { from: beginning(old), to: beginning(now) };
}

/** The map that does justice to both examples: the longest that does; null where there is none. */
export function mapFromExamples(
  first: readonly [was: string, is: string],
  second: readonly [was: string, is: string],
): PathMap | null {
  const maps = [mapFromExample(...first), mapFromExample(...second)];
  const fits = (map: PathMap): boolean =>
    [first, second].every(([was, is]) => {
      const at = mapPath(was, map);
      return at !== null && pathKey(at) === pathKey(plainPath(is));
    });
  return maps.filter((m) => m !== null).find(fits) ?? null;
}

/** Where a file would lie by a map; null where it did not lie there. */
export function mapPath(path: string, { from, to }: PathMap): string | null {
  const own = segments(path),
    start = from === '' ? [] : from === '/' ? [''] : segments(from);
  if (own.length <= start.length || !start.every((s, i) => sameSegment(s, own[i]))) return null;
  const rest = own.slice(start.length).join('/');
  return to === '' ? rest : `${plainPath(to).replace(/\/$/, '')}/${rest}`;
}

/**
 * Tries a map out: for each path the place of the file that lies where it leads, null where none does.
 * @param files whole paths of files that are there
 */
export function tryMap(lost: readonly string[], map: PathMap, files: readonly string[]): (number | null)[] {
  const there = new Map(files.map((file, at) => [pathKey(plainPath(file)), at]));
  return lost.map((path) => {
    const to = mapPath(path, map);
    return to === null ? null : (there.get(pathKey(to)) ?? null);
  });
}
