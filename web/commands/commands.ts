/**
 * Actions by name and by key. Views add theirs while they are shown; Ctrl K lists them all, and the keys of the table
 * in `keys` are bound here, for the whole page at once.
 */
import { useEffect, useRef, useSyncExternalStore, type RefObject } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { keyOf, KEYS, means, nameOfPress, SCREENS, type KeyOf, type Screen } from './keys.ts';

export interface Command {
  id: string;
  label: string;
  keys?: string;
  group: string;
  run: () => void;
  disabled?: boolean;
}

/** What a key does. */
export interface KeyAction {
  /** @param press the key, where several mean it */
  run: (press: string) => unknown;
  disabled?: boolean;
  /** Where it is called otherwise for the moment, as Pause for Audition. */
  label?: string;
}

interface Bound extends KeyAction {
  screen: Screen;
  id: string;
}

/** What is offered now, by who offers it; the latest comes first where two bind one key. */
function register<T>() {
  let current: readonly T[] = [];
  const sets = new Map<symbol, readonly T[]>();
  const watchers = new Set<() => void>();
  const publish = (): void => {
    current = [...sets.values()].flat();
    for (const notify of watchers) notify();
  };
  return {
    all: () => current,
    offer(own: symbol, items: readonly T[]): () => void {
      sets.set(own, items);
      publish();
      return () => {
        sets.delete(own);
        publish();
      };
    },
    watch(notify: () => void): () => void {
      watchers.add(notify);
      return () => {
        watchers.delete(notify);
      };
    },
  };
}
const commandsOffered = register<Command>();
const keysBound = register<Bound>();

/** Offers commands while the component is there. */
export function useCommands(commands: readonly Command[]): void {
  const own = useRef(Symbol('commands'));
  const shape = commands.map((c) => `${c.id}${c.label}${c.disabled ? '!' : ''}`).join();
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  });
  useEffect(
    () =>
      commandsOffered.offer(
        own.current,
        latest.current.map((c) => ({ ...c, run: () => latest.current.find((x) => x.id === c.id)?.run() })),
      ),
    [shape],
  );
}

/** All commands there are now. */
export const useAllCommands = (): readonly Command[] =>
  useSyncExternalStore(commandsOffered.watch, commandsOffered.all);

export type KeyActions<S extends Screen> = Partial<Record<KeyOf<S>, KeyAction>>;

/**
 * Says what the keys of a screen do while the component is there: they are in the list of actions, and bound, but for
 * those of the screen's table, which its grid takes (`tableActions`).
 */
export function useKeys<S extends Screen>(screen: S, actions: KeyActions<S>): void {
  const bound = useRef(Symbol('keys'));
  const entries = Object.entries<KeyAction | undefined>(actions).filter((e): e is [KeyOf<S>, KeyAction] => !!e[1]);
  const latest = useRef(entries);
  useEffect(() => {
    latest.current = entries;
  });
  const runNow = (id: string, press: string): void => {
    const action = latest.current.find(([x]) => x === id)?.[1];
    if (action && !action.disabled) action.run(press);
  };
  useCommands(
    entries
      .filter(([id]) => !keyOf(screen, id).each)
      .map(([id, action]) => {
        const { keys, label } = keyOf(screen, id);
        return {
          id: `${screen}-${id}`,
          label: action.label ?? label,
          keys: keys[0]!,
          group: SCREENS[screen],
          run: () => runNow(id, keys[0]!),
          disabled: action.disabled ?? false,
        };
      }),
  );
  const shape = entries.map(([id, a]) => `${id}${a.disabled ? '!' : ''}`).join();
  useEffect(
    () =>
      keysBound.offer(
        bound.current,
        latest.current
          .filter(([id]) => !keyOf(screen, id).table)
          .map(([id, a]) => ({
            screen,
            id,
            disabled: a.disabled ?? false,
            run: (press: string) => runNow(id, press),
          })),
      ),
    [shape, screen],
  );
}

const IN_FRONT = '[role="dialog"], [role="alertdialog"], [role="menu"], [role="listbox"]';
const TYPED =
  'input:not([type="checkbox"], [type="radio"], [type="range"]), textarea, select, [contenteditable="true"]';
const PRESSED = 'button, a, summary, input, [role="tab"]';
const isIn = (target: EventTarget | null, places: string): boolean =>
  target instanceof HTMLElement && target.closest(places) !== null;

/** Does what a key of the table does now, for a button that stands for it. */
export function runKey<S extends Screen>(screen: S, id: KeyOf<S>): void {
  keysBound
    .all()
    .findLast((b) => b.screen === screen && b.id === id && !b.disabled)
    ?.run(keyOf(screen, id).keys[0]!);
}

/** Binds all keys; stands once in the page. */
export function AllKeys(): null {
  useHotkeys(
    '*',
    (e) => {
      const name = nameOfPress(e);
      const elsewhere = isIn(e.target, TYPED) || isIn(e.target, IN_FRONT);
      if ((name === 'Space' || name === 'Enter') && isIn(e.target, PRESSED)) return; // presses the button itself
      const candidates = keysBound.all().filter((b) => means(keyOf(b.screen, b.id as never), name) && !b.disabled);
      // The screen in sight comes before what holds everywhere.
      const own = candidates.findLast((b) => !GENERAL.has(b.screen)) ?? candidates.at(-1);
      if (!own || (elsewhere && !keyOf(own.screen, own.id as never).always)) return;
      e.preventDefault();
      own.run(name);
    },
    {
      enableOnFormTags: true,
      enableOnContentEditable: true,
      ignoreModifiers: true,
      ignoreEventWhen: (e) => e.defaultPrevented,
    },
  );
  return null;
}
const GENERAL = new Set<Screen>(['everywhere', 'audition', 'columns']);

/** `/` goes into a page's field for finding. */
export function useFindKey(field: RefObject<HTMLInputElement | null>, label?: string): void {
  const run = (): void => {
    field.current?.focus();
    field.current?.select();
  };
  useKeys('everywhere', { find: { run, ...(label ? { label } : {}) } });
}

/** A line of a menu for a key of the table. */
export const menuItem = <S extends Screen>(screen: S, id: KeyOf<S>, action: KeyAction) => {
  const { keys, label } = keyOf(screen, id);
  const run = (): void => void action.run(keys[0]!);
  return { label: action.label ?? label, keys: keys[0]!, run, disabled: action.disabled ?? false };
};

/** The keys of a screen's table as its grid wants them, by the names of the browser. */
export function tableActions<S extends Screen>(
  screen: S,
  actions: KeyActions<S>,
): { actions: Record<string, () => unknown>; alt: Record<string, () => unknown> } {
  const plain: Record<string, () => unknown> = {},
    alt: Record<string, () => unknown> = {};
  for (const [id, action] of Object.entries<KeyAction | undefined>(actions)) {
    if (!action || !(id in KEYS[screen])) continue;
    const { keys, table } = keyOf(screen, id as KeyOf<S>);
    if (!table || action.disabled) continue;
    for (const name of keys) {
      const [last, ...modifiers] = name.split(' ').reverse();
      (modifiers.includes('Alt') ? alt : plain)[GRID_NAMES[last!] ?? last!.toLowerCase()] = () => action.run(name);
    }
  }
  return { actions: plain, alt };
}
const GRID_NAMES: Record<string, string> = {
  Space: ' ',
  '↑': 'ArrowUp',
  '↓': 'ArrowDown',
  Enter: 'Enter',
  Delete: 'Delete',
  Backspace: 'Backspace',
};
