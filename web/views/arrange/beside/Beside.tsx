/** Another list beside the one in hand: entries are dragged across, or put in by key. */
import { useDroppable } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import { shortKey } from '@early-set/core/fields/keys';
import { toggleAudition } from '../../../audition/player.ts';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useList } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { chooseOne, NOTHING, type Chosen } from '../../../ui/grid/choice.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { Grip, titleOf } from '../EntryCells.tsx';
import { useDrop } from './Drops.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 120, grow: 1, className: 'font-semibold' },
  { id: 'bpm', label: 'BPM', width: 58, figures: true },
  { id: 'key', label: 'Key', width: 58 },
];
/** Before the ids of its rows, which may stand in both lists. */
const MARK = 'beside:';
/** Where something is dropped to come last. */
const END = 'beside-end';

interface Props {
  /** The list in hand. */
  main: ListContents;
  /** The entry in hand there. */
  inHand: string | null;
  listId: string;
  onClose: () => void;
}

const put = (listId: string, trackId: number, index: number): void =>
  void change(post<Applied>(`/lists/${listId}/entries`, { selection: { ids: [trackId] }, index }));

export function Beside({ main, inHand, listId, onClose }: Props) {
  const { data: list } = useList(listId);
  const [chosen, setChosen] = useState<Chosen<string>>(NOTHING);
  const entries = list?.id === listId ? list.entries : [];
  const byHand = list?.info.rule === null;
  const find = (rows: readonly ListEntryRow[], id: string): number => rows.findIndex((e) => e.entryId === id);
  useDrop((active, over) => {
    const mine = active.startsWith(MARK) ? find(entries, active.slice(MARK.length)) : -1,
      onto = over === END ? entries.length : over.startsWith(MARK) ? find(entries, over.slice(MARK.length)) : -1;
    const theirs = find(main.entries, active),
      target = find(main.entries, over);
    if (mine >= 0 && target >= 0 && entries[mine]!.id > 0) put(main.id, entries[mine]!.id, target);
    else if (theirs >= 0 && onto >= 0 && byHand && main.entries[theirs]!.id > 0)
      put(listId, main.entries[theirs]!.id, onto);
    else if (mine >= 0 && onto >= 0 && mine !== onto && list?.info.kind === 'playlist') {
      const behind = onto > mine ? entries[Math.min(onto, entries.length - 1)] : entries[onto - 1];
      const body = { entryIds: [entries[mine]!.entryId], behind: behind?.entryId ?? null };
      void change(post<Applied>(`/lists/${listId}/entries/move`, body));
    }
  });
  const choose = (index: number): void => {
    const entry = entries[index];
    if (entry) setChosen(chooseOne(entry.entryId, index));
  };
  const { focus } = chosen;
  /** Puts a track behind the entry in hand of the list in hand. */
  const add = (index = focus): void => {
    const entry = index === null ? undefined : entries[index];
    if (!entry || entry.id === 0 || main.info.rule !== null) return;
    const at = inHand === null ? -1 : find(main.entries, inHand);
    put(main.id, entry.id, at < 0 ? main.entries.length : at + 1);
  };
  const name = list?.info.name ?? '';
  return (
    <section aria-label={`Beside: ${name}`} className="flex h-full flex-col border-l border-line bg-sheet">
      <div className="flex min-h-[50px] shrink-0 items-center gap-2 border-b border-line bg-paper px-3 py-2">
        <h2 className="heading min-w-0 flex-1 truncate text-[15px]" title={name}>
          {name}
        </h2>
        <span className="figures text-small text-dim">{several(entries.length, 'entry', 'entries')}</span>
        <Button kind="quiet" aria-label="Close the list beside" onClick={onClose}>
          <X size={14} />
        </Button>
      </div>
      <p className="border-b border-hair px-3 py-1 text-tiny text-dim">
        Drag across by the handles; Enter puts a track behind the one in hand.
      </p>
      <div className="min-h-0 flex-1">
        <SortableContext items={entries.map((e) => MARK + e.entryId)} strategy={verticalListSortingStrategy}>
          <Grid
            id="beside-entries"
            label={`Tracks of ${name}`}
            columns={COLUMNS}
            count={entries.length}
            row={(i) => entries[i]}
            idOf={(e) => MARK + e.entryId}
            data={(e) => ({ 'data-beside': e.entryId })}
            lead={(entry, handle) => handle && <Grip entry={entry} handle={handle} />}
            cell={(entry, column) => <Cell entry={entry} column={column} />}
            chosen={{ ...chosen, ids: new Set([...chosen.ids].map((id) => MARK + id)) }}
            onChoose={choose}
            onOpen={add}
            drag="along"
            onKey={gridKeys({
              count: entries.length,
              focus,
              choose,
              all: () => undefined,
              none: () => setChosen(NOTHING),
              actions: {
                Enter: () => add(),
                ' ': () => {
                  const entry = focus === null ? undefined : entries[focus];
                  if (entry && entry.id > 0) toggleAudition(entry);
                },
              },
            })}
            menu={[{ label: 'Put behind the one in hand', run: () => add(), disabled: focus === null }]}
          />
        </SortableContext>
      </div>
      {byHand && <End />}
    </section>
  );
}

/** Below the last one. */
function End() {
  const { setNodeRef, isOver } = useDroppable({ id: END });
  return (
    <div
      ref={setNodeRef}
      className={`shrink-0 border-t border-line px-3 py-2 text-center text-tiny text-dim ${isOver ? 'bg-chosen' : ''}`}
    >
      Drop here to put it at the end
    </div>
  );
}

function Cell({ entry, column }: { entry: ListEntryRow; column: string }) {
  const { bpm, key } = entry.values;
  if (column === 'title') return <span title={titleOf(entry)}>{titleOf(entry)}</span>;
  if (column === 'bpm') return typeof bpm === 'number' ? bpm.toFixed(1) : '';
  return key ? shortKey(String(key)) : '';
}
