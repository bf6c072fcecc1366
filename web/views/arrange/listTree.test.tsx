import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import type { ListLine } from '@early-set/core/api/types';
import { forget } from '../../data/remembered.ts';
import { listLine } from '../../testing/rows.ts';
import { serve, show } from '../../testing/server.tsx';
import { ListTree } from './ListTree.tsx';

const list = (id: string, parentId: string | null = null): ListLine => listLine(id, { parentId, tracks: 2 });
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

test('crates fold by mouse and by key, and stay so', () => {
  forget('folded-lists');
  serve({});
  const { unmount } = show(<ListTree lists={LISTS} chosen={null} />);
  const names = (): (string | null)[] => screen.getAllByRole('treeitem').map((l) => l.getAttribute('aria-label'));
  fireEvent.click(screen.getByRole('button', { name: 'Fold Late' }));
  expect(names()).toEqual(['Boathouse', 'Late', 'Radio']);
  fireEvent.keyDown(screen.getByRole('button', { name: 'Boathouse 2' }), { key: 'ArrowLeft' });
  expect(names()).toEqual(['Boathouse', 'Radio']);
  unmount();
  show(<ListTree lists={LISTS} chosen={null} />);
  expect(names()).toEqual(['Boathouse', 'Radio']);
  fireEvent.keyDown(screen.getByRole('button', { name: 'Boathouse 2' }), { key: 'ArrowRight' });
  expect(names()).toEqual(['Boathouse', 'Late', 'Radio']);
});

test('lists are found by the tracks they hold', async () => {
  forget('folded-lists');
  serve({ '/lists/holding': [{ id: 'Late', tracks: 1 }] });
  show(<ListTree lists={LISTS} chosen={null} />);
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'lantern' } });
  await screen.findByRole('button', { name: 'Late 1 of 2' });
  expect(screen.queryByRole('treeitem', { name: 'Radio' })).toBeNull();
});
