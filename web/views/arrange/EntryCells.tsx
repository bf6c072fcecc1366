/** What the columns of a list say of an entry, and how it goes over into the next. */
import { ArrowDown, ArrowUp, GripVertical, Pin } from 'lucide-react';
import type { ListEntryRow } from '@early-set/core/api/types';
import { lengthOf, type Timed } from '@early-set/core/arrange/schedule';
import { transition, type Grade } from '@early-set/core/arrange/transition';
import type { EntryKind } from '@early-set/core/changes/snapshot';
import { clockLength } from '@early-set/core/clock/clock';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { figure, nameOf, textOf } from '../../ui/format.ts';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import type { Handle } from '../../ui/grid/GridRow.tsx';
import { EnergyBar, Playing } from '../../ui/Marks.tsx';

/** Columns of a list. @param ordered its entries have start times; else they are numbered */
export const listColumns = (ordered: boolean): GridColumn[] => [
  { id: 'starts', label: ordered ? 'Clock' : 'No.', width: 62, figures: true },
  { id: 'title', label: 'Title', width: 150, grow: 1.3, className: 'font-semibold' },
  { id: 'artist', label: 'Artist', width: 100, grow: 1 },
  { id: 'bpm', label: 'BPM', width: 68, figures: true, className: 'font-semibold' },
  { id: 'key', label: 'Key', width: 92, className: 'font-semibold' },
  { id: 'energy', label: 'Energy', width: 84 },
  { id: 'lufs', label: 'LUFS', width: 58, figures: true },
  { id: 'length', label: 'Length', width: 66, figures: true },
];
/** Pixels of an entry, and of what stands between it and the next. */
export const ENTRY_HEIGHT = 34,
  BETWEEN_HEIGHT = 19;

/** By this an entry is dragged along its list. */
export const Grip = ({ entry, handle }: { entry: ListEntryRow; handle: Handle }) => (
  <button
    type="button"
    {...handle}
    aria-label={`Move ${titleOf(entry)}`}
    className="flex h-full w-full items-center justify-center text-dim hover:text-ink"
  >
    <GripVertical size={13} />
  </button>
);

/** That a draft moves an entry, and from where. */
export const Moved = ({ from, to }: { from: number; to: number }) =>
  from === to ? null : (
    <span title={`From place ${from + 1}`} className="flex justify-center text-buoy-text">
      {from > to ? <ArrowUp size={13} aria-label="Moved up" /> : <ArrowDown size={13} aria-label="Moved down" />}
    </span>
  );

interface CellProps {
  entry: ListEntryRow;
  column: string;
  /** When it starts, or its number. */
  when: string;
  playing: boolean;
}

export function EntryCell({ entry, column, when, playing }: CellProps) {
  const v = entry.values,
    none = entry.id > 0 ? '–' : '';
  switch (column) {
    case 'starts':
      if (playing) return <Playing />;
      return entry.data.pinned ? (
        <span className="flex items-center justify-end gap-1 text-buoy-text">
          <Pin size={12} className="shrink-0" aria-label="Pinned" />
          {when}
        </span>
      ) : (
        when
      );
    case 'title':
      return (
        <span className={titleTone(entry)} title={titleOf(entry)}>
          {titleOf(entry)}
          {v.version && <span className="ml-1.5 text-small font-normal text-dim">{String(v.version)}</span>}
        </span>
      );
    case 'artist':
      return textOf('artist', v.artist);
    case 'bpm':
      return typeof v.bpm === 'number' ? v.bpm.toFixed(2) : none;
    case 'key':
      return v.key ? (
        <>
          {shortKey(String(v.key))}
          <span className="ml-1.5 text-tiny font-normal text-dim">{signatureLabel(String(v.key))}</span>
        </>
      ) : (
        none
      );
    case 'energy':
      return typeof v.energy === 'number' ? <EnergyBar value={v.energy} /> : null;
    case 'lufs':
      return typeof v.lufs === 'number' ? figure(v.lufs, 1) : none;
    default:
      return entry.kind === 'note' ? '' : clockLength(lengthOf(timedOf(entry)));
  }
}

const titleTone = ({ id, values }: ListEntryRow): string => {
  if (values.fileState === 'missing') return 'text-flare line-through';
  return id === 0 ? 'text-dim italic' : '';
};

const MARKS: Record<Grade, string> = {
  good: 'border-l-kelp',
  fair: 'border-l-tide-deep',
  uneven: 'border-l-sodium',
  hard: 'border-l-flare border-dotted',
};

/** How one track goes over into the next: key and tempo. Beside what is no track there is nothing to say. */
export function Between({ from, to }: { from: ListEntryRow; to: ListEntryRow }) {
  const { grade, reasons } = transition(from.values, to.values);
  const tracks = from.id > 0 && to.id > 0;
  return (
    <div className="ml-[72px] flex h-[19px] items-center border-b border-hair text-tiny text-dim">
      {tracks && (
        <>
          <span className={`h-full border-l-[3px] ${MARKS[grade]}`} />
          <span className="pl-4">{reasons[0]}</span>
          <span className="figures pl-4">{reasons[1]}</span>
        </>
      )}
    </div>
  );
}

const KIND_NAMES: Record<EntryKind, string> = {
  track: 'Track',
  pause: 'Pause',
  'open slot': 'Open slot',
  link: 'Link',
  note: 'Note',
  jingle: 'Jingle',
};

/** What an entry is called. */
export function titleOf({ kind, data, values, id }: ListEntryRow): string {
  if (id === 0) return [KIND_NAMES[kind], data.text].filter(Boolean).join(': ');
  return nameOf({ values });
}

/** An entry as the schedule sees it. */
export const timedOf = ({ kind, data, values }: ListEntryRow): Timed => ({
  kind,
  data,
  durationSeconds: typeof values.durationSeconds === 'number' ? values.durationSeconds : null,
});
