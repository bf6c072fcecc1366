/** Pages of the sheet, fetched where the eye is, then a little beyond, kept while they are true. */
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import type { SheetPage, SheetRow } from '@early-set/core/api/types';
import { get } from '../../../data/api.ts';
import { useAsked } from '../../../data/asked.ts';
import { useServerEvents } from '../../../data/events.ts';

/** Rows of a page: not many more than are in sight, since all of a page are waited for. */
export const PAGE = 75;
/** Pages beyond what is in sight that are fetched as well. */
const BEYOND = 2;
/** Far pages are let go, so that a long scroll does not gather everything. */
const MAX_PAGES = 80,
  KEPT_AROUND = 30;
/** So many pages are asked for in one question: the server gives no more than 500 rows. */
const MAX_AT_ONCE = 6;
/** Questions about where the eye was a moment ago. While so many are on their way, a moving scroll bar asks no more. */
const MAX_LEFT_BEHIND = 2;
/** What is beyond the rows in sight waits until the eye rests; else it would be in the way of what is in sight next. */
const REST_MS = 100;

type Pages = ReadonlyMap<number, SheetRow[]>;

export interface Sheet {
  total: number;
  /** As the server told it; undefined while its page is on the way. Who draws rows takes them from `useRows`. */
  row: (index: number) => SheetRow | undefined;
  /** Tells which rows are in sight. */
  look: (first: number, last: number) => void;
  /** Calls back when other pages are there; `pages` are those. */
  watch: (changed: () => void) => () => void;
  pages: () => Pages;
  loading: boolean;
  error: Error | null;
}

interface Held {
  query: string;
  total: number;
  pages: Pages;
}

const NO_PAGES: Pages = new Map();
const rowOf = (pages: Pages, index: number): SheetRow | undefined =>
  pages.get(Math.floor(index / PAGE))?.[index % PAGE];

const range = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);

/** What is held of one sheet, and what is on its way. */
class Keeper {
  private query: string | null = null;
  private held: Held | null = null;
  private sight = { first: 0, last: 40 };
  private readonly onTheWay = new Map<number, AbortController>();
  /** On their way, but asked for before the last change: asked for once more when they are here. */
  private readonly outdated = new Set<number>();
  /** Not asked for again before something happens. */
  private readonly failed = new Set<number>();

  /** What is beyond will be asked for, where the eye is still there. */
  private later: { from: number; timer: ReturnType<typeof setTimeout> } | null = null;
  private readonly watchers = new Set<() => void>();

  constructor(private readonly tell: (held: Held | null, error: Error | null) => void) {}

  readonly pages = (): Pages => this.held?.pages ?? NO_PAGES;
  readonly row = (index: number): SheetRow | undefined => rowOf(this.pages(), index);
  readonly watch = (changed: () => void): (() => void) => {
    this.watchers.add(changed);
    return () => this.watchers.delete(changed);
  };

  ask(query: string): void {
    this.leave();
    this.query = query;
    this.failed.clear();
    this.goOn();
  }

  readonly look = (first: number, last: number): void => {
    this.sight = { first, last };
    this.failed.clear();
    this.goOn();
  };

  /** What is in sight is asked for again; what is not is no longer known to be true. */
  changed(): void {
    const [from, to] = this.near(BEYOND);
    const { held } = this;
    const again = held ? range(from, to).filter((page) => held.pages.has(page)) : [];
    if (held) this.put({ ...held, pages: new Map(again.map((page) => [page, held.pages.get(page)!])) });
    this.failed.clear();
    for (const page of this.onTheWay.keys()) this.outdated.add(page);
    this.fetch(again.filter((page) => !this.onTheWay.has(page)));
    this.goOn();
  }

  /** Nothing more is asked for. */
  leave(): void {
    for (const controller of this.onTheWay.values()) controller.abort();
    this.onTheWay.clear();
    this.outdated.clear();
    if (this.later) clearTimeout(this.later.timer);
    this.later = null;
  }

  /** Pages in sight, and so many beyond. */
  private near(beyond: number): [from: number, to: number] {
    const known = this.held?.query === this.query ? Math.max(0, Math.ceil(this.held!.total / PAGE) - 1) : Infinity;
    const page = (row: number, more: number): number => Math.min(known, Math.max(0, Math.floor(row / PAGE) + more));
    return [page(this.sight.first, -beyond), page(this.sight.last, beyond)];
  }

