/** Small things of the page kept in this browser: theme, columns, widths. */
import { useCallback, useSyncExternalStore } from 'react';

const cache = new Map<string, unknown>();
const watchers = new Map<string, Set<() => void>>();

/** What is kept under a name now. */
export function remembered<T>(name: string, fallback: T): T {
  if (!cache.has(name)) {
    let value: unknown = fallback;
    try {
      const text = localStorage.getItem(`early-set:${name}`);
      if (text !== null) value = JSON.parse(text);
    } catch {
      /* private windows may refuse; the fallback will do */
    }
    cache.set(name, value);
  }
  return cache.get(name) as T;
}

/** Keeps a value, and tells everything that shows it. */
export function write(name: string, value: unknown): void {
  cache.set(name, value);
  try {
    localStorage.setItem(`early-set:${name}`, JSON.stringify(value));
  } catch {
    /* as above */
  }
  for (const notify of watchers.get(name) ?? []) notify();
}

/** Lets a value go: the fallback counts again. */
export function forget(name: string): void {
  cache.delete(name);
  try {
    localStorage.removeItem(`early-set:${name}`);
  } catch {
    /* as above */
  }
  for (const notify of watchers.get(name) ?? []) notify();
}

/** State that is there again after a reload. `fallback` must be the same object every time. */
export function useRemembered<T>(name: string, fallback: T): [T, (value: T) => void] {
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
  const value = useSyncExternalStore(subscribe, () => remembered(name, fallback));
  return [value, useCallback((next: T) => write(name, next), [name])];
}
