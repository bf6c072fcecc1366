import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { fieldOf } from '@early-set/core/fields/table';
import { serve, show } from '../testing/server.tsx';
import { TypeAhead } from './TypeAhead.tsx';

afterEach(cleanup);
const asked: string[] = [];
function open(
  field: string,
  first = '',
): { keys: jest.Mock<(e: React.KeyboardEvent, now: string) => void>; box: () => HTMLInputElement } {
  asked.length = 0;
  serve({
    '/values': (_: unknown, address: URL) => {
      asked.push(address.searchParams.get('text')!);
      return [
        ['Deep House', 5],
        ['House', 3],
      ];
    },
  });
  const keys = jest.fn<(e: React.KeyboardEvent, now: string) => void>();
  const Own = () => {
    const [text, setText] = useState(first);
    return <TypeAhead field={fieldOf(field)} value={text} onChange={setText} onKey={keys} className="" />;
  };
  show(<Own />);
  return { keys, box: () => screen.getByRole('combobox') };
}
const type = (box: HTMLInputElement, value: string): void => {
  fireEvent.change(box, { target: { value } });
};

describe('what the library has is offered', () => {
  test('only once something was typed; chosen by arrows and Enter', async () => {
    const { keys, box } = open('genre', 'House');
    expect(screen.queryByRole('option')).toBeNull();
    type(box(), 'ho');
    await waitFor(() =>
      expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['Deep House', 'House']),
    );
    fireEvent.keyDown(box(), { key: 'ArrowDown' });
    fireEvent.keyDown(box(), { key: 'ArrowDown' });
    expect(screen.getByRole('option', { name: 'House', selected: true })).toBeTruthy();
    fireEvent.keyDown(box(), { key: 'Enter' });
    expect(box().value).toBe('House');
    expect(keys).not.toHaveBeenCalled();
    fireEvent.keyDown(box(), { key: 'Enter' });
    expect(keys.mock.calls[0]![1]).toBe('House');
  });
  test('of several values, for the one being typed, and never one that is there already', async () => {
    const { keys, box } = open('genre');
    type(box(), 'House; dee');
    await waitFor(() => expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['Deep House']));
    expect(asked.at(-1)).toBe('dee');
    fireEvent.keyDown(box(), { key: 'ArrowDown' });
    fireEvent.keyDown(box(), { key: 'Tab' });
    expect(keys.mock.calls[0]![1]).toBe('House; Deep House');
  });
  test('not for numbers, and not for comments', () => {
    const { box } = open('comment');
    type(box(), 'ho');
    expect(asked).toEqual([]);
    cleanup();
    const year = open('year');
    type(year.box(), '20');
    expect(asked).toEqual([]);
  });
});
