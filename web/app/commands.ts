/** Actions by name: views add theirs while they are shown; Ctrl+K lists them all. */
import { useEffect, useRef, useSyncExternalStore } from 'react';

export interface Command {
  id: string;
  label: string;
  keys?: string;
  group: string;
  run: () => void;
  disabled?: boolean;
}

let current: readonly Command[] = [];
const sets = new Map<symbol, readonly Command[]>();
const watchers = new Set<() => void>();

function publish(): void {
  current = [...sets.values()].flat();
  for (const notify of watchers) notify();
}

/** Offers commands while the component is there. */
export function useCommands(commands: readonly Command[]): void {
  const own = useRef(Symbol('commands'));
  const shape = commands.map((c) => `${c.id}${c.label}${c.disabled ? '!' : ''}`).join();
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  });
  useEffect(() => {
    const key = own.current;
    sets.set(
      key,
      latest.current.map((c) => ({ ...c, run: () => latest.current.find((x) => x.id === c.id)?.run() })),
    );
    publish();
    return () => {
      sets.delete(key);
      publish();
    };
  }, [shape]);
}

/** All commands there are now. */
export const useAllCommands = (): readonly Command[] =>
  useSyncExternalStore(
    (notify) => {
      watchers.add(notify);
      return () => {
        watchers.delete(notify);
      };
    },
    () => current,
  );

/** Is the person typing somewhere, so that single keys are letters? */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Single keys of a view, wherever the focus is; not where somebody types, nor with Control or Alt. */
export function useKeys(press: (e: KeyboardEvent) => void): void {
  const latest = useRef(press);
  useEffect(() => {
    latest.current = press;
  });
  useEffect(() => {
    const listen = (e: KeyboardEvent): void => {
      if (!isTyping(e.target) && !e.ctrlKey && !e.metaKey && !e.altKey && !e.defaultPrevented) latest.current(e);
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
