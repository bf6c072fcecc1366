/** Smoothing the order of a playlist: worked out in a worker, shown as a draft, applied as one change. */
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import {
  DEFAULT_WEIGHTS,
  orderFigures,
  type Orderable,
  type OrderFigures,
  type OrderWeights,
} from '@early-set/core/arrange/order';
import { readShape, type ShapePoint } from '@early-set/core/arrange/shape';
import type { TrackValues } from '@early-set/core/fields/values';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useRemembered } from '../../data/remembered.ts';
import type { SmoothAnswer, SmoothRequest } from './smoothWorker.ts';

/** An order that was found and is not applied yet. */
export interface OrderDraft {
  order: string[];
  moved: ReadonlySet<string>;
  pinned: number;
  before: OrderFigures;
  after: OrderFigures;
}

export interface Smoothing {
  /** How much is done, 0 … 1; null while nothing is worked out. */
  share: number | null;
  draft: OrderDraft | null;
  /** Puts all in order, or only the entries given. */
  start: (only?: readonly string[]) => void;
  /** Stops working it out, or throws the draft away. */
  discard: () => void;
  apply: () => void;
  /** What a good order counts; when they change, the draft is made anew. */
  weights: OrderWeights;
  setWeights: (weights: OrderWeights) => void;
}

/** What ordering and judging look at. */
const SEEN = ['bpm', 'key', 'energy', 'artist'] as const;
export const orderable = ({ id, values }: ListEntryRow): Orderable => ({
  values: id === 0 ? null : (Object.fromEntries(SEEN.map((f) => [f, values[f] ?? null])) as TrackValues),
});
export const shapeOf = (shape: string | null): readonly ShapePoint[] | null =>
  shape === null ? null : readShape(shape);

/** What is worked out grows with the square of the entries. */
const MAX_SMOOTHED = 2000;

/** Nothing but a track is moved, and nothing that is pinned. */
const stays = ({ id, data }: ListEntryRow): boolean => id === 0 || data.pinned === true;

interface Found {
  /** What the draft was made for, and which entries that were. */
  of: string;
  ids: string;
  only: readonly string[] | undefined;
  draft: OrderDraft;
}

export function useSmoothing(list: ListContents | undefined): Smoothing {
  const worker = useRef<Worker | null>(null);
  /** What is being worked out. */
  const asked = useRef<{ listId: string; only?: readonly string[] | undefined; again: boolean } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [kept, setWeights] = useRemembered<OrderWeights>('order-weights', DEFAULT_WEIGHTS);
  const weights = { ...DEFAULT_WEIGHTS, ...kept };
  /** What a draft was made for; it is nothing worth once the list has changed. */
  const of = list
    ? JSON.stringify([list.id, list.info.shape, weights, list.entries.map((e) => [e.entryId, e.data])])
    : '';
  const ids = list?.entries.map((e) => e.entryId).join() ?? '';
  const stop = (): void => {
    worker.current?.terminate();
    worker.current = null;
    asked.current = null;
    setShare(null);
  };
  // A list that changes while it is worked out is begun anew; another one ends it.
  const anew = useRef<() => void>(() => undefined);
  useEffect(() => {
    anew.current = () => {
      const now = asked.current;
      // Of the same entries, pinned, shaped or weighed otherwise, the order is found anew.
      if (!now && found && found.of !== of && found.ids === ids) start(found.only, true);
      if (!now) return;
      if (list?.id === now.listId) start(now.only, now.again);
      else stop();
    };
  });
  useEffect(() => anew.current(), [of]);
  useEffect(() => stop, []);
  const draft = found?.of === of ? found.draft : null;
  // About to be found anew: it is not shown as gone in between.
  const begins = found !== null && !draft && found.ids === ids;

  /** @param again there was a draft, which is shown even when nothing is moved now */
  const start = (only?: readonly string[], again = false): void => {
    if (!list) return;
    if (list.entries.length > MAX_SMOOTHED) {
      toast.error(`Smoothing takes lists of up to ${MAX_SMOOTHED.toLocaleString('en-GB')} entries`);
      return;
    }
    stop();
    setFound(null);
    asked.current = { listId: list.id, only, again };
    const { entries } = list,
      shape = shapeOf(list.info.shape),
      chosen = only && new Set(only);
    const pinned = entries.flatMap((e, i) => (stays(e) || (chosen && !chosen.has(e.entryId)) ? [i] : []));
    const request: SmoothRequest = {
      entries: entries.map(orderable),
      wish: { weights, shape },
      pinned,
    };
    const own = new Worker(new URL('./smoothWorker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    setShare(0);
    own.onerror = () => {
      stop();
      toast.error('Working out the order broke off; nothing was changed');
    };
    own.onmessage = ({ data }: MessageEvent<SmoothAnswer>) => {
      if ('share' in data) {
        setShare(data.share);
        return;
      }
      stop();
      const moved = data.order.flatMap((from, i) => (from === i ? [] : [entries[from]!.entryId]));
      if (moved.length === 0 && !again) {
        toast('No better order was found', { duration: 4000 });
        return;
      }
      setFound({
        of,
        ids,
        only,
        draft: {
          order: data.order.map((i) => entries[i]!.entryId),
          moved: new Set(moved),
          pinned: entries.filter((e) => e.data.pinned).length,
          before: orderFigures(request.entries, shape),
          after: orderFigures(
            data.order.map((i) => request.entries[i]!),
            shape,
          ),
        },
      });
    };
    own.postMessage(request);
  };
  const apply = (): void => {
    if (!list || !draft) return;
    void change(post<Applied>(`/lists/${list.id}/entries/order`, { entryIds: draft.order, by: 'smoothing' }));
  };
  return {
    share: share ?? (begins ? 0 : null),
    draft,
    start: (only) => start(only),
    weights,
    setWeights,
    discard: () => {
      stop();
      setFound(null);
    },
    apply,
  };
}
