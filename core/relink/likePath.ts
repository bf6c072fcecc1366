/** Paths as people compare them: whatever case, composition of letters, kind of slash. */

/** A path in one form: forward slashes, composed letters, no case. */
export const pathKey = (path: string): string => path.replaceAll('\\', '/').normalize('NFC').toLowerCase();

/** The name of a file without folders, in one form. */
export const nameKeyOf = (path: string): string => {
  const key = pathKey(path);
  return key.slice(key.lastIndexOf('/') + 1);
};

/** The same without its ending: a file that was encoded anew has another. */
export const stemKeyOf = (path: string): string => nameKeyOf(path).replace(/\.[a-z0-9]{2,5}$/, '');

/** How many folders from the end two paths share, the name included. */
export function sharedTail(a: string, b: string): number {
  const left = pathKey(a).split('/'),
    right = pathKey(b).split('/');
  let shared = 0;
  while (
    shared < left.length &&
    shared < right.length &&
    left[left.length - 1 - shared] === right[right.length - 1 - shared]
  )
    shared++;
  return shared;
}
