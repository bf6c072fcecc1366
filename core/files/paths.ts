/** Paths as text with forward slashes. */

/**
 * The way from a folder to a file, both absolute.
 * @example relativePath('/music/lists', '/music/house/a.mp3') // "../house/a.mp3"
 */
export function relativePath(folder: string, file: string): string {
  const from = folder.split('/').filter(Boolean);
  const to = file.split('/').filter(Boolean);
  let shared = 0;
  while (shared < from.length && shared < to.length - 1 && from[shared] === to[shared]) shared++;
  return [...from.slice(shared).map(() => '..'), ...to.slice(shared)].join('/');
}

/**
 * A file name that every usual file system takes: no separators, control or reserved characters, no
 * trailing dots or spaces, at most 120 characters; never empty.
 */
export function safeFileName(name: string, fallback = 'untitled'): string {
  const cleaned = name
    .toWellFormed()
    .replace(/[\u0000-\u001f\u007f/\\:*?"<>|]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^\.+/, '')
    .replace(/[. ]+$/, '');
  const short = [...cleaned].slice(0, 120).join('').trim();
  return !short || /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(short) ? fallback : short;
}

/** "Crates/House/a.mp3" → "Crates/House/"; empty for a file that lies at the top. */
export const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);

/** What comes behind the name: ".mp3"; empty where there is none. */
export const endingOf = (path: string): string => /[^/](\.[^./ ]{1,8})$/.exec(path)?.[1] ?? '';

/** The name of a file without folder and ending. */
export const nameOf = (path: string): string => path.slice(folderOf(path).length, path.length - endingOf(path).length);

/** The path with another name in the same folder, with the same ending. */
export const named = (path: string, name: string): string => `${folderOf(path)}${name}${endingOf(path)}`;
