/** The Changes stage: every change set, what it did, and taking it back. */
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Applied, ChangeLine, ChangeSetLine } from '@early-set/core/api/types';
import type { EditList } from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useChanges, useChangeSet } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { dayAndTime, textOf } from '../../ui/format.ts';

export function ChangesView() {
  const [limit, setLimit] = useState(100);
  const { data: sets, error } = useChanges(limit);
  const [params, setParams] = useSearchParams();
  const chosen = Number(params.get('set')) || null;
  if (error && !sets) return <Trouble error={error} />;
  if (sets?.length === 0) return <Empty main title="Nothing has been changed yet"><p>Every edit, every list and every reordering will stand here, and can be taken back from here, also after a restart.</p></Empty>;
  const move = (by: number): void => {
    const at = sets?.findIndex((s) => s.id === chosen) ?? -1;
    const next = sets?.[Math.max(0, Math.min(sets.length - 1, at + by))];
    if (next) { setParams({ set: String(next.id) }); document.getElementById(`set-${next.id}`)?.scrollIntoView({ block: 'nearest' }); }
  };
  return (
    <div className="flex h-full">
      <section aria-label="Change sets" className="flex min-w-0 flex-1 flex-col bg-sheet">
        <h1 className="heading flex min-h-[50px] items-center border-b border-line bg-paper px-4 text-[19px]">Changes</h1>
        <div tabIndex={0} role="listbox" aria-label="Change sets, newest first" className="min-h-0 flex-1 overflow-auto outline-offset-[-2px]" onKeyDown={(e) => { if (e.key === 'ArrowDown' || e.key === 'ArrowUp') { e.preventDefault(); move(e.key === 'ArrowDown' ? 1 : -1); } }}>
          {sets?.map((s) => <SetLine key={s.id} set={s} chosen={s.id === chosen} onChoose={() => setParams({ set: String(s.id) })} />)}
          {sets?.length === limit && limit < 200 && <div className="p-3"><Button onClick={() => setLimit(200)}>Show older ones</Button></div>}
        </div>
      </section>
      <Details id={chosen} />
    </div>
  );
}

function SetLine({ set, chosen, onChoose }: { set: ChangeSetLine; chosen: boolean; onChoose: () => void }) {
  return (
    <div id={`set-${set.id}`} role="option" aria-selected={chosen} onClick={onChoose} className={`grid cursor-default grid-cols-[120px_1fr_110px_130px] items-center gap-3 border-b border-hair px-4 py-2 ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--buoy)]' : 'hover:bg-paper'}`}>
      <span className="figures text-small text-dim">{dayAndTime(set.madeAt)}</span>
      <span className={`truncate font-semibold ${set.undoneBy !== null ? 'text-dim line-through' : ''}`}>{set.title}</span>
      <span className="text-small text-dim">{set.undoneBy !== null ? 'taken back' : several(set.done, 'line')}</span>
      <span className="text-right text-small">{set.conflicts > 0 && <span className="text-sodium-text">{several(set.conflicts, 'conflict')}</span>}</span>
    </div>
  );
}

function Details({ id }: { id: number | null }) {
  const { data: set } = useChangeSet(id);
  if (id === null || !set || set.id !== id) return <aside aria-label="What it did" className="w-[380px] shrink-0 border-l border-line bg-paper">{id === null && <Empty title="What a change did"><p>Choose one to see each line of it, before and after.</p></Empty>}</aside>;
  return (
    <aside aria-label="What it did" className="flex w-[380px] shrink-0 flex-col border-l border-line bg-paper">
      <div className="border-b border-line p-4 pb-3">
        <h2 className="heading text-[17px] break-words">{set.title}</h2>
        <p className="mt-0.5 text-small text-dim">{dayAndTime(set.madeAt)}, {several(set.done, 'line')}{set.conflicts > 0 && `, ${several(set.conflicts, 'line')} left as it was`}</p>
      </div>
      <ul className="min-h-0 flex-1 overflow-auto px-4 py-2">
        {set.lines.map((line) => (
          <li key={line.seq} className="border-b border-hair py-1.5">
            <p className="truncate font-medium">{line.name ?? 'A list that is gone'}</p>
            <Words line={line} />
            {line.state === 'conflict' && <p className="text-small text-sodium-text">Left as it was: {line.reason}</p>}
          </li>
        ))}
        {set.done + set.conflicts > set.lines.length && <li className="py-2 text-dim">and {several(set.done + set.conflicts - set.lines.length, 'more line')}</li>}
      </ul>
      <div className="border-t border-line p-3">
        {set.undoneBy === null
          ? <Button kind="main" className="w-full" onClick={() => void change(post<Applied>(`/changes/${set.id}/undo`))}>{set.undoOf === null ? 'Take this back' : 'Bring the change back'}</Button>
          : <p className="text-dim">This has been taken back.</p>}
      </div>
    </aside>
  );
}

/** One line in words: before and after, differences marked. */
function Words({ line }: { line: ChangeLine }) {
  const { item } = line;
  if (item.kind === 'set-field') {
    const before = textOf(item.field, item.before?.value), after = textOf(item.field, item.after?.value);
    const lock = before === after ? (item.after?.locked ? ' locked' : ' unlocked') : '';
    return <p className="text-small break-words"><span className="text-dim">{fieldOf(item.field).label}{lock}{!lock && ': '}</span>{!lock && <><s className="text-flare decoration-1">{before || 'empty'}</s> → <span className="text-kelp">{after || 'empty'}</span></>}</p>;
  }
  return <p className="text-small text-dim">{listWords(item.edit)}</p>;
}

const NAMES: Record<string, string> = { name: 'name', parentId: 'crate it lies in', position: 'place among its neighbours', removed: 'removed', startsAt: 'start', kind: 'kind' };

function listWords(edit: EditList['edit']): string {
  if (edit.op === 'exist') return edit.after ? `${edit.after.kind} made` : `${edit.before?.kind ?? 'list'} taken away`;
  if (edit.op === 'describe') {
    return Object.keys(edit.after).map((k) => {
      const value = (from: typeof edit.after): string => String(from[k as keyof typeof from] ?? 'none');
      if (k === 'removed') return edit.after.removed ? 'put away' : 'brought back';
      return k === 'name' || k === 'startsAt' ? `${NAMES[k]}: ${value(edit.before)} → ${value(edit.after)}` : `another ${NAMES[k]}`;
    }).join(', ');
  }
  const put = edit.placements.filter((p) => !p.before).length, taken = edit.placements.filter((p) => !p.after).length, moved = edit.placements.length - put - taken;
  return [put && `${several(put, 'track')} put in`, taken && `${several(taken, 'track')} taken out`, moved && `${several(moved, 'track')} moved`].filter(Boolean).join(', ');
}
