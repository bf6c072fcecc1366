/** Folders that files can be taken in from where they lie. */

const folderOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));
const isBelow = (folder: string, path: string): boolean => path.startsWith(`${folder}/`);

/**
 * The fewest folders in which files lie, none of which holds anything that may not be a library folder.
 * @param paths whole paths
 * @param never folders that cannot become library folders, nor can what holds them: places such as the home folder,
 *   folders that are in the library already
 * @returns folders with their files; files that lie directly in such a place are in none
 */
export function foldersFor(paths: readonly string[], never: readonly string[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  const mayBe = (folder: string): boolean =>
    folder !== '' && !never.some((other) => other === folder || isBelow(folder, other));
  const visit = (within: readonly string[]): void => {
    if (within.length === 0) return;
    const folder = commonFolder(within);
    if (mayBe(folder)) {
      found.set(folder, [...within]);
      return;
    }
    const byChild = new Map<string, string[]>();
    for (const path of within) {
      const rest = path.slice(folder.length + 1);
      const slash = rest.indexOf('/');
      if (slash < 0) continue;
      const child = `${folder}/${rest.slice(0, slash)}`;
      byChild.set(child, [...(byChild.get(child) ?? []), path]);
    }
    for (const inside of byChild.values()) visit(inside);
  };
  visit(paths);
  return found;
}

/** The deepest folder that holds all of them. */
export function commonFolder(paths: readonly string[]): string {
  const folders = paths.map((path) => folderOf(path).split('/'));
  const [first = []] = folders;
  let depth = first.length;
  for (const other of folders) while (depth > 0 && first.slice(0, depth).some((name, i) => other[i] !== name)) depth--;
  return first.slice(0, depth).join('/');
}
