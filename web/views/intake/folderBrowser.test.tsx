import { afterEach, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { FolderBrowser } from './FolderBrowser.tsx';

afterEach(cleanup);
const browser = (here: string | null, onPath: (path: string) => void = () => undefined) => (
  <FolderBrowser places={[]} here={here} folder={undefined} error={undefined} onPath={onPath} />
);
const path = (): HTMLInputElement => screen.getByLabelText('Path; Enter goes there');

test('a folder that arrives is chosen as a whole; a path that is being typed is not changed by one', () => {
  const gone: string[] = [];
  const { rerender } = render(browser(null));
  act(() => path().focus());
  rerender(browser('/music'));
  expect(path().value).toBe('/music');
  expect([path().selectionStart, path().selectionEnd]).toEqual([0, 6]);
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
  fireEvent.change(path(), { target: { value: '' } });
  expect(path().value).toBe('');
  act(() => path().blur());
  expect(path().value).toBe('/music');
});
