/** A file below a root: nothing takes a path alone for an identity, since two roots may hold equal folders. */
import { folderOf } from './paths.ts';

export interface FileRef {
  rootId: number;
  /** Below the root, with forward slashes. */
  path: string;
}

/** One text for a reference, for maps and sets. */
export const refKey = ({ rootId, path }: FileRef): string => `${rootId}:${path}`;

export const sameRef = (a: FileRef | null, b: FileRef | null): boolean =>
  a === b || (a !== null && b !== null && a.rootId === b.rootId && a.path === b.path);

/** The folder in which a file lies, as one text; the same folder in another root is another one. */
export const folderKey = (ref: FileRef): string => `${ref.rootId}:${folderOf(ref.path)}`;

/** File systems on which names are narrow: FAT and its kin. */
const NARROW = /^(?:v?fat|msdos|exfat|fuseblk|ntfs3?)$/i;
const MAX_NAME_BYTES = 255;

/**
 * Why a path cannot be given on a file system, as a sentence; null when it can.
 * @param fileSystem as the system names it, null where it is not known
 */
export function nameTrouble(path: string, fileSystem: string | null): string | null {
  for (const part of path.split('/')) {
    if (!part || part === '.' || part === '..' || part.includes('\0')) return `“${part}” is no name for a file`;
    if (new TextEncoder().encode(part).length > MAX_NAME_BYTES) return 'The name is too long for this drive';
    if (fileSystem && NARROW.test(fileSystem) && (/[\u0000-\u001f\\:*?"<>|]/.test(part) || /[. ]$/.test(part)))
      return `“${part}” is no name that this drive can hold`;
  }
  return null;
}
