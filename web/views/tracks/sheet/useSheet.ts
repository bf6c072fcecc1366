/** Pages of the sheet, fetched where the eye is and a little beyond, kept while they are true. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { SheetPage, SheetRow } from '@early-set/core/api/types';
import { get } from '../../../data/api.ts';
import { useAsked } from '../../../data/asked.ts';
import { useServerEvents } from '../../../data/events.ts';

export const PAGE = 150;

export interface Sheet {
  total: number;
  /** undefined while its page is on the way. */
  row: (index: number) => SheetRow | undefined;
  /** Tells which rows are in sight. */
  look: (first: number, last: number) => void;
  loading: boolean;
  error: Error | null;
}

interface Held {
  query: string;
  total: number;
  pages: Map<number, SheetRow[]>;
}

/** The sheet for a query string (without offset and limit). The old rows stay until the first new ones arrive. */
export function useSheet(query: string): Sheet {
  const [held, setHeld] = useState<Held | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const wanted = useRef({ first: 0, last: 40 });
  const inFlight = useRef(new Map<string, AbortController>());
  /** Pages on their way whose answer may be older than the last change: asked for once more when it is here. */
  const outdated = useRef(new Set<string>());
  const current = useRef(query);

  const fetchPage = useCallback(function ask(page: number, again: boolean): void {
    const own = current.current;
    const id = `${own}#${page}`;
    if (inFlight.current.has(id)) {
      if (again) outdated.current.add(id);
      return;
    }
    const controller = new AbortController();
    inFlight.current.set(id, controller);
    get<SheetPage>(`/tracks?${own}&offset=${page * PAGE}&limit=${PAGE}`, controller.signal)
      .then((answer) => {
        if (current.current !== own) return;
        setError(null);
        setHeld((before) => {
          const same = before?.query === own;
          const pages = same ? new Map(before.pages) : new Map<number, SheetRow[]>();
          pages.set(page, answer.rows);
          // Far pages are let go, so that a long scroll does not gather everything.
          if (pages.size > 40) for (const p of pages.keys()) if (Math.abs(p - page) > 15) pages.delete(p);
          return { query: own, total: answer.total, pages };
        });
      })
      .catch((e: unknown) => {
        if (!(e instanceof DOMException) && current.current === own) setError(e as Error);
      })
      .finally(() => {
        if (inFlight.current.get(id) === controller) inFlight.current.delete(id);
        if (outdated.current.delete(id) && current.current === own) ask(page, false);
      });
  }, []);

  /** Pages in sight and one screen beyond. */
  const around = useCallback(
    () => ({
      first: Math.max(0, Math.floor((wanted.current.first - PAGE) / PAGE)),
      last: Math.floor((wanted.current.last + PAGE) / PAGE),
    }),
    [],
  );

  useEffect(() => {
    current.current = query;
    for (const controller of inFlight.current.values()) controller.abort();
    inFlight.current.clear();
    outdated.current.clear();
    const { first, last } = around();
    for (let page = first; page <= last; page++) fetchPage(page, false);
  }, [query, fetchPage, around]);

  // Latest pages without making look() change with every page that arrives.
  const latest = useRef(held);
  useEffect(() => {
    latest.current = held;
  }, [held]);
  const look = useCallback(
    (first: number, last: number) => {
      wanted.current = { first, last };
      const now = latest.current;
      if (now?.query !== current.current) return;
      const end = Math.max(0, Math.ceil(now.total / PAGE) - 1),
        near = around();
      for (let page = near.first; page <= Math.min(end, near.last); page++) {
        if (!now.pages.has(page)) fetchPage(page, false);
      }
    },
    [fetchPage, around],
  );

  useServerEvents(['tracks'], () => {
    const { first: from, last: to } = around();
    // What is out of sight is no longer known to be true.
    setHeld(
      (before) =>
        before && { ...before, pages: new Map([...before.pages].filter(([page]) => page >= from && page <= to)) },
    );
    for (let page = from; page <= to; page++) fetchPage(page, true);
  });
  const asked = useAsked(useMemo(() => (held ? [...held.pages.values()].flat() : []), [held]));
  const row = useCallback(
    (index: number) => {
      const told = held?.pages.get(Math.floor(index / PAGE))?.[index % PAGE];
      return told && asked(told);
    },
    [held, asked],
  );
  return { total: held?.total ?? 0, row, look, loading: held?.query !== query, error };
}
