/** The entries of a list in order, with start times and what lies between neighbours; only those in sight are drawn. */
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { schedule } from '@early-set/core/arrange/schedule';
import { clockLength, timeOfDay } from '@early-set/core/clock/clock';
import { useCommands } from '../../app/commands.ts';
import { toggleAudition, usePlayer } from '../../audition/player.ts';
import { change, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { RightClick } from '../../ui/Menu.tsx';
import { BETWEEN_HEIGHT, EntryRow, HEADS, ROW_HEIGHT, TEMPLATE, timedOf } from './EntryRow.tsx';
import { ExportDialog } from './ExportDialog.tsx';
import { useListChoice } from './useListChoice.ts';
import { useOrder } from './useOrder.ts';

const HEAD_HEIGHT = 28;

export function ListTable({ list }: { list: ListContents }) {
  const { info } = list;
  const { entries, move } = useOrder(list);
  const ordered = info.kind === 'playlist';
  const [exporting, setExporting] = useState(false);
  const frame = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: entries.length,
    getScrollElement: () => frame.current,
    estimateSize: (i) => ROW_HEIGHT + (ordered && i < entries.length - 1 ? BETWEEN_HEIGHT : 0),
    getItemKey: (i) => entries[i]!.entryId,
    overscan: 12,
    scrollPaddingStart: HEAD_HEIGHT,
    paddingStart: HEAD_HEIGHT,
  });
  const { chosen, focus, choose, draggedWith, onKey, menu } = useListChoice(list, entries, move, (index) =>
    rows.scrollToIndex(index, { align: 'auto' }),
  );
  const player = usePlayer();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const { starts, total } = useMemo(() => schedule(entries.map(timedOf)), [entries]);
  const ids = useMemo(() => entries.map((e) => e.entryId), [entries]);
  const tracks = entries.filter((e) => e.id > 0).length;
  useCommands([{ id: 'export', label: `Export ${info.name}`, group: 'Arrange', run: () => setExporting(true) }]);

  const drop = (activeId: string, overId: string): void => {
    const from = ids.indexOf(activeId),
      to = ids.indexOf(overId);
    if (from !== to) move(draggedWith(activeId), from < to ? overId : (ids[to - 1] ?? null));
  };
  const when = (i: number): string =>
    !ordered ? String(i + 1) : info.startsAt ? timeOfDay(info.startsAt, starts[i]!) : clockLength(starts[i]!);
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <h1 className="heading min-w-0 truncate text-[19px]" title={info.name}>
          {info.name}
        </h1>
        <span className="figures shrink-0 text-small text-dim" data-testid="list-length">
          {several(tracks, 'track')} · {clockLength(total)}
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
          <RightClick items={menu}>
            <div
              ref={frame}
              tabIndex={0}
              role="grid"
              aria-multiselectable="true"
              aria-rowcount={entries.length + 1}
              aria-label={`Tracks of ${info.name}`}
              onKeyDown={onKey}
              className="min-h-0 flex-1 overflow-auto outline-1! outline-tide-deep! outline-offset-[-1px]"
            >
              <div className="relative" style={{ height: rows.getTotalSize() }}>
                <Head ordered={ordered} />
                <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={!ordered}>
                  {rows.getVirtualItems().map(({ index: i, start, key }) => {
                    const entry = entries[i]!;
                    return (
                      <div
                        key={key}
                        className="absolute inset-x-0 top-0"
                        style={{ transform: `translateY(${start}px)` }}
                      >
                        <EntryRow
                          entry={entry}
                          index={i}
                          next={ordered ? entries[i + 1] : undefined}
                          when={when(i)}
                          ordered={ordered}
                          chosen={chosen.has(entry.entryId)}
                          focused={focus === entry.entryId}
                          playing={player.playing && entry.id > 0 && player.track?.id === entry.id}
                          onChoose={(how) => choose(i, how)}
                          onOpen={() => toggleAudition(entry.id > 0 ? entry : null)}
                        />
                      </div>
                    );
                  })}
                </SortableContext>
              </div>
            </div>
          </RightClick>
        </DndContext>
      )}
      <ExportDialog list={list} open={exporting} onClose={() => setExporting(false)} />
    </div>
  );
}

function Head({ ordered }: { ordered: boolean }) {
  return (
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
  );
}
