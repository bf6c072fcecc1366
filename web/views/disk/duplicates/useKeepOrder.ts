/** The order by which it is decided which file stays: shown as it was asked for until the server tells it back. */
import { useRef, useState } from 'react';
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/types';
import type { KeepOrder } from '@early-set/core/duplicates/keep';
import { perform } from '../../../data/actions.ts';
import { patch } from '../../../data/api.ts';
import { useSettings } from '../../../data/hooks.ts';

export function useKeepOrder(): [KeepOrder, (order: KeepOrder) => void] {
  const { data: settings, mutate } = useSettings();
  const [asked, setAsked] = useState<KeepOrder | null>(null);
  const last = useRef<{ order: KeepOrder; sent: Promise<unknown> } | null>(null);
  const setOrder = (keepOrder: KeepOrder): void => {
    setAsked(keepOrder);
    // One after another, so that the last one asked for is the one that is kept; those between need not be sent.
    const own = { order: keepOrder, sent: last.current?.sent ?? Promise.resolve() };
    last.current = own;
    own.sent = own.sent.then(async () => {
      if (last.current !== own) return;
      await perform(patch<DeskSettings>('/settings', { keepOrder }));
      await mutate();
      if (last.current === own) setAsked(null);
    });
  };
  return [asked ?? settings?.keepOrder ?? DEFAULT_SETTINGS.keepOrder, setOrder];
}
