/** The tracks of a list in order, with start times and what lies between neighbours. */
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { useRef, useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { fitOf } from '@early-set/core/arrange/fit';
import { clockLength, startTimes, timeOfDay } from '@early-set/core/arrange/times';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { useCommands } from '../../app/commands.ts';
import { toggleAudition, usePlayer } from '../../audition/player.ts';
import { change, several } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { figure, textOf } from '../../ui/format.ts';
import { EnergyBar, StateMark } from '../../ui/Marks.tsx';
import { RightClick, type MenuItem } from '../../ui/Menu.tsx';
import { ExportDialog } from './ExportDialog.tsx';
import { useOrder } from './useOrder.ts';

const HEADS: [string, boolean][] = [
  ['State', false],
  ['Starts', true],
  ['Title', false],
  ['Artist', false],
  ['BPM', true],
  ['Key', false],
  ['Energy', false],
  ['LUFS', true],
  ['Length', true],
];
const TEMPLATE = '26px 60px minmax(150px,1.3fr) minmax(100px,1fr) 68px 92px 84px 58px 66px';

export function ListTable({ list }: { list: ListContents }) {
  const { info } = list;
  const { entries, move } = useOrder(list);
  const ordered = info.kind === 'playlist';
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [focus, setFocus] = useState<string | null>(null);
  const [exporting, setExporting] = useState(false);
  const frame = useRef<HTMLDivElement>(null);
  const player = usePlayer();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const { starts, total } = startTimes(
    entries.map((e) => (typeof e.values.durationSeconds === 'number' ? e.values.durationSeconds : null)),
  );
  const present = new Set(entries.map((e) => e.entryId));
  const picked = [...chosen].filter((id) => present.has(id));
  const at = entries.findIndex((e) => e.entryId === focus);

  const choose = (index: number, how: 'one' | 'toggle' | 'range'): void => {
    const entry = entries[index];
    if (!entry) return;
    setFocus(entry.entryId);
    if (how === 'toggle')
      setChosen((c) => {
        const next = new Set(c);
        if (!next.delete(entry.entryId)) next.add(entry.entryId);
        return next;
      });
    else if (how === 'range' && at >= 0)
      setChosen(
        new Set([...chosen, ...entries.slice(Math.min(at, index), Math.max(at, index) + 1).map((e) => e.entryId)]),
      );
    else setChosen(new Set([entry.entryId]));
    frame.current?.querySelector(`[data-entry="${entry.entryId}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  const step = (by: -1 | 1): void => {
    const moving = entries.map((e, i) => ({ id: e.entryId, i })).filter(({ id }) => picked.includes(id));
    if (moving.length === 0) return;
    const target = by < 0 ? moving[0]!.i - 2 : moving.at(-1)!.i + 1;
    if ((by < 0 && moving[0]!.i === 0) || (by > 0 && target >= entries.length)) return;
    move(
      moving.map((m) => m.id),
      target < 0 ? null : entries[target]!.entryId,
    );
  };
  const remove = (): void => {
    if (picked.length === 0) return;
    const next =
      entries.find((e, i) => i > at && !picked.includes(e.entryId)) ?? entries.find((e) => !picked.includes(e.entryId));
    void change(post<Applied>(`/lists/${list.id}/entries/remove`, { entryIds: picked }));
    setChosen(new Set(next ? [next.entryId] : []));
    setFocus(next?.entryId ?? null);
  };
  const audition = (): void => toggleAudition(entries[at] ?? null);
  const items: MenuItem[] = [
    { label: 'Audition', keys: 'Space', run: audition, disabled: at < 0 },
    ...(ordered
      ? [
          { label: 'Move up', keys: 'Alt ↑', run: () => step(-1), disabled: picked.length === 0, apart: true },
          { label: 'Move down', keys: 'Alt ↓', run: () => step(1), disabled: picked.length === 0 },
          {
            label: 'Move to the top',
            run: () =>
              move(
                entries.filter((e) => picked.includes(e.entryId)).map((e) => e.entryId),
                null,
              ),
            disabled: picked.length === 0,
          },
        ]
      : []),
    {
      label: `Take out of the ${info.kind}`,
      keys: 'Delete',
      run: remove,
      disabled: picked.length === 0,
      danger: true,
      apart: true,
    },
  ];
  useCommands([{ id: 'export', label: `Export ${info.name}`, group: 'Arrange', run: () => setExporting(true) }]);

  const keys = (e: React.KeyboardEvent): void => {
    if (e.target !== frame.current) return;
    const control = e.ctrlKey || e.metaKey;
    const actions: Record<string, (() => void) | undefined> = {
      ArrowDown: () =>
        e.altKey && ordered ? step(1) : choose(Math.min(entries.length - 1, at + 1), e.shiftKey ? 'range' : 'one'),
      ArrowUp: () => (e.altKey && ordered ? step(-1) : choose(Math.max(0, at - 1), e.shiftKey ? 'range' : 'one')),
      Home: () => choose(0, e.shiftKey ? 'range' : 'one'),
      End: () => choose(entries.length - 1, e.shiftKey ? 'range' : 'one'),
      Delete: remove,
      Backspace: remove,
      ' ': audition,
      Escape: () => setChosen(new Set()),
      a: control ? () => setChosen(new Set(entries.map((x) => x.entryId))) : undefined,
    };
    const run = actions[e.key];
    if (!run) return;
    e.preventDefault();
    run();
  };
  const drop = (activeId: string, overId: string): void => {
    const from = entries.findIndex((e) => e.entryId === activeId),
      to = entries.findIndex((e) => e.entryId === overId);
    const ids = picked.includes(activeId)
      ? entries.filter((e) => picked.includes(e.entryId)).map((e) => e.entryId)
      : [activeId];
    if (from !== to) move(ids, from < to ? overId : (entries[to - 1]?.entryId ?? null));
  };
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <h1 className="heading min-w-0 truncate text-[19px]" title={info.name}>
          {info.name}
        </h1>
        <span className="figures shrink-0 text-small text-dim" data-testid="list-length">
          {several(entries.length, 'track')} · {clockLength(total)}
          {ordered && info.startsAt && entries.length > 0 && ` · ends ${timeOfDay(info.startsAt, total)}`}
        </span>
        <span className="flex-1" />
        {info.removed && (
          <Button onClick={() => void change(patch<Applied>(`/lists/${list.id}`, { removed: false }))}>
            Bring back
          </Button>
        )}
        <Button kind="main" disabled={entries.length === 0} onClick={() => setExporting(true)}>
          Export…
        </Button>
      </div>
      {entries.length === 0 ? (
        <Empty title={`This ${info.kind} is empty`}>
          <p>Choose tracks in the sheet and press A, or drag them here by way of the left column.</p>
        </Empty>
      ) : (
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            if (over) drop(String(active.id), String(over.id));
          }}
        >
          <RightClick items={items}>
            <div
              ref={frame}
              tabIndex={0}
              role="grid"
              aria-multiselectable="true"
              aria-label={`Tracks of ${info.name}`}
              onKeyDown={keys}
              className="min-h-0 flex-1 overflow-auto outline-1! outline-tide-deep! outline-offset-[-1px]"
            >
              <div
                role="row"
                className="sticky top-0 z-10 grid h-[28px] items-center border-b border-line bg-paper text-[12.5px] font-semibold text-dim"
                style={{ gridTemplateColumns: TEMPLATE }}
              >
                {HEADS.map(([label, figures]) => (
                  <span key={label} role="columnheader" className={`truncate px-2 ${figures ? 'text-right' : ''}`}>
                    {label === 'State' ? (
                      <span className="sr-only">{label}</span>
                    ) : label === 'Starts' && !ordered ? (
                      'No.'
                    ) : (
                      label
                    )}
                  </span>
                ))}
              </div>
              <SortableContext
                items={entries.map((e) => e.entryId)}
                strategy={verticalListSortingStrategy}
                disabled={!ordered}
              >
                {entries.map((entry, i) => (
                  <EntryRow
                    key={entry.entryId}
                    entry={entry}
                    next={ordered ? entries[i + 1] : undefined}
                    when={
                      ordered
                        ? info.startsAt
                          ? timeOfDay(info.startsAt, starts[i]!)
                          : clockLength(starts[i]!)
                        : String(i + 1)
                    }
                    ordered={ordered}
                    chosen={chosen.has(entry.entryId)}
                    focused={focus === entry.entryId}
                    playing={player.playing && player.track?.id === entry.id}
                    onChoose={(how) => choose(i, how)}
                    onOpen={() => toggleAudition(entry)}
                  />
                ))}
              </SortableContext>
            </div>
          </RightClick>
        </DndContext>
      )}
      <ExportDialog list={list} open={exporting} onClose={() => setExporting(false)} />
    </div>
  );
}

interface RowProps {
  entry: ListEntryRow;
  next: ListEntryRow | undefined;
  when: string;
  ordered: boolean;
  chosen: boolean;
  focused: boolean;
  playing: boolean;
  onChoose: (how: 'one' | 'toggle' | 'range') => void;
  onOpen: () => void;
}

function EntryRow({ entry, next, when, ordered, chosen, focused, playing, onChoose, onOpen }: RowProps) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: entry.entryId,
  });
  const v = entry.values;
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={isDragging ? 'relative z-10 opacity-80' : ''}
    >
      <div
        role="row"
        aria-selected={chosen}
        data-entry={entry.entryId}
        onClick={(e) => onChoose(e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'toggle' : 'one')}
        onContextMenu={() => {
          if (!chosen) onChoose('one');
        }}
        onDoubleClick={onOpen}
        className={`grid h-[34px] cursor-default items-center select-none ${next ? '' : 'border-b border-hair'} ${chosen ? 'bg-chosen' : 'hover:bg-paper'} ${focused ? 'shadow-[inset_3px_0_0_var(--buoy)]' : ''}`}
        style={{ gridTemplateColumns: TEMPLATE }}
      >
        <span role="gridcell" className="flex h-full">
          {ordered ? (
            <button
              ref={setActivatorNodeRef}
              type="button"
              {...attributes}
              {...listeners}
              aria-label={`Move ${textOf('title', v.title) || 'track'}`}
              className="flex h-full w-full items-center justify-center text-dim hover:text-ink"
            >
              <GripVertical size={13} />
            </button>
          ) : (
            <span className="flex w-full items-center justify-center">
              <StateMark row={entry} />
            </span>
          )}
        </span>
        <span role="gridcell" className="figures px-2 text-right">
          {playing ? (
            <span
              role="img"
              aria-label="Auditioned"
              className="inline-block h-0 w-0 border-y-[5px] border-l-[8px] border-y-transparent border-l-buoy"
            />
          ) : (
            when
          )}
        </span>
        <span
          role="gridcell"
          className={`truncate px-2 font-semibold ${v.fileState === 'missing' ? 'text-flare line-through' : ''}`}
          title={textOf('title', v.title)}
        >
          {textOf('title', v.title) || String(v.path).split('/').at(-1)}
          {v.version && <span className="ml-1.5 text-small font-normal text-dim">{String(v.version)}</span>}
        </span>
        <span role="gridcell" className="truncate px-2">
          {textOf('artist', v.artist)}
        </span>
        <span role="gridcell" className="figures px-2 text-right font-semibold">
          {typeof v.bpm === 'number' ? v.bpm.toFixed(2) : '–'}
        </span>
        <span role="gridcell" className="truncate px-2 font-semibold">
          {v.key ? (
            <>
              {shortKey(String(v.key))}
              <span className="ml-1.5 text-tiny font-normal text-dim">{signatureLabel(String(v.key))}</span>
            </>
          ) : (
            '–'
          )}
        </span>
        <span role="gridcell" className="px-2">
          {typeof v.energy === 'number' && <EnergyBar value={v.energy} />}
        </span>
        <span role="gridcell" className="figures px-2 text-right">
          {typeof v.lufs === 'number' ? figure(v.lufs, 1) : '–'}
        </span>
        <span role="gridcell" className="figures px-2 text-right">
          {textOf('durationSeconds', v.durationSeconds)}
        </span>
      </div>
      {next && <Between from={entry} to={next} />}
    </div>
  );
}

/** How one track goes over into the next: tempo step and key. */
function Between({ from, to }: { from: ListEntryRow; to: ListEntryRow }) {
  const fit = fitOf(
    {
      bpm: from.values.bpm as number | null,
      key: from.values.key as string | null,
      energy: from.values.energy as number | null,
    },
    to.values,
  );
  const step = fit.tempoStepPercent === null ? null : Math.abs(fit.tempoStepPercent);
  const hard = step === null || step > 8 || (fit.keySteps ?? 6) > 3;
  const good = !hard && step < 3 && (fit.sameKey || fit.keySteps === 0);
  const fair = !hard && step < 4 && (fit.keySteps ?? 6) <= 1;
  const mark = good
    ? 'border-l-kelp'
    : fair
      ? 'border-l-tide-deep'
      : hard
        ? 'border-l-flare border-dotted'
        : 'border-l-sodium';
  return (
    <div className="ml-[72px] flex h-[19px] items-center border-b border-hair text-tiny text-dim">
      <span className={`h-full border-l-[3px] ${mark}`} />
      <span className="pl-4">{fit.reasons[1]}</span>
      <span className="figures pl-4">{fit.reasons[0]}</span>
    </div>
  );
}
