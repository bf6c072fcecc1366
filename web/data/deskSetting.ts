/** A setting of the desk: shown as it was asked for until the server tells it back. */
import { useRef, useState } from 'react';
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { complain } from './actions.ts';
import { patch } from './api.ts';
import { useSettings } from './hooks.ts';

/** @returns the value, what sets it, and why the last one asked for was refused */
export function useDeskSetting<K extends keyof DeskSettings>(
  name: K,
): [value: DeskSettings[K], set: (value: DeskSettings[K]) => void, refused: string | null] {
  const { data: settings, mutate } = useSettings();
  const [asked, setAsked] = useState<{ value: DeskSettings[K]; refused: string | null } | null>(null);
  const last = useRef<{ sent: Promise<unknown> } | null>(null);
  const set = (value: DeskSettings[K]): void => {
    setAsked({ value, refused: null });
    // One after another, so that the last one asked for is the one that is kept; those between need not be sent.
    const own = { sent: last.current?.sent ?? Promise.resolve() };
    last.current = own;
    own.sent = own.sent.then(async () => {
      if (last.current !== own) return;
      try {
        await patch<DeskSettings>('/settings', { [name]: value });
        await mutate();
        if (last.current === own) setAsked(null);
      } catch (error) {
        // What was typed stays to be mended.
        if (last.current === own) setAsked({ value, refused: (error as Error).message });
        else complain(error);
      }
    });
  };
  return [asked?.value ?? settings?.[name] ?? DEFAULT_SETTINGS[name], set, asked?.refused ?? null];
}
