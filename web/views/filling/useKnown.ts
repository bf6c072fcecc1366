/** Names of what conditions refer to, so that they can be said in words. */
import type { Known } from '@early-set/core/conditions/words';
import { useDateNames, useLists, useRoots } from '../../data/hooks.ts';

export function useKnown(): Known {
  const { data: lists = [] } = useLists();
  const { data: roots = [] } = useRoots();
  const dates = useDateNames();
  return {
    list: (id) => lists.find((l) => l.id === id)?.name,
    root: (id) => roots.find((r) => r.id === id)?.label,
    date: (id) => dates.get(id),
  };
}
