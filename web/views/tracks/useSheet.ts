/** Pages of the sheet, fetched where the eye is and a little beyond, kept while they are true. */
import { useCallback, useEffect, useRef, useState } from 'react';
import type { SheetPage, SheetRow } from '@early-set/core/api/types';
import { get } from '../../data/api.ts';
import { useServerEvents } from '../../data/events.ts';

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

interface Held { query: string; total: number; pages: Map<number, SheetRow[]> }

/** The sheet for a query string (without offset and limit). The old rows stay until the first new ones arrive. */
export function useSheet(query: string): Sheet {
  const [held, setHeld] = useState<Held | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const wanted = useRef({ first: 0, last: 40 });
  const inFlight = useRef(new Map<string, AbortController>());
  const current = useRef(query);

  const fetchPage = useCallback((page: number, fresh: boolean) => {
    const own = current.current;
    const id = `${own}#${page}`;
    if (inFlight.current.has(id)) return;
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
      .catch((e: unknown) => { if (!(e instanceof DOMException) && current.current === own) setError(e as Error); })
      .finally(() => { inFlight.current.delete(id); if (fresh && current.current !== own) inFlight.current.clear(); });
  }, []);

  const fetchAround = useCallback((pages: ReadonlyMap<number, SheetRow[]> | null, again: boolean) => {
    const first = Math.max(0, Math.floor((wanted.current.first - PAGE) / PAGE));
    const last = Math.floor((wanted.current.last + PAGE) / PAGE);
    for (let page = first; page <= last; page++) if (again || !pages?.has(page)) fetchPage(page, again);
  }, [fetchPage]);

  useEffect(() => {
    current.current = query;
    for (const controller of inFlight.current.values()) controller.abort();
    inFlight.current.clear();
    fetchAround(null, false);
  }, [query, fetchAround]);

  // Latest pages without making look() change with every page that arrives.
  const latest = useRef(held);
  useEffect(() => { latest.current = held; }, [held]);
  const look = useCallback((first: number, last: number) => {
    wanted.current = { first, last };
    const now = latest.current;
    if (now?.query !== current.current) return;
    const end = Math.max(0, Math.ceil(now.total / PAGE) - 1);
    for (let page = Math.max(0, Math.floor((first - PAGE) / PAGE)); page <= Math.min(end, Math.floor((last + PAGE) / PAGE)); page++) {
      if (!now.pages.has(page)) fetchPage(page, false);
    }
  }, [fetchPage]);

  useServerEvents(['tracks'], () => fetchAround(held?.pages ?? null, true));
  const row = useCallback((index: number) => held?.pages.get(Math.floor(index / PAGE))?.[index % PAGE], [held]);
  return { total: held?.total ?? 0, row, look, loading: held?.query !== query, error };
}
