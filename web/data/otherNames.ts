/** A question that any change can bring up: may files be parted from their other names (hard links)? */
import { useSyncExternalStore } from 'react';
import type { Applied } from '@early-set/core/api/types';
import { OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';

export interface OtherNames {
  /** Left these files. */
  changeSetId: number;
  files: number;
}

let open: OtherNames | null = null;
const watchers = new Set<() => void>();

/** Asks it; null: it is answered. */
export function openOtherNames(question: OtherNames | null): void {
  open = question;
  for (const notify of watchers) notify();
}

/** Asks it where a change left files for this reason. */
export function askOtherNames({ changeSetId, conflicts }: Applied): void {
  const files = conflicts.filter((c) => c.reason === OTHER_NAMES).length;
  if (files > 0) openOtherNames({ changeSetId, files });
}

export const useOtherNames = (): OtherNames | null =>
  useSyncExternalStore(
    (notify) => {
      watchers.add(notify);
      return () => watchers.delete(notify);
    },
    () => open,
  );
