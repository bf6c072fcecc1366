/**
 * Values that were asked for and that the server has not told back yet. They are laid over what it said, so that keys
 * and clicks that follow each other faster than answers build on each other and none is lost.
 */
import { useCallback, useEffect, useSyncExternalStore } from 'react';
import type { TrackDetails } from '@early-set/core/api/types';
import { sameValue, type FieldValue, type TrackValues } from '@early-set/core/fields/values';

export type Held = Pick<TrackDetails, 'id' | 'values'>;

/** By track, then by field. A new map at every change. */
let asked: ReadonlyMap<number, TrackValues> = new Map();
const watchers = new Set<() => void>();

function become(next: ReadonlyMap<number, TrackValues>): void {
  asked = next;
  for (const notify of watchers) notify();
}

/** Lays a value over a track's. @returns what takes it off again, unless another one was asked for since */
export function ask(id: number, field: string, value: FieldValue): () => void {
  const own = { ...asked.get(id), [field]: value };
  become(new Map(asked).set(id, own));
  return () => {
    if (asked.get(id)?.[field] === value) without(id, [field]);
  };
}

function without(id: number, fields: readonly string[]): void {
  const rest = Object.entries(asked.get(id) ?? {}).filter(([field]) => !fields.includes(field));
  const next = new Map(asked);
  if (rest.length) next.set(id, Object.fromEntries(rest));
  else next.delete(id);
  become(next);
}

/** What is taken back is no longer asked for. */
export const forgetAsked = (): void => {
  if (asked.size) become(new Map());
};

/** What the server says as well by now is asked for no more. */
function settle(tracks: Iterable<Held>): void {
  if (asked.size === 0) return;
  for (const track of tracks) {
    const there = Object.entries(asked.get(track.id) ?? {})
      .filter(([field, value]) => sameValue(value, track.values[field]))
      .map(([field]) => field);
    if (there.length) without(track.id, there);
  }
}

/**
 * How tracks are shown: as the server told them, with what was asked for laid over; the same object where nothing was.
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
  useEffect(() => settle(told), [told]);
  return useCallback(
    <T extends Held>(track: T): T => {
      const own = now.get(track.id);
      return own ? { ...track, values: { ...track.values, ...own } } : track;
    },
    [now],
  );
}
