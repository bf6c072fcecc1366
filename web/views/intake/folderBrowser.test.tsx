import { afterEach, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { FolderBrowser } from './FolderBrowser.tsx';

afterEach(cleanup);
const browser = (here: string | null, onPath: (path: string) => void = () => undefined) => (
  <FolderBrowser places={[]} here={here} folder={undefined} error={undefined} onPath={onPath} />
);
const path = (): HTMLInputElement => screen.getByLabelText('Path; Enter goes there');

test('a path that is in hand is not changed by a folder that arrives meanwhile', () => {
  const gone: string[] = [];
  const { rerender } = render(browser(null));
  act(() => path().focus());
  rerender(browser('/music'));
  expect(path().value).toBe('');
  fireEvent.change(path(), { target: { value: '/music/new' } });
  rerender(browser('/music/old', (to) => gone.push(to)));
  expect(path().value).toBe('/music/new');
  fireEvent.keyDown(path(), { key: 'Enter' });
  expect(gone).toEqual(['/music/new']);
  rerender(browser('/music/new'));
  expect(path().value).toBe('/music/new');
});

test('left without a word, it says where one is', () => {
  const { rerender } = render(browser(null));
  act(() => path().focus());
  rerender(browser('/music'));
  act(() => path().blur());
  expect(path().value).toBe('/music');
});
