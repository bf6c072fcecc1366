/** The entries of a list in order, with start times and what lies between neighbours; only those in sight are drawn. */
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { oneByOne, schedule } from '@early-set/core/arrange/schedule';
import { clockLength, secondsBehind, timeOfDay } from '@early-set/core/clock/clock';
import { useCommands } from '../../commands/commands.ts';
import { usePlayer } from '../../audition/player.ts';
import { change } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Empty } from '../../ui/Empty.tsx';
import { Grid } from '../../ui/grid/Grid.tsx';
import { StateMark } from '../../ui/Marks.tsx';
import {
  Between,
  BETWEEN_HEIGHT,
  ENTRY_HEIGHT,
  EntryCell,
  Grip,
  listColumns,
  Moved,
  otherTempo,
} from './EntryCells.tsx';
import { useHear, useHeardAnew } from './over/useHear.ts';
import { useMix } from '../../audition/mix/mixPlayer.ts';
import { useSettings } from '../../data/hooks.ts';
import { ExportDialog } from '../lists/ExportDialog.tsx';
import { ListHeader } from './ListHeader.tsx';
import { ShapeMenu, shapeItems } from './shape/ShapeMenu.tsx';
import { ShapeChart } from './shape/ShapeChart.tsx';
import type { Curve } from './shape/curve.ts';
import { MirrorBar } from '../filling/mirror/MirrorBar.tsx';
import { RuleBar } from '../filling/RuleBar.tsx';
import { ListDrops, useDrop } from './beside/Drops.tsx';
import { useListChoice } from './useListChoice.ts';
import { sortItems } from './SortMenu.tsx';
import { inOrder, useOrder } from './useOrder.ts';
import { shapeOf, type Smoothing } from './useSmoothing.ts';

interface Props {
  list: ListContents;
  smoothing: Smoothing;
  /** Told which entry is in hand. */
  onInHand?: (entryId: string | null) => void;
  taken?: Taken | null;
  /** What was taken is in hand now. */
  onThere?: () => void;
}

/** A track put in at an index. */
export interface Taken {
  index: number;
  trackId: number;
}

export const ListTable = (props: Props) => (
  <ListDrops>
    <Table {...props} />
  </ListDrops>
);

