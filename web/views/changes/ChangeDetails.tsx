/** What one change set did, line by line, and taking it or chosen lines of it back. */
import { useState } from 'react';
import type { ChangeLine } from '@early-set/core/api/types';
import { change, several, takeBack } from '../../data/actions.ts';
import { openOtherNames } from '../../data/otherNames.ts';
import { useChangeSet } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { ItemWords } from './ItemWords.tsx';

export function ChangeDetails({ id }: { id: number | null }) {
  const { data: set } = useChangeSet(id);
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  if (id === null || !set || set.id !== id)
    return (
      <aside aria-label="What it did" className="w-[380px] shrink-0 border-l border-line bg-paper narrow:hidden">
        {id === null && (
          <Empty title="What a change did">
            <p>Choose one to see each line of it, before and after.</p>
          </Empty>
        )}
      </aside>
    );
  const toggle = (seq: number): void =>
    setPicked((old) => {
      const next = new Set(old);
      if (!next.delete(seq)) next.add(seq);
      return next;
    });
  const undo = async (): Promise<void> => {
    await change(takeBack(`/changes/${set.id}/undo`, picked.size ? { lines: [...picked].sort((a, b) => a - b) } : {}));
    setPicked(new Set());
  };
  const back = set.undoOf === null;
  const open = set.lines.some((l) => l.state === 'done' && !l.undone);
  return (
    <aside
      aria-label="What it did"
      className="flex w-[380px] shrink-0 flex-col border-l border-line bg-paper narrow:h-1/2 narrow:w-auto narrow:border-t narrow:border-l-0"
    >
      <div className="border-b border-line p-4 pb-3">
        <h2 className="heading text-[17px] break-words">{set.title}</h2>
        <p className="mt-0.5 text-small text-dim">
          {[
            dayAndTime(set.madeAt),
            several(set.done, 'line'),
            set.files > 0 && `${several(set.files, 'file')} written`,
            set.conflicts > 0 && `${several(set.conflicts, 'line')} left as it was`,
          ]
            .filter(Boolean)
            .join(', ')}
        </p>
        {set.waiting > 0 && (
          <p className="mt-1 text-small text-buoy-text">
            {several(set.waiting, 'file')} still to be written. Cancel and progress are at the top right.
          </p>
        )}
      </div>
      <ul className="min-h-0 flex-1 overflow-auto px-4 py-2">
        {set.lines.map((line) => (
          <Line key={line.seq} line={line} picked={picked.has(line.seq)} onPick={() => toggle(line.seq)} />
        ))}
        {set.done + set.conflicts > set.lines.length && (
          <li className="py-2 text-dim">and {several(set.done + set.conflicts - set.lines.length, 'more line')}</li>
        )}
      </ul>
      <div className="flex flex-col gap-2 border-t border-line p-3">
        {set.otherNames > 0 && (
          <Button className="w-full" onClick={() => openOtherNames({ changeSetId: set.id, files: set.otherNames })}>
            {several(set.otherNames, 'file')} with other names…
          </Button>
        )}
        <a
          href={`/api/changes/${set.id}/csv`}
          download
          className="self-start text-small text-dim underline hover:text-buoy-text"
        >
          All lines as CSV
        </a>
        {set.undoneBy === null && open ? (
          <Button kind="main" className="w-full" disabled={set.waiting > 0} onClick={() => void undo()}>
            {picked.size
              ? `${back ? 'Undo' : 'Redo'} ${several(picked.size, 'line')}`
              : back
                ? 'Undo this'
                : 'Redo this'}
          </Button>
        ) : (
          <p className="text-dim">{set.undoneBy === null ? 'Nothing here is left to undo.' : 'This is undone.'}</p>
        )}
      </div>
    </aside>
  );
}

function Line({ line, picked, onPick }: { line: ChangeLine; picked: boolean; onPick: () => void }) {
  const name = line.name ?? 'A removed list';
  return (
    <li className={`flex gap-2 border-b border-hair py-1.5 ${line.undone ? 'opacity-70' : ''}`}>
      <input
        type="checkbox"
        aria-label={`Choose the line about ${name}`}
        checked={picked}
        disabled={line.state !== 'done' || line.undone}
        onChange={onPick}
        className="mt-[3px] accent-(--buoy)"
      />
      <div className="min-w-0 flex-1">
        <p className="truncate font-medium">{name}</p>
        <ItemWords item={line.item} />
        {(line.state === 'conflict' || line.state === 'failed') && (
          <p className="text-small text-sodium-text">Left as it was: {line.reason}</p>
        )}
        {line.state === 'waiting' && <p className="text-small text-buoy-text">Waits for its turn</p>}
        {line.state === 'cancelled' && <p className="text-small text-dim">Cancelled before its turn came</p>}
        {line.undone && <p className="text-small text-dim">Undone</p>}
      </div>
    </li>
  );
}
