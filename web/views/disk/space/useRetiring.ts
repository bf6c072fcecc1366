/** What is marked to go into quarantine: bands of whatever way to look at the space. */
import { useState } from 'react';
import type { RetireLook } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useRetireLook } from '../../../data/hooks.ts';

export interface Mark {
  /** The way to look at it, and the keys. */
  id: string;
  label: string;
  bytes: number;
  where: Condition;
}
export interface Retiring {
  marks: readonly Mark[];
  has: (id: string) => boolean;
  /** Marks what is not marked; takes all of it out where all is. */
  toggle: (marks: readonly Mark[]) => void;
  discard: () => void;
  look: RetireLook | undefined;
  /** Why it cannot be counted. */
  trouble: string | null;
  apply: () => void;
  busy: boolean;
}

export function useRetiring(): Retiring {
  const [marks, setMarks] = useState<readonly Mark[]>([]);
  const [busy, setBusy] = useState(false);
  const selection = marks.length ? { where: { any: marks.map((m) => m.where) }, except: [] } : null;
  const { data: look, error } = useRetireLook(selection);
  const has = (id: string): boolean => marks.some((m) => m.id === id);
  return {
    marks,
    has,
    toggle(some) {
      const ids = new Set(some.map((m) => m.id));
      if (some.every((m) => has(m.id))) setMarks(marks.filter((m) => !ids.has(m.id)));
      else setMarks([...marks, ...some.filter((m) => !has(m.id))]);
    },
    discard: () => setMarks([]),
    look,
    trouble: error?.message ?? null,
    apply() {
      setBusy(true);
      const what = several(look?.files ?? 0, 'file');
      void change(post<Applied>('/disk/retire', { selection }), `${what} put into quarantine`)
        .then((done) => done && setMarks([]))
        .finally(() => setBusy(false));
    },
    busy,
  };
}