function Table({ list, smoothing, onInHand, taken = null, onThere }: Props) {
  const { info } = list;
  const { draft } = smoothing;
  const asked = useOrder(list);
  const entries = useMemo(
    () => (draft ? inOrder(list.entries, draft.order) : asked.entries),
    [draft, list.entries, asked.entries],
  );
  // An order that is only looked at is not changed by hand.
  const move = draft ? () => undefined : asked.move;
  const ordered = info.kind === 'playlist';
  const [exporting, setExporting] = useState(false);
  // With nothing else in hand, keys are for the list that was opened.
  useEffect(() => {
    if (document.activeElement === document.body) document.getElementById('list-entries')?.focus();
  }, []);
  const [widths, keepWidths] = useRemembered<Record<string, number>>('list-widths', {});
  const columns = useMemo(
    () => listColumns(ordered).map((c) => ({ ...c, width: widths[c.id] ?? c.width })),
    [ordered, widths],
  );
  const { chosen, choose, draggedWith, onKey, audition, menu } = useListChoice(list, entries, move, smoothing);
  const inHand = chosen.focus === null ? null : (entries[chosen.focus]?.entryId ?? null);
  useEffect(() => onInHand?.(inHand), [inHand, onInHand]);
  const there = taken !== null && entries[taken.index]?.id === taken.trackId ? taken.index : null;
  const reach = useRef((index: number): void => choose(index, 'one'));
  useEffect(() => {
    reach.current = (index) => {
      choose(index, 'one');
      onThere?.();
    };
  });
  useEffect(() => {
    if (there !== null) reach.current(there);
  }, [there]);
  const [curve, setCurve] = useRemembered<Curve>('list-curve', 'energy');
  const player = usePlayer();
  const plan = useMemo(() => (ordered ? schedule(entries) : oneByOne(entries)), [ordered, entries]);
  const { starts, total } = plan;
  const { data: settings } = useSettings();
  const keyLock = settings?.keyLock ?? true;
  const hear = useHear(entries, plan, keyLock);
  useHeardAnew(entries, plan, keyLock);
  const mix = useMix();
  const ids = useMemo(() => entries.map((e) => e.entryId), [entries]);
  useCommands([
    { id: 'export', label: `Export ${info.name}`, group: 'Arrange', run: () => setExporting(true) },
    ...(draft || info.rule !== null ? [] : sortItems(list)).map(({ label, run }) => ({
      id: `sort-${label}`,
      label: label.startsWith('Reverse') ? label : `Sort by ${label}`,
      group: 'Arrange',
      run,
    })),
    ...(ordered
      ? [
          { id: 'smooth', label: 'Smooth the order', group: 'Arrange', run: () => smoothing.start() },
          ...(draft
            ? [
                { id: 'apply-order', label: 'Apply the order', group: 'Arrange', run: smoothing.apply },
                { id: 'discard-order', label: 'Discard the order', group: 'Arrange', run: smoothing.discard },
              ]
            : []),
          ...shapeItems(list).map(({ label, run }) => ({
            id: `shape-${label}`,
            label: `Wished shape: ${label.toLowerCase()}`,
            group: 'Arrange',
            run,
          })),
        ]
      : []),
  ]);

  const drop = (activeId: string, overId: string): void => {
    const from = ids.indexOf(activeId),
      to = ids.indexOf(overId);
    if (from >= 0 && to >= 0 && from !== to) move(draggedWith(activeId), from < to ? overId : (ids[to - 1] ?? null));
  };
  useDrop(drop);
  const when = (i: number): string =>
    !ordered ? String(i + 1) : info.startsAt ? timeOfDay(info.startsAt, starts[i]!) : clockLength(starts[i]!);
  /** Seconds by which an entry begins after it is to; null where nothing is said. */
  const lateBy = ({ data }: ListEntryRow, i: number): number | null =>
    data.at && info.startsAt ? secondsBehind(timeOfDay(info.startsAt, starts[i]!), data.at) : null;
  const isPlaying = ({ id }: ListEntryRow): boolean => player.playing && id > 0 && player.track?.id === id;
  const between = (i: number) => (
    <Between
      from={entries[i]!}
      to={entries[i + 1]!}
      over={plan.over[i]!}
      played={plan.played[i]!}
      keyLock={keyLock}
      heard={mix.name === entries[i]!.entryId && mix.state !== 'silent'}
      onHear={() => hear.toggle(i)}
    />
  );
  return (
    <div className="flex h-full flex-col bg-sheet">
      <ListHeader list={list} total={total} smoothing={smoothing} onExport={() => setExporting(true)} />
      {info.mirrorOf ? <MirrorBar list={list} /> : info.rule !== null && <RuleBar list={list} />}
      {ordered && entries.some((e) => e.id > 0) && (
        <ShapeChart
          entries={entries}
          starts={starts}
          total={total}
          startsAt={info.startsAt}
          wished={shapeOf(info.shape)}
          menu={<ShapeMenu list={list} />}
          curve={curve}
          onCurve={setCurve}
          inHand={chosen.focus}
          onChoose={(i) => choose(i, 'one')}
          onShape={(shape) => void change(patch<Applied>(`/lists/${list.id}`, { shape }))}
        />
      )}
      {entries.length === 0 ? (
        <Empty title={`This ${info.kind} is empty`}>
          <p>
            {info.rule === null
              ? 'Choose tracks in the sheet and press A, or drag them here by way of the left column.'
              : info.mirrorOf
                ? 'No track lies in this folder itself.'
                : 'No track meets its conditions yet.'}
          </p>
        </Empty>
      ) : (
        <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={!ordered}>
          <div className="min-h-0 flex-1">
            <Grid
              id="list-entries"
              label={`Tracks of ${info.name}`}
              columns={columns}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              count={entries.length}
              row={(i) => entries[i]}
              rowHeight={ENTRY_HEIGHT}
              idOf={(e) => e.entryId}
              data={(e) => ({ 'data-entry': e.entryId })}
              lead={(entry, handle, i) =>
                handle && !draft ? (
                  <Grip entry={entry} handle={handle} />
                ) : draft ? (
                  <Moved from={list.entries.findIndex((e) => e.entryId === entry.entryId)} to={i} />
                ) : (
                  <StateMark row={entry} />
                )
              }
              cell={(entry, column, i) => (
                <EntryCell
                  entry={entry}
                  column={column}
                  when={when(i)}
                  late={lateBy(entry, i)}
                  seconds={plan.lengths[i]!}
                  tempo={otherTempo(plan.played[i], entry)}
                  playing={isPlaying(entry)}
                />
              )}
              chosen={chosen}
              onChoose={choose}
              onOpen={audition}
              onKey={onKey}
              menu={menu}
              {...(ordered ? { drag: 'along', between: { height: BETWEEN_HEIGHT, content: between } } : {})}
            />
          </div>
        </SortableContext>
      )}
      <ExportDialog list={list} open={exporting} onClose={() => setExporting(false)} />
    </div>
  );
}
