import { afterEach, describe, expect, test } from '@jest/globals';
import { arrayMove } from '@dnd-kit/sortable';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { Reorder, useReorderLine } from './Reorder.tsx';

afterEach(cleanup);

function Line({ id }: { id: string }) {
  const { ref, style, handle } = useReorderLine(id, id);
  return (
    <li ref={ref} style={style}>
      {handle}
      {id}
    </li>
  );
}
function Own() {
  const [ids, setIds] = useState(['tide', 'swell', 'ebb', 'eddy']);
  return (
    <Reorder ids={ids} onMove={(from, to) => setIds(arrayMove(ids, ids.indexOf(from), ids.indexOf(to)))}>
      <ol>
        {ids.map((id) => (
          <Line key={id} id={id} />
        ))}
      </ol>
    </Reorder>
  );
}
const lines = (): string[] => screen.getAllByRole('listitem').map((line) => line.textContent);

describe('lines in an order of one’s own', () => {
  test('follow the arrow keys, one at once, and keep what is in hand; its place is told', () => {
    render(<Own />);
    const handle = screen.getByRole('button', { name: 'Move eddy' });
    handle.focus();
    for (let i = 0; i < 2; i++) fireEvent.keyDown(document.activeElement!, { key: 'ArrowUp' });
    expect(lines()).toEqual(['tide', 'eddy', 'swell', 'ebb']);
    expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Move eddy' }));
    expect(screen.getByText('eddy: 2 of 4')).toBeTruthy();
    fireEvent.keyDown(document.activeElement!, { key: 'End' });
    expect(lines()).toEqual(['tide', 'swell', 'ebb', 'eddy']);
    fireEvent.keyDown(document.activeElement!, { key: 'Home' });
    expect(lines()).toEqual(['eddy', 'tide', 'swell', 'ebb']);
  });

  test('stay where they are beyond either end, and leave other keys alone', () => {
    render(<Own />);
    const handle = screen.getByRole('button', { name: 'Move tide' });
    fireEvent.keyDown(handle, { key: 'ArrowUp' });
    expect(fireEvent.keyDown(handle, { key: 'ArrowDown', altKey: true })).toBe(true);
    expect(fireEvent.keyDown(handle, { key: 'a' })).toBe(true);
    expect(lines()).toEqual(['tide', 'swell', 'ebb', 'eddy']);
  });
});
