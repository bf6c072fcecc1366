/** The Changes stage: every change set, what it did, and taking it back. */
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { ChangeSetLine } from '@early-set/core/api/types';
import { useFindKey } from '../../commands/commands.ts';
import { several } from '../../data/actions.ts';
import { useChanges } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { NOTHING } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { Segmented } from '../../ui/Segmented.tsx';
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
  const find = useRef<HTMLInputElement>(null);
  useFindKey(find, 'Find changes');
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
  const at = sets?.findIndex((s) => s.id === chosen) ?? -1;
  const choose = (index: number): void => {
    const set = sets?.[index];
    if (set) setParams({ set: String(set.id) });
  };
  const focus = at < 0 ? null : at;
  return (
    <div className="flex h-full narrow:flex-col">
      <section aria-label="Change sets" className="flex min-h-0 min-w-0 flex-1 flex-col bg-sheet">
        <div className="flex min-h-[50px] flex-wrap items-center gap-2 border-b border-line bg-paper px-4 narrow:py-2">
          <h1 className="heading mr-2 text-[19px]">Changes</h1>
          <input
            ref={find}
            type="search"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            placeholder="Track, list or value"
            aria-label="Find changes by track, list or value"
            className="h-[28px] w-[240px] rounded-xs border border-line bg-sheet px-2"
          />
          <Segmented label="Kind of change" value={area} choices={AREAS} onChoose={setArea} />
        </div>
        <div className="flex min-h-0 flex-1 flex-col">
          {sets && sets.length > 0 && (
            <div className="min-h-0 flex-1">
              <Grid
                id="change-sets"
                label="Change sets, newest first"
                multiple={false}
                columns={COLUMNS}
                count={sets.length}
                row={(i) => sets[i]}
                rowHeight={36}
                idOf={(set) => set.id}
                data={(set) => ({ 'data-set': set.id })}
                cell={(set, column) => <SetCell set={set} column={column} />}
                chosen={{ ...NOTHING, ids: new Set(chosen === null ? [] : [chosen]), focus, anchor: focus }}
                onChoose={choose}
                onKey={gridKeys({ count: sets.length, focus, choose })}
              />
            </div>
          )}
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

const COLUMNS: GridColumn[] = [
  { id: 'when', label: 'When', width: 120 },
  { id: 'what', label: 'What', width: 200, grow: 1 },
  { id: 'size', label: 'How much', width: 170 },
  { id: 'left', label: 'Open', width: 116, figures: true },
];

function SetCell({ set, column }: { set: ChangeSetLine; column: string }) {
  const undone = set.undoneBy !== null;
  switch (column) {
    case 'when':
      return <span className="figures text-small text-dim">{dayAndTime(set.madeAt)}</span>;
    case 'what':
      return (
        <span title={set.title} className={`font-semibold ${undone ? 'text-dim line-through' : ''}`}>
          {set.title}
        </span>
      );
    case 'size':
      return <span className="text-small text-dim">{undone ? 'undone' : sizeOf(set)}</span>;
    default:
      if (set.waiting > 0)
        return <span className="text-small text-buoy-text">{set.waiting.toLocaleString('en-GB')} to write</span>;
      return set.conflicts > 0 ? (
        <span className="text-small text-sodium-text">{several(set.conflicts, 'conflict')}</span>
      ) : null;
  }
}

const sizeOf = ({ done, files }: ChangeSetLine): string =>
  [several(done, 'line'), files > 0 && several(files, 'file')].filter(Boolean).join(', ');
