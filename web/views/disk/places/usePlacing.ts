/** What is to be moved to where the rules want it: all that is out of place, less what was left out by hand. */
import { useState } from 'react';
import type { OutOfPlaceLine, OutOfPlace } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';

export interface Placing {
  /** How many files are in the draft. */
  count: number;
  inDraft: (line: OutOfPlaceLine) => boolean;
  /** Takes lines out of the draft, or into it. */
  put: (lines: readonly OutOfPlaceLine[], into: boolean) => void;
  discard: () => void;
  apply: () => void;
  busy: boolean;
}

export function usePlacing(places: OutOfPlace | undefined): Placing {
  const lines = places?.lines ?? [];
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [busy, setBusy] = useState(false);
  const moving = lines.filter((line) => !left.has(line.trackId));
  // Of very many only the first are listed: with none left out, all of them go.
  const all = moving.length === lines.length;
  const count = all ? (places?.elsewhere ?? 0) : moving.length;
  return {
    count,
    inDraft: (line) => !left.has(line.trackId),
    put: (some, into) => {
      const next = new Set(left);
      for (const { trackId } of some)
        if (into) next.delete(trackId);
        else next.add(trackId);
      setLeft(next);
    },
    discard: () => setLeft(new Set(lines.map((line) => line.trackId))),
    apply: () => {
      setBusy(true);
      const trackIds = all ? null : moving.map((line) => line.trackId);
      void change(post<Applied>('/disk/places/move', { trackIds }), `${several(count, 'file')} moved`).finally(() =>
        setBusy(false),
      );
    },
    busy,
  };
}
