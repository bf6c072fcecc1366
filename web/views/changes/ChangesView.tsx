/** The Changes stage: every change set, what it did, and taking it back. */
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { ChangeSetLine } from '@early-set/core/api/types';
import { several } from '../../data/actions.ts';
import { useChanges } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { ChangeDetails } from './ChangeDetails.tsx';

const AREAS: [string, string][] = [
  ['', 'All'],
  ['fields', 'Fields'],
  ['files', 'Files'],
  ['lists', 'Lists'],
  ['dates', 'Dates'],
];

export function ChangesView() {
  const [limit, setLimit] = useState(100);
  const [search, setSearch] = useState('');
  const [area, setArea] = useState('');
  const { data: sets, error } = useChanges(limit, search, area);
  const [params, setParams] = useSearchParams();
  const chosen = Number(params.get('set')) || null;
  if (error && !sets) return <Trouble error={error} />;
  if (sets?.length === 0 && !search && !area)
    return (
      <Empty main title="Nothing has been changed yet">
        <p>
          Every edit, every list and every reordering will stand here, and can be taken back from here, also after a
          restart.
        </p>
      </Empty>
    );
  const move = (by: number): void => {
    const at = sets?.findIndex((s) => s.id === chosen) ?? -1;
    const next = sets?.[Math.max(0, Math.min(sets.length - 1, at + by))];
    if (next) {
      setParams({ set: String(next.id) });
      document.getElementById(`set-${next.id}`)?.scrollIntoView({ block: 'nearest' });
    }
  };
  return (
    <div className="flex h-full">
      <section aria-label="Change sets" className="flex min-w-0 flex-1 flex-col bg-sheet">
        <div className="flex min-h-[50px] items-center gap-2 border-b border-line bg-paper px-4">
          <h1 className="heading mr-2 text-[19px]">Changes</h1>
          <input
            type="search"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            placeholder="Track, list or value"
            aria-label="Find changes by track, list or value"
            className="h-[28px] w-[240px] rounded-xs border border-line bg-sheet px-2"
          />
          <div role="group" aria-label="Kind of change" className="flex">
            {AREAS.map(([id, label]) => (
              <button
                key={id}
                type="button"
                aria-pressed={area === id}
                onClick={() => setArea(id)}
                className={`-ml-px border border-line px-2.5 py-1 text-small font-semibold ${area === id ? 'bg-ink text-paper' : 'bg-sheet text-dim hover:text-ink'}`}
              >
                {label}
              </button>
            ))}
          </div>
        </div>
        <div
          tabIndex={0}
          role="listbox"
          aria-label="Change sets, newest first"
          className="min-h-0 flex-1 overflow-auto outline-offset-[-2px]"
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
              e.preventDefault();
              move(e.key === 'ArrowDown' ? 1 : -1);
            }
          }}
        >
          {sets?.map((s) => (
            <SetLine key={s.id} set={s} chosen={s.id === chosen} onChoose={() => setParams({ set: String(s.id) })} />
          ))}
          {sets?.length === 0 && (
            <p className="p-4 text-dim">
              No change has to do with this.{' '}
              <button
                type="button"
                className="underline"
                onClick={() => {
                  setSearch('');
                  setArea('');
                }}
              >
                Show all
              </button>
            </p>
          )}
          {sets?.length === limit && limit < 200 && (
            <div className="p-3">
              <Button onClick={() => setLimit(200)}>Show older ones</Button>
            </div>
          )}
        </div>
      </section>
      <ChangeDetails key={chosen} id={chosen} />
    </div>
  );
}

function SetLine({ set, chosen, onChoose }: { set: ChangeSetLine; chosen: boolean; onChoose: () => void }) {
  return (
    <div
      id={`set-${set.id}`}
      role="option"
      aria-selected={chosen}
      onClick={onChoose}
      className={`grid cursor-default grid-cols-[120px_1fr_170px_110px] items-center gap-3 border-b border-hair px-4 py-2 ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--buoy)]' : 'hover:bg-paper'}`}
    >
      <span className="figures text-small text-dim">{dayAndTime(set.madeAt)}</span>
      <span className={`truncate font-semibold ${set.undoneBy !== null ? 'text-dim line-through' : ''}`}>
        {set.title}
      </span>
      <span className="text-small text-dim">
        {set.undoneBy !== null
          ? 'taken back'
          : `${several(set.done, 'line')}${set.files > 0 ? `, ${several(set.files, 'file')}` : ''}`}
      </span>
      <span className="text-right text-small">
        {set.waiting > 0 ? (
          <span className="text-buoy-text">{set.waiting.toLocaleString('en-GB')} to write</span>
        ) : (
          set.conflicts > 0 && <span className="text-sodium-text">{several(set.conflicts, 'conflict')}</span>
        )}
      </span>
    </div>
  );
}
