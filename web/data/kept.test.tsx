import { afterEach, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { forgetHanded, hand, handed } from './handed.ts';
import { keptIn } from './kept.ts';
import { remembered } from './remembered.ts';

afterEach(() => {
  cleanup();
  localStorage.clear();
  sessionStorage.clear();
});

const NOTHING: string[] = [];

test('what is handed over is for this tab: another tab neither sees it nor takes it away', () => {
  hand('chosen', ['a']);
  expect(handed('chosen', NOTHING)).toEqual(['a']);
  expect(remembered('chosen', NOTHING)).toBe(NOTHING);
  expect([sessionStorage.length, localStorage.length]).toEqual([1, 0]);
  // A reload of this tab.
  expect(keptIn(() => sessionStorage).read('chosen', NOTHING)).toEqual(['a']);
  forgetHanded('chosen');
  expect(handed('chosen', NOTHING)).toBe(NOTHING);
});

test('a store that refuses does not get in the way; everybody who shows a value hears of a new one', () => {
  const refusing = keptIn(() => {
    throw new DOMException('The operation is insecure', 'SecurityError');
  });
  function Shows() {
    const [words, set] = refusing.use('words', NOTHING);
    return <button onClick={() => set([...words, 'more'])}>{words.join(' ') || 'none'}</button>;
  }
  render(
    <>
      <Shows />
      <Shows />
    </>,
  );
  fireEvent.click(screen.getAllByText('none')[0]!);
  expect(screen.getAllByText('more')).toHaveLength(2);
  act(() => refusing.forget('words'));
  expect(screen.getAllByText('none')).toHaveLength(2);
});

test('what cannot be read is as if it were not there', () => {
  localStorage.setItem('early-set:broken', '{');
  expect(keptIn(() => localStorage).read('broken', NOTHING)).toBe(NOTHING);
});
