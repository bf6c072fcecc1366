/** A format clock as it is kept, and keeping it otherwise. */
import { useMemo } from 'react';
import type { Applied, ListContents } from '@early-set/core/api/types';
import type { ClockItem } from '@early-set/core/hours/clock';
import { keptClock, type KeptClock } from '@early-set/core/hours/kept';
import { CLOCK_VERSION } from '@early-set/core/hours/readClock';
import { change } from '../../data/actions.ts';
import { put } from '../../data/api.ts';

export interface ClockInHand {
  clock: KeptClock;
  save: (wish: Partial<KeptClock>) => void;
  saveItem: (at: number, item: ClockItem) => void;
}

export function useClock(list: ListContents): ClockInHand {
  const text = list.info.clock;
  const clock = useMemo((): KeptClock => {
    const none = { name: list.info.name, seconds: 3600, items: [], rules: [], times: [] };
    return text === null ? none : keptClock(text);
  }, [text, list.info.name]);
  const save = (wish: Partial<KeptClock>): void => {
    const { times, ...next } = { ...clock, ...wish };
    void change(put<Applied>(`/clocks/${list.id}`, { clock: { version: CLOCK_VERSION, ...next }, times }));
  };
  return {
    clock,
    save,
    saveItem: (at, item) => save({ items: clock.items.map((own, i) => (i === at ? item : own)) }),
  };
}
