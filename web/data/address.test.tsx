import { afterEach, expect, test } from '@jest/globals';
import { act, cleanup, screen } from '@testing-library/react';
import { useNavigate, type NavigateFunction } from 'react-router';
import { show } from '../testing/server.tsx';
import { useAddress, type ChangeAddress } from './address.ts';

afterEach(cleanup);

/** A page that shows its address, and tells how to change it. */
function shown() {
  const page = {} as { change: ChangeAddress; go: NavigateFunction };
  function Page() {
    const [params, change] = useAddress();
    const go = useNavigate();
    Object.assign(page, { change, go });
    return <output>{params.toString()}</output>;
  }
  show(<Page />, '/tracks?a=1');
  return page;
}
const plus =
  (name: string, value: string) =>
  (now: URLSearchParams): URLSearchParams => {
    const next = new URLSearchParams(now);
    next.append(name, value);
    return next;
  };
const address = () => screen.getByRole('status').textContent;

test('two changes before the page is drawn again are both there, and Back takes them one by one', () => {
  const page = shown();
  act(() => {
    page.change(plus('b', '2'));
    page.change(plus('b', '3'));
  });
  expect(address()).toBe('a=1&b=2&b=3');
  act(() => void page.go(-1));
  expect(address()).toBe('a=1&b=2');
  act(() => page.change(plus('c', '4')));
  expect(address()).toBe('a=1&b=2&c=4');
});

test('a link to somewhere else is what the next change begins from', () => {
  const page = shown();
  act(() => {
    page.change(plus('b', '2'));
    void page.go('/tracks?find=slow');
  });
  act(() => page.change(plus('c', '4')));
  expect(address()).toBe('find=slow&c=4');
});