  /** First what is in sight; when that is here, what may come into sight next. */
  private goOn(): void {
    const there = this.held?.query === this.query ? this.held!.pages : null;
    const missing = (beyond: number): number[] =>
      range(...this.near(beyond)).filter((page) => !there?.has(page) && !this.failed.has(page));
    const [from, to] = this.near(BEYOND);
    if (this.later && this.later.from !== from) {
      clearTimeout(this.later.timer);
      this.later = null;
    }
    const behind = [...this.onTheWay].filter(([page]) => page < from || page > to).map(([, question]) => question);
    if (new Set(behind).size >= MAX_LEFT_BEHIND) return;
    const ask = (pages: number[]): void => this.fetch(pages.filter((page) => !this.onTheWay.has(page)));
    const seen = missing(0);
    ask(seen);
    if (seen.length > 0 || missing(BEYOND).length === 0) return;
    const beyond = (): void => {
      this.later = null;
      ask(missing(BEYOND));
    };
    this.later ??= { from, timer: setTimeout(beyond, REST_MS) };
  }

  /** Pages that follow each other are one question. */
  private fetch(pages: readonly number[]): void {
    const [first, ...rest] = pages;
    if (first === undefined) return;
    const others = rest.findIndex((page, i) => page !== first + i + 1 || i + 2 > MAX_AT_ONCE);
    const asked = range(first, first + (others < 0 ? rest.length : others));
    const controller = new AbortController();
    for (const page of asked) this.onTheWay.set(page, controller);
    const current = (page: number): boolean => this.onTheWay.get(page) === controller;
    const limit = asked.length * PAGE;
    get<SheetPage>(`/tracks?${this.query}&offset=${first * PAGE}&limit=${limit}`, controller.signal)
      .then((answer) => this.take(asked.filter(current), first, answer))
      .catch((e: unknown) => {
        if (e instanceof DOMException || !asked.some(current)) return;
        for (const page of asked) this.failed.add(page);
        this.tell(this.held, e as Error);
      })
      .finally(() => {
        const ours = asked.filter(current);
        if (ours.length === 0) return;
        for (const page of ours) this.onTheWay.delete(page);
        this.fetch(ours.filter((page) => this.outdated.delete(page)));
        this.goOn();
      });
    this.fetch(pages.slice(asked.length));
  }

  private take(asked: readonly number[], first: number, { total, rows }: SheetPage): void {
    if (asked.length === 0) return;
    const pages = new Map(this.held?.query === this.query ? this.held!.pages : []);
    for (const page of asked) pages.set(page, rows.slice((page - first) * PAGE, (page - first + 1) * PAGE));
    if (pages.size > MAX_PAGES) for (const p of pages.keys()) if (Math.abs(p - first) > KEPT_AROUND) pages.delete(p);
    this.put({ query: this.query!, total, pages });
  }

  private put(held: Held): void {
    this.held = held;
    this.tell(held, null);
    for (const changed of this.watchers) changed();
  }
}

interface Told {
  query: string | null;
  total: number;
  error: Error | null;
}

/**
 * The sheet for a query string (without offset and limit). The old rows stay until the first new ones arrive. Pages
 * that come draw only what shows rows (`useRows`) anew.
 */
export function useSheet(query: string): Sheet {
  const [told, tell] = useState<Told>({ query: null, total: 0, error: null });
  const [keeper] = useState(
    () =>
      new Keeper((held, error) => {
        const next: Told = { query: held?.query ?? null, total: held?.total ?? 0, error };
        tell((now) => (now.query === next.query && now.total === next.total && now.error === next.error ? now : next));
      }),
  );
  useEffect(() => {
    keeper.ask(query);
    return () => keeper.leave();
  }, [keeper, query]);
  useServerEvents(['tracks'], () => keeper.changed());
  const { row, look, watch, pages } = keeper;
  return useMemo(
    () => ({ total: told.total, row, look, watch, pages, loading: told.query !== query, error: told.error }),
    [told, query, row, look, watch, pages],
  );
}

/** Rows as they are shown: with what was asked for laid over what the server told. */
export function useRows({ watch, pages }: Sheet): (index: number) => SheetRow | undefined {
  const now = useSyncExternalStore(watch, pages);
  const asked = useAsked(useMemo(() => [...now.values()].flat(), [now]));
  return useCallback(
    (index) => {
      const told = rowOf(now, index);
      return told && asked(told);
    },
    [now, asked],
  );
}

/** One of them. */
export function useRow({ watch, row }: Sheet, index: number | null): SheetRow | undefined {
  const told = useSyncExternalStore(watch, () => (index === null ? undefined : row(index)));
  const asked = useAsked(useMemo(() => (told ? [told] : []), [told]));
  return useMemo(() => told && asked(told), [told, asked]);
}
