/** Everything that differs, line by line: what it is here and there, what it was, what it will be. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import {
  LINE_GROUPS,
  type ComparisonAnswer,
  type DestinationLine,
  type LineGroup,
  type SyncStep,
} from '@early-set/core/api/handover';
import type { Choice } from '@early-set/core/sync/decide';
import type { Line } from '@early-set/core/sync/compareTracks';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import { several } from '../../data/actions.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Chip } from '../../ui/Chip.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import { LineCell } from './LineCell.tsx';
import { StoreDialog } from './StoreDialog.tsx';
import { canApply, fieldLabel, stepText } from './words.ts';

interface Props {
  destination: DestinationLine;
  /** undefined while it is compared for the first time. */
  comparison: ComparisonAnswer | undefined;
  looking: boolean;
  /** How far it is. */
  step: SyncStep | null;
  only: LineGroup | null;
  onOnly: (group: LineGroup | null) => void;
  onChoose: (ids: readonly string[], choice: Choice) => void;
  onRefresh: () => void;
  onApply: () => void;
}

const NONE: Line[] = [];
const columnsFor = (synced: boolean): GridColumn[] => [
  { id: 'name', label: 'Track or list', width: 130, grow: 1, className: 'font-semibold' },
  { id: 'field', label: 'Field', width: 84, grow: 0.3 },
  { id: 'here', label: 'Here', width: 96, grow: 1 },
  { id: 'there', label: 'There', width: 96, grow: 1 },
  ...(synced ? [{ id: 'base', label: 'At last sync', width: 84, grow: 0.6 }] : []),
  { id: 'goes', label: 'Goes', width: 88 },
  { id: 'will', label: 'Will be', width: 196, grow: 1 },
];

const groupLabel = (group: LineGroup, { name, syncedAt }: DestinationLine): string =>
  ({ clash: syncedAt ? 'Both changed' : 'Different', out: `To ${name}`, in: `From ${name}`, left: 'Stay as they are' })[
    group
  ];

const matches = (line: Line, words: string): boolean => {
  const text = [line.name, fieldLabel(line.field), line.here, line.there].join(' ').toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w));
};

export function Comparison(props: Props) {
  const { destination, comparison, looking, step, only, onOnly, onChoose, onRefresh, onApply } = props;
  const [find, setFind] = useState('');
  const [storing, setStoring] = useState(false);
  const [widths, keepWidths] = useRemembered<Record<string, number>>('handover-widths', {});
  const all = comparison?.lines ?? NONE;
  const lines = all.filter((l) => (only === null || l.group === only) && matches(l, find));
  const { chosen, choose, all: everything, none } = useRowChoice(lines.map((l) => l.id));
  const inHand = chosen.focus === null ? undefined : lines[chosen.focus];
  const picked = lines.filter((l) => chosen.ids.has(l.id) || (chosen.ids.size === 0 && l === inHand));
  const set = (choice: Choice): void =>
    onChoose(
      picked.filter((l) => l.options.includes(choice)).map((l) => l.id),
      choice,
    );
  const may = (choice: Choice): boolean => picked.some((l) => l.options.includes(choice));
  const keys: KeyActions<'handover'> = {
    here: { run: () => set('here'), disabled: !may('here') },
    there: { run: () => set('there'), disabled: !may('there') },
    both: { run: () => set('both'), disabled: !may('both') },
    leave: { run: () => set('leave'), disabled: !may('leave') },
    sync: { run: onApply, disabled: !comparison || !canApply(destination, comparison) },
  };
  useKeys('handover', keys);
  const onKey = gridKeys({
    count: lines.length,
    focus: chosen.focus,
    choose,
    all: everything,
    none,
    ...tableActions('handover', keys),
  });
  const { name } = destination;
  const total = comparison ? LINE_GROUPS.reduce((n, g) => n + comparison.groups[g], 0) : 0;
  const { counts } = comparison ?? {};
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
        <h1 className="heading text-[19px]">{name}</h1>
        <span className="figures text-small text-dim" data-testid="handover-count">
          {counts
            ? `${counts.here.toLocaleString('en-GB')} here · ${counts.there.toLocaleString('en-GB')} there · ${
                destination.readOnly
                  ? 'only read'
                  : destination.syncedAt
                    ? `last sync ${dayAndTime(destination.syncedAt)}`
                    : 'never synced'
              }`
            : 'comparing…'}
          {step && (looking || !comparison) ? ` · ${stepText(step)}` : ''}
        </span>
        <span className="flex-1" />
        <Button onClick={onRefresh} disabled={looking}>
          {looking ? 'Comparing…' : 'Compare again'}
        </Button>
        {!destination.readOnly && <Button onClick={() => setStoring(true)}>What it can store</Button>}
        {destination.readOnly && <TakeFrom id={destination.id} notHere={counts?.notHere ?? 0} />}
      </div>
      <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
        <Chip on={only === null} onToggle={() => onOnly(null)}>
          Everything <span className="figures">{total.toLocaleString('en-GB')}</span>
        </Chip>
        {LINE_GROUPS.filter((g) => comparison && comparison.groups[g] > 0).map((group) => (
          <Chip key={group} on={only === group} onToggle={() => onOnly(only === group ? null : group)}>
            {groupLabel(group, destination)}{' '}
            <span className="figures">{comparison!.groups[group].toLocaleString('en-GB')}</span>
          </Chip>
        ))}
        <span className="flex-1" />
        <input
          type="search"
          aria-label="Find in what differs"
          placeholder="Find"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          className="h-[26px] w-[130px] rounded-xs border border-line bg-sheet px-2"
        />
      </div>
      {!comparison ? (
        <div aria-busy="true" className="h-full" />
      ) : lines.length === 0 ? (
        <Empty title={total === 0 ? `${name} and this desk say the same` : 'Nothing of it here'}>
          <p>
            {total === 0
              ? destination.readOnly
                ? 'There is nothing to take over.'
                : 'There is nothing to hand over.'
              : 'Another group, or other words, show the rest.'}
          </p>
        </Empty>
      ) : (
        <div className="min-h-0 flex-1">
          <Grid
            id="handover"
            label={`What differs from ${name}`}
            columns={columnsFor(destination.syncedAt !== null).map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
            onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
            count={lines.length}
            row={(i) => lines[i]}
            idOf={(l) => l.id}
            data={(l) => ({ 'data-line': `${l.name}: ${fieldLabel(l.field)}`, 'data-group': l.group })}
            tone={(l) => (l.group === 'clash' && l.will === null ? 'bg-chosen/60' : '')}
            cell={(line, column, index) => (
              <LineCell
                line={line}
                column={column}
                destination={destination}
                open={index === chosen.focus || line.group === 'clash'}
                onChoose={(choice) => onChoose([line.id], choice)}
              />
            )}
            chosen={chosen}
            onChoose={choose}
            onKey={onKey}
            menu={(['here', 'there', 'both', 'leave'] as const).map((c) => menuItem('handover', c, keys[c]!))}
          />
        </div>
      )}
      <StoreDialog kind={destination.kind} open={storing} onClose={() => setStoring(false)} />
    </div>
  );
}

/** Tracks that are only there are taken on a page of their own. */
function TakeFrom({ id, notHere }: { id: number; notHere: number }) {
  const navigate = useNavigate();
  return notHere === 0 ? null : (
    <Button
      onClick={() => void navigate(`/intake/from?source=destination:${id}`)}
    >{`Take ${several(notHere, 'track')}…`}</Button>
  );
}
