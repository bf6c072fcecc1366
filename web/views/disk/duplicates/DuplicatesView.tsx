/** Duplicates on the Disk stage: groups, their files side by side, which stays, and the draft. */
import { useState } from 'react';
import type { DuplicateGroupLine } from '@early-set/core/api/disk';
import type { Criterion } from '@early-set/core/duplicates/keep';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { isOpen } from '@early-set/core/duplicates/groups';
import { menuItem, tableActions, useCommands, useKeys, type KeyActions } from '../../../commands/commands.ts';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useDuplicates, useRuns } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { DiskDesk, DiskHead } from '../DiskDesk.tsx';
import { FileCards } from './FileCards.tsx';
import { hearFrom } from './hear.ts';
import { CRITERION_WORDS, KeepPanel } from './KeepPanel.tsx';
import { useSettling, type GroupPlan } from './useSettling.ts';

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 170, grow: 1.2, className: 'font-semibold' },
  { id: 'artist', label: 'Artist', width: 120, grow: 0.8 },
  { id: 'files', label: 'Files', width: 60, figures: true },
  { id: 'kind', label: 'What they are', width: 190, grow: 0.6 },
  { id: 'by', label: 'Decided by', width: 150, grow: 0.5 },
];

const KIND_WORDS: Record<DuplicateGroupLine['kind'], string> = {
  'same bytes': 'same sound, byte for byte',
  'same recording': 'same recording',
  'cut short': 'one is cut short',
  'named apart': 'same recording, other name',
  'kept apart': 'kept apart',
};
const VERSION_WORDS: Record<NonNullable<DuplicateGroupLine['version']>, string> = {
  edit: 'edit, kept apart',
  'another version': 'another version, kept apart',
  'same song': 'same names, other sound',
};
const kindWords = ({ kind, version }: DuplicateGroupLine): string =>
  version ? VERSION_WORDS[version] : KIND_WORDS[kind];

const isAny = (): boolean => true;
const VIEWS = { all: isAny, open: isOpen, bytes: (g: DuplicateGroupLine) => g.kind === 'same bytes', parted: isAny };

const EMPTY = {
  parted: 'Of no group it was said that its files are no duplicates.',
  waiting: 'Look for duplicates compares measured tracks by their sound, over their whole length.',
  done: 'Every measured track has been compared with those that sound like it.',
} as const;

export function DuplicatesView() {
  const { data, error } = useDuplicates();
  const { data: runs = [] } = useRuns();
  const [view, setView] = useRemembered<keyof typeof VIEWS>('duplicates-view', 'all');
  const groups = ((view === 'parted' ? data?.parted : data?.groups) ?? []).filter(VIEWS[view]);
  const settling = useSettling(data?.groups ?? []);
  const choice = useRowChoice(groups.map((g) => g.trackIds.join('-')));
  const { chosen, choose, all, none } = choice;
  const inHand = chosen.focus === null ? groups[0] : (groups[chosen.focus] ?? groups[0]);
  const picked = groups.filter((g) => chosen.ids.has(g.trackIds.join('-')));
  const running = runs.find((r) => r.kind === 'duplicates' && r.state === 'running');
  // What is measured now is compared by itself afterwards.
  const busy = runs.some((r) => r.state === 'running' && ['intake', 'analysis', 'duplicates'].includes(r.kind));
  const [asked, setAsked] = useState(false);
  const look = (): void => {
    setAsked(true);
    void perform(post('/disk/duplicates/look')).then(() => setAsked(false));
  };
  const measureAgain = (): void =>
    void perform(
      post('/analysis', { selection: { where: EVERYTHING, except: [] }, older: true }),
      'They are measured again; their files stay as they are',
    );
  const leave = (): void => {
    const open = picked.filter((g) => settling.planOf(g));
    settling.settle(open, !open.some((g) => settling.planOf(g)!.settled));
  };
  const hear = (at: number): void => inHand && hearFrom(inHand, at);
  const stays = inHand ? inHand.trackIds.indexOf(settling.planOf(inHand)?.keep ?? inHand.trackIds[0]!) : 0;
  const keys: KeyActions<'duplicates'> = {
    audition: { run: () => hear(stays), disabled: !inHand },
    hear: { run: (press) => hear(Number(press) - 1), disabled: !inHand },
    leave: { run: leave, disabled: view === 'parted' || picked.every((g) => !settling.planOf(g)) },
  };
  useKeys('duplicates', keys);
  useCommands([{ id: 'look-for-duplicates', label: 'Look for duplicates', group: 'Disk', run: look }]);
  const onKey = gridKeys({
    count: groups.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('duplicates', keys),
  });
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk panel={<KeepPanel settling={settling} />}>
      <div className="flex h-full flex-col bg-sheet">
        <DiskHead
          title="Duplicates"
          testId="duplicates-count"
          count={
            <>
              {several(groups.length, 'group')}
              {settling.files > 0 && ` · ${several(settling.files, 'file')} would go`}
            </>
          }
        >
          <Segmented
            label="Which groups"
            value={view}
            onChoose={setView}
            choices={[
              ['all', 'All'],
              ['open', 'Duplicates'],
              ['bytes', 'Same sound'],
              ['parted', 'Not duplicates'],
            ]}
          />
        </DiskHead>
        {data && data.waiting > 0 && !busy && (
          <p className="flex items-center gap-2 border-b border-line bg-paper px-3.5 py-1.5 text-small text-dim">
            <span className="flex-1">{several(data.waiting, 'measured track')} not compared yet.</span>
            <Button kind="link" disabled={asked} onClick={look}>
              Look for duplicates
            </Button>
          </p>
        )}
        {data && data.earlier > 0 && (
          <p className="flex items-center gap-2 border-b border-line bg-paper px-3.5 py-1.5 text-small text-dim">
            <span className="flex-1">
              {several(data.earlier, 'track was', 'tracks were')} measured by an earlier version, too coarsely to be
              compared.
            </span>
            <Button kind="link" onClick={measureAgain}>
              Measure again
            </Button>
          </p>
        )}
        {running && (
          <p className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-dim">
            Comparing: {running.done.toLocaleString('en-GB')} of {several(running.total, 'track')}.
          </p>
        )}
        {!data ? (
          <div aria-busy="true" className="h-full" />
        ) : groups.length === 0 ? (
          <Empty title="No duplicates">
            <p>{EMPTY[view === 'parted' ? 'parted' : data.waiting > 0 ? 'waiting' : 'done']}</p>
          </Empty>
        ) : (
          <>
            <div className="min-h-[120px] flex-1">
              <Grid
                id="duplicates"
                label="Groups of duplicates"
                columns={COLUMNS}
                count={groups.length}
                row={(i) => groups[i]}
                idOf={(g) => g.trackIds.join('-')}
                data={(g) => ({ 'data-copies': g.trackIds.join('-') })}
                cell={(group, column) => (
                  <Cell group={group} column={column} plan={view === 'parted' ? null : settling.planOf(group)} />
                )}
                chosen={chosen}
                onChoose={choose}
                onOpen={() => hear(stays)}
                onKey={onKey}
                menu={[
                  menuItem('duplicates', 'audition', keys.audition!),
                  menuItem('duplicates', 'leave', keys.leave!),
                ]}
              />
            </div>
            {inHand && <InHand group={inHand} settling={settling} parted={view === 'parted'} />}
          </>
        )}
      </div>
    </DiskDesk>
  );
}

