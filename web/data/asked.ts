/**
 * Values that were asked for and that the server has not told back yet. They are laid over what it said, so that keys
 * and clicks that follow each other faster than answers build on each other and none is lost.
 */
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import type { TrackDetails } from '@early-set/core/api/types';
import { sameValue, type FieldValue } from '@early-set/core/fields/values';

export type Held = Pick<TrackDetails, 'id' | 'values'>;

/** One value that was asked for. What the server tells is its word on it only once it has answered. */
class Asked {
  answered = false;
  constructor(readonly value: FieldValue) {}
}
type ByField = Readonly<Record<string, Asked>>;

/** By track, then by field. A new map at every change. */
let asked: ReadonlyMap<number, ByField> = new Map();
const watchers = new Set<() => void>();

function become(next: ReadonlyMap<number, ByField>): void {
  asked = next;
  for (const notify of watchers) notify();
}

/**
 * Lays a value over a track's.
 * @returns `answered`, for when the server has taken it; `forget`, which takes it off again, unless another one was
 *   asked for since
 */
export function ask(id: number, field: string, value: FieldValue): { answered: () => void; forget: () => void } {
  const own = new Asked(value);
  become(new Map(asked).set(id, { ...asked.get(id), [field]: own }));
  return {
    answered: () => {
      own.answered = true;
      become(new Map(asked));
    },
    forget: () => {
      if (asked.get(id)?.[field] !== own) return;
      const rest = Object.entries(asked.get(id)!).filter(([other]) => other !== field);
      const next = new Map(asked);
      if (rest.length > 0) next.set(id, Object.fromEntries(rest));
      else next.delete(id);
      become(next);
    },
  };
}

/** What is taken back is no longer asked for. */
export const forgetAsked = (): void => {
  if (asked.size) become(new Map());
};

/**
 * How tracks are shown: as the server told them, with what was asked for laid over; the same object where nothing was.
 * What the server says as well by now is no longer laid over, here: another part of the page, which holds an older word
 * of the server, goes on showing what was asked for.
 */
export function useAsked(told: Iterable<Held>): <T extends Held>(track: T) => T {
  const now = useSyncExternalStore(
    (notify) => {
      watchers.add(notify);
      return () => {
        watchers.delete(notify);
      };
    },
    () => asked,
  );
  const [settled] = useState(() => new WeakSet<Asked>());
  useEffect(() => {
    if (now.size === 0) return;
    for (const track of told)
      for (const [field, own] of Object.entries(now.get(track.id) ?? {}))
        if (own.answered && sameValue(own.value, track.values[field])) settled.add(own);
  }, [told, now, settled]);
  return useCallback(
    <T extends Held>(track: T): T => {
      const over = Object.entries(now.get(track.id) ?? {}).filter(([, own]) => !settled.has(own));
      if (over.length === 0) return track;
      return { ...track, values: { ...track.values, ...Object.fromEntries(over.map(([f, own]) => [f, own.value])) } };
    },
    [now, settled],
  );
}
