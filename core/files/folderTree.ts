/** Folders of roots as a tree, with how many tracks lie in and below each. */
import type { FileRef } from './fileRef.ts';

export interface FolderCount extends FileRef {
  /** What the root is called. */
  root: string;
  /** Tracks directly in it. */
  count: number;
}

export interface FolderNode {
  ref: FileRef;
  name: string;
  /** Tracks in it and below. */
  count: number;
  children: FolderNode[];
}

/** One node a root, its folders below it, each level by name. Folders that only hold folders have nodes too. */
export function folderTree(folders: readonly FolderCount[]): FolderNode[] {
  const roots = new Map<number, FolderNode>();
  for (const { rootId, root, path, count } of folders) {
    let node = roots.get(rootId);
    if (!node) roots.set(rootId, (node = { ref: { rootId, path: '' }, name: root, count: 0, children: [] }));
    node.count += count;
    for (const name of path.split('/').filter(Boolean)) {
      const below: string = node.ref.path ? `${node.ref.path}/${name}` : name;
      let child: FolderNode | undefined = node.children.find((c) => c.ref.path === below);
      if (!child) node.children.push((child = { ref: { rootId, path: below }, name, count: 0, children: [] }));
      child.count += count;
      node = child;
    }
  }
  const sorted = (nodes: FolderNode[]): FolderNode[] =>
    nodes
      .map((n) => ({ ...n, children: sorted(n.children) }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  return sorted([...roots.values()]);
}
