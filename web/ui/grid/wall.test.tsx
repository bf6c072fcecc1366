import { afterEach, beforeAll, beforeEach, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { chooseOne, chooseRange, NOTHING, toggleOne, type Chosen } from './choice.ts';
import { gridKeys } from './gridKeys.ts';
import { Wall } from './Wall.tsx';

/** Nothing is laid out here: the wall is told how wide it is. */
let wide = 0;
const told: ((entries: unknown[]) => void)[] = [];
beforeAll(() => {
  globalThis.ResizeObserver = class {
    constructor(tell: (entries: unknown[]) => void) {
      told.push(tell);
    }
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  } as unknown as typeof ResizeObserver;
});
const setWidth = (width: number): void =>
  act(() => {
    wide = width;
    for (const tell of told) tell([{ contentRect: { width: wide, height: 700 }, borderBoxSize: [] }]);
  });
beforeEach(() => void (told.length = 0));
afterEach(cleanup);

const ROWS = Array.from({ length: 5000 }, (_, i) => ({ id: i + 1 }));
const opened = jest.fn();
let now: Chosen;
function Shown() {
  const [chosen, setChosen] = useState<Chosen>(NOTHING);
  const [across, setAcross] = useState(1);
  now = chosen;
  const choose = (index: number, how: 'one' | 'toggle' | 'range'): void => {
    const id = ROWS[index]!.id,
      { anchor } = chosen;
    if (how === 'range' && anchor !== null) {
      const [from, to] = [Math.min(anchor, index), Math.max(anchor, index)];
      setChosen(
        chooseRange(
          chosen,
          ROWS.slice(from, to + 1).map((r) => r.id),
          anchor,
          index,
        ),
      );
    } else setChosen(how === 'toggle' ? toggleOne(chosen, id, index) : chooseOne(id, index));
  };
  return (
    <Wall
      id="wall"
      label="Tracks"
      count={ROWS.length}
      row={(i) => ROWS[i]}
      idOf={(row) => row.id}
      data={(row) => ({ 'data-track': row.id })}
      width={150}
      below={40}
      tile={(row) => <p>{row.id}</p>}
      name={(row) => `Track ${row.id}`}
      chosen={chosen}
      onChoose={choose}
      onOpen={opened}
      onKey={gridKeys({ count: ROWS.length, focus: chosen.focus, choose, across })}
      menu={[]}
      onAcross={setAcross}
    />
  );
}
const press = (key: string, shiftKey = false): void =>
  void fireEvent.keyDown(screen.getByRole('listbox'), { key, shiftKey });

test('as many side by side as there is room for; arrows go along and across; only those in sight are drawn', () => {
  render(<Shown />);
  setWidth(640); // four
  press('ArrowDown');
  expect(now.focus).toBe(0);
  press('ArrowDown');
  expect(now.focus).toBe(4);
  press('ArrowRight');
  expect(now.focus).toBe(5);
  press('ArrowUp');
  expect(now.focus).toBe(1);
  press('ArrowLeft');
  press('ArrowLeft');
  expect(now.focus).toBe(0);
  setWidth(310); // two
  press('ArrowDown');
  expect(now.focus).toBe(2);
  press('End');
  expect(now.focus).toBe(4999);
  expect(screen.getAllByRole('option').length).toBeLessThan(60);
});

test('choosing is as in a list: several with Shift and Ctrl, opened by a double click', () => {
  render(<Shown />);
  setWidth(640);
  fireEvent.pointerDown(screen.getByRole('option', { name: 'Track 2' }), { button: 0 });
  press('ArrowDown', true);
  expect([...(now.all ? [] : now.ids)]).toEqual([2, 3, 4, 5, 6]);
  fireEvent.pointerDown(screen.getByRole('option', { name: 'Track 4' }), { button: 0, ctrlKey: true });
  expect([...(now.all ? [] : now.ids)]).toEqual([2, 3, 5, 6]);
  expect(screen.getByRole('option', { name: 'Track 4' }).getAttribute('aria-selected')).toBe('false');
  expect(screen.getByRole('option', { name: 'Track 5' }).getAttribute('aria-posinset')).toBe('5');
  fireEvent.doubleClick(screen.getByRole('option', { name: 'Track 3' }));
  expect(opened).toHaveBeenCalledWith(2);
});