interface InHandProps {
  group: DuplicateGroupLine;
  settling: ReturnType<typeof useSettling>;
  /** Somebody said that they are no duplicates. */
  parted: boolean;
}

function InHand({ group, settling, parted }: InHandProps) {
  const plan = parted ? null : settling.planOf(group);
  return (
    <section
      aria-label="Group in hand"
      className="max-h-[64%] shrink-0 overflow-y-auto border-t border-line bg-fog px-3.5 pt-3"
    >
      <div className="mb-2.5 flex items-center gap-2">
        <div className="min-w-0">
          <h2 className="heading truncate text-[16px]">{group.files[0]?.title || 'no title'}</h2>
          <p className="text-small text-dim">
            {kindWords(group)}; keys 1 to {group.files.length} switch at the same moment
          </p>
        </div>
        <span className="flex-1" />
        {plan && (
          <>
            <Button onClick={() => settling.settle([group], !plan.settled)}>
              {plan.settled ? 'Leave as they are' : 'Take into the draft'}
            </Button>
            <Button onClick={() => settling.part(group, true)}>Not duplicates</Button>
          </>
        )}
        {parted && <Button onClick={() => settling.part(group, false)}>Duplicates after all</Button>}
      </div>
      <FileCards group={group} plan={plan} onKeep={(id) => settling.keep(group, id)} />
    </section>
  );
}

function Cell({ group, column, plan }: { group: DuplicateGroupLine; column: string; plan: GroupPlan | null }) {
  const [first] = group.files;
  switch (column) {
    case 'title':
      return [first?.title || first?.path.split('/').at(-1), first?.version && `(${first.version})`]
        .filter(Boolean)
        .join(' ');
    case 'artist':
      return first?.artist ?? '';
    case 'files':
      return <span className="figures">{group.files.length}</span>;
    case 'kind':
      return (
        <span
          className={group.kind === 'same bytes' || group.kind === 'same recording' ? 'text-dim' : 'text-sodium-text'}
        >
          {kindWords(group)}
        </span>
      );
    default:
      return <span className="text-dim">{decidedBy(plan)}</span>;
  }
}

function decidedBy(plan: GroupPlan | null): string {
  if (!plan) return '';
  if (!plan.settled) return 'left as they are';
  if (plan.byHand) return 'by hand';
  return plan.by ? CRITERION_WORDS[plan.by as Criterion] : 'nothing tells them apart';
}
