import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import fc from 'fast-check';
import { useState } from 'react';
import { chooseOne, NOTHING, type Chosen } from './choice.ts';
import { Grid } from './Grid.tsx';
import type { SortState } from './GridHead.tsx';
import { gridKeys } from './gridKeys.ts';
import { ReadGrid, sorted, type ReadColumn } from './ReadGrid.tsx';

afterEach(cleanup);

interface Boat {
  name: string;
  length: number | null;
}
const COLUMNS: ReadColumn<Boat>[] = [
  { id: 'name', label: 'Name', width: 120, grow: 1, value: (b) => b.name },
  { id: 'length', label: 'Length', width: 80, figures: true, descendsFirst: true, value: (b) => b.length },
];
const BOATS: Boat[] = [
  { name: 'Hull 10', length: 7 },
  { name: 'hull 2', length: null },
  { name: 'Ärla', length: 12 },
];
const names = (): string[] =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((r) => within(r).getAllByRole('gridcell')[0]!.textContent!);
const head = (name: string): HTMLElement => screen.getByRole('columnheader', { name });

describe('rows that are only read', () => {
  const show = (onOpen?: (b: Boat) => void): HTMLElement => {
    render(
      <ReadGrid
        id="boats"
        label="Boats"
        rows={BOATS}
        columns={COLUMNS}
        idOf={(b) => b.name}
        tallest={400}
        {...(onOpen ? { onOpen } : {})}
      />,
    );
    return screen.getByRole('grid', { name: 'Boats' });
  };
  test('come as they are, then sorted up, down, and as they were; what is empty is last', () => {
    show();
    expect(names()).toEqual(['Hull 10', 'hull 2', 'Ärla']);
    const press = (name: string): void => {
      fireEvent.click(within(head(name)).getByRole('button'));
    };
    press('Name');
    expect(names()).toEqual(['Ärla', 'hull 2', 'Hull 10']);
    expect(head('Name').getAttribute('aria-sort')).toBe('ascending');
    press('Name');
    expect(names()).toEqual(['Hull 10', 'hull 2', 'Ärla']);
    expect(head('Name').getAttribute('aria-sort')).toBe('descending');
    press('Name');
    expect([names()[0], head('Name').getAttribute('aria-sort')]).toEqual(['Hull 10', 'none']);
    press('Length');
    expect(names()).toEqual(['Ärla', 'Hull 10', 'hull 2']);
    press('Length');
    expect(names()).toEqual(['Hull 10', 'Ärla', 'hull 2']);
  });
  test('keys go along and open; a key on a head is for the head', () => {
    const opened = jest.fn<(b: Boat) => void>();
    const grid = show(opened);
    fireEvent.keyDown(grid, { key: 'ArrowDown' });
    fireEvent.keyDown(grid, { key: 'ArrowDown' });
    expect(grid.getAttribute('aria-activedescendant')).toBe('boats-hull 2');
    fireEvent.keyDown(grid, { key: 'Enter' });
    expect(opened).toHaveBeenLastCalledWith(BOATS[1]!);
    const taken = fireEvent.keyDown(within(head('Name')).getByRole('button'), { key: 'Enter' });
    expect([taken, opened.mock.calls.length]).toEqual([true, 1]);
    fireEvent.doubleClick(screen.getByText('Ärla'));
    expect(opened).toHaveBeenLastCalledWith(BOATS[2]!);
  });
  test('any rows are in order, none is lost', () => {
    const boat = fc.record({ name: fc.string({ maxLength: 5 }), length: fc.option(fc.integer({ min: 0, max: 99 })) });
    fc.assert(
      fc.property(fc.array(boat), fc.boolean(), (boats, descending) => {
        const out = sorted(boats, COLUMNS, { id: 'length', descending });
        expect(new Set(out)).toEqual(new Set(boats));
        const filled = out.filter((b) => b.length !== null).map((b) => b.length!);
        expect(out.slice(filled.length).every((b) => b.length === null)).toBe(true);
        expect(filled).toEqual([...filled].sort((a, b) => (descending ? b - a : a - b)));
      }),
    );
  });
});

describe('the grid', () => {
  const resized = jest.fn();
  function Long({ total }: { total: number }) {
    const [chosen, setChosen] = useState<Chosen<number>>(NOTHING);
    const [sort, setSort] = useState<SortState>({ id: null, descending: false });
    const [editing, setEditing] = useState<{ index: number; column: string } | null>(null);
    const choose = (index: number): void => setChosen(chooseOne(index, index));
    return (
      <Grid
        id="long"
        label="Long"
        columns={[
          { id: 'number', label: 'Number', width: 90, sortable: true },
          { id: 'twice', label: 'Twice', width: 90 },
        ]}
        sort={sort}
        onSort={setSort}
        onResize={resized}
        count={total}
        row={(i) => (i % 7 === 5 ? undefined : i)}
        idOf={(i) => i}
        lead={() => '·'}
        cell={(i, column) => (column === 'twice' ? i * 2 : i)}
        chosen={chosen}
        onChoose={choose}
        editing={editing}
        editor={(i) => <input aria-label={`Value of ${i}`} />}
        canEdit={(column) => column === 'number'}
        onEdit={(index, column) => setEditing({ index, column })}
        onKey={gridKeys({ count: total, focus: chosen.focus, choose })}
      />
    );
  }
  test('of 20,000 rows draws those in sight, blanks for what is on its way, and says how many there are', () => {
    render(<Long total={20_000} />);
    const grid = screen.getByRole('grid');
    expect(grid.getAttribute('aria-rowcount')).toBe('20001');
    const rows = screen.getAllByRole('row');
    expect(rows.length).toBeLessThan(60);
    expect(rows[1]!.getAttribute('aria-rowindex')).toBe('2');
    expect(document.querySelectorAll('[data-blank]').length).toBeGreaterThan(1);
  });
  test('a cell that can be typed over is, another is not', () => {
    render(<Long total={4} />);
    fireEvent.doubleClick(screen.getByText('6')); // twice three
    expect(screen.queryByRole('textbox')).toBeNull();
    fireEvent.doubleClick(screen.getByText('3'));
    expect(screen.getByRole('textbox', { name: 'Value of 3' })).toBeTruthy();
  });
  test('a head is dragged wider; a fixed one has no edge to drag; one that cannot be sorted says nothing of order', () => {
    render(<Long total={4} />);
    const edge = screen.getAllByTitle('Drag to change the width')[0]!;
    fireEvent.mouseDown(edge, { clientX: 90 });
    fireEvent.mouseMove(document, { clientX: 130 });
    fireEvent.mouseUp(document, { clientX: 130 });
    expect(resized).toHaveBeenCalledWith('number', 130);
    expect(head('Twice').hasAttribute('aria-sort')).toBe(false);
  });
});
