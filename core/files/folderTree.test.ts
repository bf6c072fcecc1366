import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { folderTree, type FolderNode } from './folderTree.ts';

const at = (rootId: number, path: string, count: number) => ({ rootId, root: `Shelf ${rootId}`, path, count });

test('roots with equal folders stay apart; folders that only hold folders are there too', () => {
  const tree = folderTree([at(1, 'In/B', 2), at(2, 'In', 3), at(1, '', 1), at(1, 'In/A 10', 1), at(1, 'In/A 9', 4)]);
  expect(tree.map((n) => [n.name, n.count])).toEqual([
    ['Shelf 1', 8],
    ['Shelf 2', 3],
  ]);
  const [inside] = tree[0]!.children;
  expect(inside).toMatchObject({ name: 'In', count: 7, ref: { rootId: 1, path: 'In' } });
  expect(inside!.children.map((c) => c.name)).toEqual(['A 9', 'A 10', 'B']);
});

test('each node counts what lies in it and below', () => {
  const path = fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 4 }).map((p) => p.join('/'));
  fc.assert(
    fc.property(fc.uniqueArray(path, { maxLength: 20 }), (paths) => {
      const all = (node: FolderNode): FolderNode[] => [node, ...node.children.flatMap(all)];
      for (const node of folderTree(paths.map((p) => at(1, p, 1))).flatMap(all)) {
        const { path: own } = node.ref;
        expect(node.count).toBe(paths.filter((p) => own === '' || p === own || p.startsWith(`${own}/`)).length);
      }
    }),
  );
});
