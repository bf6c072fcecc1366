/** Values under names that outlive a reload, and tell whoever shows them. */
import { useCallback, useSyncExternalStore } from 'react';

export interface Kept {
  /** What is kept under a name now. */
  read<T>(name: string, fallback: T): T;
  /** Keeps a value, and tells everything that shows it. */
  write(name: string, value: unknown): void;
  /** Lets a value go: the fallback counts again. */
  forget(name: string): void;
  /** State that is there again after a reload. `fallback` must be the same object every time. */
  use<T>(name: string, fallback: T): [T, (value: T) => void];
}

/** @param storage of the browser (all tabs) or of the tab */
export function keptIn(storage: () => Storage): Kept {
  const cache = new Map<string, unknown>();
  const watchers = new Map<string, Set<() => void>>();
  const place = (name: string): string => `early-set:${name}`;
  const tell = (name: string): void => {
    for (const notify of watchers.get(name) ?? []) notify();
  };
  /** Private windows may refuse, and a store may be full; what is held in memory will do. */
  const perhaps = (act: () => void): void => {
    try {
      act();
    } catch {
      /* as said */
    }
  };
  const read = <T>(name: string, fallback: T): T => {
    if (!cache.has(name)) {
      cache.set(name, fallback);
      perhaps(() => {
        const text = storage().getItem(place(name));
        if (text !== null) cache.set(name, JSON.parse(text));
      });
    }
    return cache.get(name) as T;
  };
  const write = (name: string, value: unknown): void => {
    cache.set(name, value);
    perhaps(() => storage().setItem(place(name), JSON.stringify(value)));
    tell(name);
  };
  const forget = (name: string): void => {
    cache.delete(name);
    perhaps(() => storage().removeItem(place(name)));
    tell(name);
  };
  const use = <T>(name: string, fallback: T): [T, (value: T) => void] => {
    const subscribe = useCallback(
      (notify: () => void) => {
        const own = watchers.get(name) ?? new Set();
        watchers.set(name, own.add(notify));
        return () => {
          own.delete(notify);
        };
      },
      [name],
    );
    const value = useSyncExternalStore(subscribe, () => read(name, fallback));
    return [value, useCallback((next: T) => write(name, next), [name])];
  };
  return { read, write, forget, use };
}
