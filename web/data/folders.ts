/** Folders of roots by their names. */
import type { FolderLine } from '@early-set/core/api/types';
import { folderTree, type FolderCount, type FolderNode } from '@early-set/core/files/folderTree';

/** Where there are several roots, they may hold equal folders: then the root is said first. */
export const folderLabel = ({ root, ref }: FolderLine, severalRoots: boolean): string =>
  ref.path ? (severalRoots ? `${root} / ${ref.path}` : ref.path) : root;

export const severalRoots = (folders: readonly FolderLine[]): boolean =>
  new Set(folders.map((f) => f.ref.rootId)).size > 1;

/** Every folder of every root, each behind the one it lies in, with the tracks in it and below. */
export function everyFolder(folders: readonly FolderCount[]): FolderLine[] {
  const lines = (nodes: readonly FolderNode[], root: string): FolderLine[] =>
    nodes.flatMap(({ ref, count, children }) => [{ ref, root, tracks: count }, ...lines(children, root)]);
  return folderTree(folders).flatMap((node) => lines([node], node.name));
}
