/** What the server tells: one connection, many listeners, calls bundled so that a busy run does not flood the page. */
import { useEffect, useRef } from 'react';
import type { ServerEvent } from '@early-set/core/api/types';
import { get } from './api.ts';

type Kind = ServerEvent['kind'];
/** Every kind there is; `cancel` is for the workers. */
const ALL: Record<Exclude<Kind, 'cancel'>, true> = {
  tracks: true,
  roots: true,
  lists: true,
  changes: true,
  run: true,
  settings: true,
  presets: true,
  catalogue: true,
  dates: true,
  destinations: true,
  workers: true,
};
type Listener = (kinds: Set<Kind>) => void;

const listeners = new Set<Listener>();
let source: EventSource | null = null;
let pending = new Set<Kind>();
let timer: ReturnType<typeof setTimeout> | null = null;

function flush(): void {
  timer = null;
  const kinds = pending;
  pending = new Set();
  for (const listener of listeners) listener(kinds);
}

function hear(kind: Kind): void {
  pending.add(kind);
  timer ??= setTimeout(flush, 250);
}

function connect(): void {
  source = new EventSource('/api/events');
  source.addEventListener('change', (e) => hear((JSON.parse((e as MessageEvent<string>).data) as ServerEvent).kind));
  // Refused: it may be that one is signed out.
  source.onerror = () => {
    if (source?.readyState === EventSource.CLOSED) void get('/access').catch(() => undefined);
  };
  // After a break everything may have changed.
  let opened = false;
  source.onopen = () => {
    if (opened) for (const kind of Object.keys(ALL) as Kind[]) hear(kind);
    opened = true;
  };
}

/**
 * Calls back after the server told of one of these kinds, at most four times a second, or once in `pauseMs`; the last
 * word is never lost.
 */
export function useServerEvents(kinds: readonly Kind[], react: () => void, pauseMs = 0): void {
  const latest = useRef(react);
  useEffect(() => {
    latest.current = react;
  });
  const wanted = kinds.join();
  useEffect(() => {
    if (!source) connect();
    let last = 0;
    let later: ReturnType<typeof setTimeout> | null = null;
    const call = (): void => {
      later = null;
      last = Date.now();
      latest.current();
    };
    const listener: Listener = (heard) => {
      if (later !== null || !wanted.split(',').some((k) => heard.has(k as Kind))) return;
      const wait = last + pauseMs - Date.now();
      if (wait <= 0) call();
      else later = setTimeout(call, wait);
    };
    listeners.add(listener);
    return () => {
      listeners.delete(listener);
      if (later !== null) clearTimeout(later);
    };
  }, [wanted, pauseMs]);
}
