/** The left column: what was looked up, group by group, with what came of it. */
import { useEffect, useRef } from 'react';
import type { GroupState, Lookup, LookupGroup, LookupReport } from '@early-set/core/api/catalogue';
import type { RunProgress } from '@early-set/core/api/types';
import { RunLine } from '../../app/Shell.tsx';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Chip } from '../../ui/Chip.tsx';

export const STATE_WORDS: Record<GroupState, string> = {
  waiting: 'waiting',
  found: 'found',
  unsure: 'needs a look',
  none: 'not found',
  failed: 'not searched',
  skipped: 'skipped',
  applied: 'applied',
};
const ORDER: GroupState[] = ['found', 'unsure', 'none', 'failed', 'skipped', 'applied', 'waiting'];

interface Props {
  lookup: Lookup;
  run: RunProgress | undefined;
  only: GroupState | null;
  onOnly: (state: GroupState | null) => void;
  groups: readonly LookupGroup[];
  chosen: number | null;
  onChoose: (id: number) => void;
  onAgain: () => void;
  onTakeSure: () => void;
}

export function GroupList({ lookup, run, only, onOnly, groups, chosen, onChoose, onAgain, onTakeSure }: Props) {
  const count = (s: GroupState): number => lookup.groups.filter((g) => g.state === s).length;
  const left = count('none') + count('failed'),
    sure = count('found');
  const report = run && run.state !== 'running' ? (run.report as LookupReport | null) : null;
  return (
    <section aria-label="Look-up" className="flex h-full flex-col bg-fog">
      <div className="border-b border-line px-3 py-2.5">
        <p className="font-semibold">{lookup.title}</p>
        {run?.state === 'running' ? (
          <RunLine run={run} />
        ) : (
          <p className="text-small text-dim">
            {report
              ? lookup.fill
                ? `${several(report.filled, 'track')} can be filled, ${report.notFilled.toLocaleString('en-GB')} not found; took ${report.seconds.toFixed(0)} s`
                : `took ${report.seconds.toFixed(0)} s`
              : ''}
            {run?.reason ? ` ${run.reason}.` : ''}
          </p>
        )}
        {lookup.trouble && (
          <p role="status" className="mt-1 border-l-[3px] border-sodium pl-2 text-small text-sodium-text">
            {lookup.trouble}
          </p>
        )}
        <div role="group" aria-label="Show only" className="mt-1.5 flex flex-wrap gap-1">
          {ORDER.filter((s) => count(s) > 0).map((s) => (
            <Chip key={s} size="small" on={only === s} onToggle={() => onOnly(only === s ? null : s)}>
              <span className="figures font-semibold">{count(s)}</span> {STATE_WORDS[s]}
            </Chip>
          ))}
        </div>
      </div>
      <ul aria-label="Groups" className="min-h-0 flex-1 overflow-y-auto bg-sheet">
        {groups.map((g) => (
          <Line key={g.id} group={g} chosen={g.id === chosen} onChoose={() => onChoose(g.id)} />
        ))}
        {groups.length === 0 && <li className="p-3 text-dim">None of these.</li>}
      </ul>
      <div className="flex flex-col gap-1.5 border-t border-line p-2.5">
        {left > 0 && !lookup.running && <Button onClick={onAgain}>Search again for {several(left, 'group')}</Button>}
        {sure > 0 && (
          <Button kind="main" onClick={onTakeSure}>
            Apply all {sure.toLocaleString('en-GB')} found…
          </Button>
        )}
      </div>
    </section>
  );
}

function Line({ group: g, chosen, onChoose }: { group: LookupGroup; chosen: boolean; onChoose: () => void }) {
  const node = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (chosen) node.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const tone =
    g.state === 'found' || g.state === 'applied' ? 'text-kelp' : g.state === 'unsure' ? 'text-sodium-text' : 'text-dim';
  return (
    <li>
      <button
        ref={node}
        type="button"
        data-group={g.id}
        aria-current={chosen}
        onClick={onChoose}
        className={`flex w-full items-baseline gap-2 border-b border-hair px-3 py-1.5 text-left ${chosen ? 'bg-chosen in-hand' : 'hover:bg-paper'}`}
      >
        <span className="min-w-0 flex-1">
          <span className="block truncate font-medium" title={g.name}>
            {g.name}
          </span>
          <span className="block truncate text-small text-dim">
            {several(g.tracks, 'track')}
            {g.folder && `, ${g.folder}`}
          </span>
        </span>
        <span className="shrink-0 text-right">
          <span className={`block text-small ${tone}`}>{STATE_WORDS[g.state]}</span>
          <span className="figures block text-small text-dim">
            {g.score !== null && g.state !== 'none' ? g.score.toFixed(2) : ''}
          </span>
        </span>
      </button>
    </li>
  );
}
