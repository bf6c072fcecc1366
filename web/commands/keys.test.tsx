import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen } from '@testing-library/react';
import { show } from '../testing/server.tsx';
import { useKeys } from './commands.ts';
import { keysOf, KEYS, means, nameOfPress, SCREENS, type Key, type Screen } from './keys.ts';

afterEach(cleanup);

const pressed = (key: string, more: Partial<KeyboardEvent> = {}): string =>
  nameOfPress({ key, code: '', ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more });

describe('what a press is called', () => {
  test.each([
    [pressed('k', { ctrlKey: true }), 'Ctrl K'],
    [pressed('Z', { metaKey: true, shiftKey: true }), 'Ctrl Shift Z'],
    [pressed(' '), 'Space'],
    [pressed('ArrowUp', { altKey: true }), 'Alt ↑'],
    [pressed('ArrowUp', { shiftKey: true }), 'Shift ↑'],
    [pressed('?', { shiftKey: true }), '?'],
    [pressed('{', { shiftKey: true }), '{'],
    [pressed('3', { code: 'Digit3' }), '3'],
    [pressed('#', { code: 'Digit3', shiftKey: true }), 'Shift 3'],
    [pressed('§', { code: 'Digit3', shiftKey: true }), 'Shift 3'],
    // where the slash lies on a digit, it is a slash
    [pressed('/', { code: 'Digit7', shiftKey: true }), '/'],
  ])('%s', (name, expected) => {
    expect(name).toBe(expected);
  });
});

describe('the table of keys', () => {
  /** Names a key answers to. */
  const namesOf = (k: Key): string[] =>
    k.each
      ? [...'0123456789QWERTYUIOPASDFGHJKLZXCVBNM'].flatMap((c) => [c, `Shift ${c}`]).filter((n) => means(k, n))
      : [...k.keys];

  test('on one screen a key means one thing', () => {
    for (const screen of Object.keys(SCREENS) as Screen[]) {
      const names = keysOf(screen).flatMap(([, k]) => namesOf(k));
      expect(names).toEqual([...new Set(names)]);
    }
  });

  test('no key of a screen takes one that counts everywhere, but for the brackets of the grid', () => {
    const general = (['everywhere', 'audition', 'columns'] as const).flatMap((s) =>
      keysOf(s).flatMap(([, k]) => namesOf(k)),
    );
    expect(new Set(general).size).toBe(general.length);
    const taken = (Object.keys(SCREENS) as Screen[])
      .filter((s) => !['everywhere', 'audition', 'columns'].includes(s))
      .flatMap((s) => keysOf(s).flatMap(([id, k]) => namesOf(k).map((name) => ({ where: `${s}.${id}`, name }))))
      .filter(({ name }) => general.includes(name));
    // The page of a sound has no columns to fold; Space plays the row that a table has in hand.
    expect(taken.map(({ where }) => where)).toEqual([
      'tracks.audition',
      'sound.earlier',
      'sound.later',
      'clean.audition',
      'arrange.audition',
      'disk.audition',
      'duplicates.audition',
      'places.audition',
      'take.audition',
    ]);
  });

  test('every key has words of its own', () => {
    for (const screen of Object.keys(SCREENS) as Screen[])
      for (const [, { keys, label }] of keysOf(screen)) {
        expect(keys.every((k) => k.length > 0)).toBe(true);
        expect(label).toMatch(/^\p{Lu}/u);
      }
  });
});

describe('keys that are bound', () => {
  const play = jest.fn(),
    next = jest.fn(),
    find = jest.fn(),
    actions = jest.fn(),
    keep = jest.fn();
  function Page({ off = false }: { off?: boolean }) {
    useKeys('audition', { play: { run: play }, next: { run: next, disabled: off } });
    useKeys('everywhere', { find: { run: find }, actions: { run: actions } });
    return (
      <>
        <input aria-label="Typed" />
        <input type="checkbox" aria-label="Ticked" />
        <button type="button">Pressed</button>
        <div role="dialog" aria-label="In front" tabIndex={-1} />
      </>
    );
  }
  function Check() {
    useKeys('check', { keep: { run: keep } });
    return null;
  }
  const press = (key: string, at: Element = document.body, more: object = {}): boolean =>
    fireEvent.keyDown(at, { key, ...more });
  afterEach(() => {
    jest.clearAllMocks();
  });

  test('not where somebody types, and not behind a dialog, unless a key counts there too', () => {
    show(<Page />);
    press('n');
    press('N', screen.getByLabelText('Typed'));
    press('/', screen.getByRole('dialog'));
    press('k', screen.getByLabelText('Typed'), { ctrlKey: true });
    expect([next.mock.calls.length, find.mock.calls.length, actions.mock.calls.length]).toEqual([1, 0, 1]);
    press('n', screen.getByLabelText('Ticked'));
    expect(next).toHaveBeenCalledTimes(2);
  });

  test('Space on a button presses the button; anywhere else it plays', () => {
    show(<Page />);
    expect(press(' ', screen.getByRole('button'))).toBe(true);
    expect(play).not.toHaveBeenCalled();
    expect(press(' ')).toBe(false); // and the page does not scroll
    expect(play).toHaveBeenCalledTimes(1);
  });

  test('what is off does nothing; what another has taken already is left alone', () => {
    show(<Page off />);
    press('n');
    expect(next).not.toHaveBeenCalled();
    const taken = (e: Event): void => e.preventDefault();
    document.body.addEventListener('keydown', taken);
    press('/');
    document.body.removeEventListener('keydown', taken);
    expect(find).not.toHaveBeenCalled();
  });

  test('a view’s keys go with the view', () => {
    const { rerender } = show(<Check />);
    press('k');
    expect(keep).toHaveBeenCalledTimes(1);
    rerender(<div />);
    press('k');
    expect(keep).toHaveBeenCalledTimes(1);
  });

  test('all of a screen of the table can be bound', () => {
    expect(Object.keys(KEYS).sort()).toEqual(Object.keys(SCREENS).sort());
  });
});
