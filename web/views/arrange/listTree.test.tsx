import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import type { ListLine } from '@early-set/core/api/types';
import { serve, show } from '../../testing/server.tsx';
import { ListTree } from './ListTree.tsx';

const list = (id: string, parentId: string | null = null): ListLine => ({
  id,
  kind: 'crate',
  name: id,
  parentId,
  position: 1,
  removed: false,
  startsAt: null,
  shape: null,
  rule: null,
  tracks: 2,
  durationSeconds: 600,
  updatedAt: '',
});
const LISTS = [list('Boathouse'), list('Late', 'Boathouse'), list('Last hour', 'Late'), list('Radio')];

afterEach(cleanup);

test('crates are a tree with levels, walked by the arrow keys', () => {
  serve({});
  show(<ListTree lists={LISTS} chosen="Late" />);
  const tree = within(screen.getByRole('tree', { name: 'Crates' }));
  expect(
    tree.getAllByRole('treeitem').map((l) => [l.getAttribute('aria-label'), l.getAttribute('aria-level')]),
  ).toEqual([
    ['Boathouse', '1'],
    ['Late', '2'],
    ['Last hour', '3'],
    ['Radio', '1'],
  ]);
  expect(tree.getByRole('treeitem', { selected: true }).getAttribute('aria-label')).toBe('Late');
  const line = (name: string): HTMLElement => tree.getByRole('button', { name: `${name} 2` });
  line('Late').focus();
  for (const [key, name] of [
    ['ArrowDown', 'Last hour'],
    ['End', 'Radio'],
    ['ArrowDown', 'Radio'],
    ['ArrowUp', 'Last hour'],
    ['Home', 'Boathouse'],
  ] as const) {
    fireEvent.keyDown(document.activeElement!, { key });
    expect(document.activeElement).toBe(line(name));
  }
});
