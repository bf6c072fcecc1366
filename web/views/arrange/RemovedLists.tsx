/** Lists that were removed, to be restored. */
import { useState } from 'react';
import type { ListLine } from '@early-set/core/api/types';
import { several } from '../../data/actions.ts';
import { isPutAway } from '../../data/listTree.ts';

export function RemovedLists({ lists, onRestore }: { lists: ListLine[]; onRestore: (id: string) => void }) {
  const [showRemoved, setShowRemoved] = useState(false);
  const removed = lists.filter((l) => l.removed);
  return (
    <>
      {removed.length > 0 && (
        <div className="mt-6 text-small">
          <button
            type="button"
            aria-expanded={showRemoved}
            onClick={() => setShowRemoved(!showRemoved)}
            className="text-left text-dim hover:text-ink"
          >
            Restore {several(removed.length, 'removed list')}…
          </button>
          {showRemoved && (
            <ul className="mt-1">
              {removed.map((l) => (
                <li key={l.id} className="flex items-center gap-2 border-b border-line py-1">
                  <span className="min-w-0 flex-1 truncate">{l.name}</span>
                  <button
                    type="button"
                    onClick={() => onRestore(l.id)}
                    className="font-semibold text-buoy-text hover:underline"
                  >
                    Restore
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
      {lists.some((l) => !l.removed && isPutAway(l, lists)) && showRemoved && (
        <p className="mt-1 text-tiny text-dim">Crates inside come back with theirs.</p>
      )}
    </>
  );
}
