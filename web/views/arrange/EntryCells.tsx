/** What the columns of a list say of an entry, and how it goes over into the next. */
import { ArrowDown, ArrowUp, GripVertical, Pin } from 'lucide-react';
import type { ListEntryRow } from '@early-set/core/api/types';
import type { Over, Played } from '@early-set/core/arrange/schedule';
import { transition } from '@early-set/core/arrange/transition';
import type { EntryKind } from '@early-set/core/changes/snapshot';
import { clockLength } from '@early-set/core/clock/clock';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { GRADES } from './over/grades.ts';
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
  /** Seconds by which it begins later than it is to; negative: earlier. */
  late: number | null;
  /** Seconds for which it is heard. */
  seconds: number;
  /** Tempo at which it is played, where that is not its own. */
  tempo: number | null;
  playing: boolean;
}

export function EntryCell({ entry, column, when, late, seconds, tempo, playing }: CellProps) {
  const v = entry.values,
    none = entry.id > 0 ? '–' : '';
  switch (column) {
    case 'starts':
      if (playing) return <Playing />;
      return late !== null && Math.abs(late) >= 60 ? (
        <span title={`Is to begin at ${entry.data.at}`} className="text-flare">
          {when} {late > 0 ? 'late' : 'early'}
        </span>
      ) : entry.data.pinned ? (
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
      if (typeof v.bpm !== 'number') return none;
      return tempo === null ? (
        v.bpm.toFixed(2)
      ) : (
        <span title={`${v.bpm.toFixed(2)} by itself`} className="text-buoy-text">
          {tempo.toFixed(2)}
        </span>
      );
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
      return entry.kind === 'note' ? '' : clockLength(seconds);
  }
}

const titleTone = ({ id, values }: ListEntryRow): string => {
  if (['missing', 'retired'].includes(String(values.fileState))) return 'text-flare line-through';
  return id === 0 ? 'text-dim italic' : '';
};

/** The tempo at which an entry is played, where it is not its own. */
export const otherTempo = (played: Played | null | undefined, { values }: ListEntryRow): number | null =>
  played && typeof values.bpm === 'number' && Math.abs(played.from - values.bpm) > 0.005 ? played.from : null;

interface BetweenProps {
  from: ListEntryRow;
  to: ListEntryRow;
  over: Over;
  /** Tempo at which the first one ends. */
  played: Played | null;
  keyLock: boolean;
  /** Its transition is being heard. */
  heard: boolean;
  onHear: () => void;
}

/** How one track goes over into the next: key and tempo first. Beside what is no track there is nothing to say. */
export function Between({ from, to, over, played, keyLock, heard, onHear }: BetweenProps) {
  const tracks = from.id > 0 && to.id > 0;
  const { grade, reasons } = transition(from.values, to.values, {
    keyLock,
    tempo: played?.to ?? null,
    bars: over.bars,
  });
  return (
    <div className="group/over ml-[72px] flex h-[19px] items-center border-b border-hair text-tiny text-dim">
      {tracks && (
        <>
          <span className={`h-full border-l-[3px] ${GRADES[grade].mark}`} />
          {[...reasons.slice(0, 2), overInWords(over), ...reasons.slice(2)].filter(Boolean).map((reason, i) => (
            <span key={i} className="shrink-0 pl-4">
              {reason}
            </span>
          ))}
          {/* A grid holds rows only; by key it is H, and the panel beside it has a button. */}
          <span
            aria-hidden
            onClick={(e) => {
              e.stopPropagation();
              onHear();
            }}
            className={`ml-4 shrink-0 cursor-default font-semibold text-buoy-text hover:underline ${heard ? '' : 'opacity-0 group-hover/over:opacity-100'}`}
          >
            {heard ? 'Stop' : 'Hear'}
          </span>
        </>
      )}
    </div>
  );
}

function overInWords({ seconds, bars }: Over): string {
  if (seconds < 0.5) return '';
  const whole = bars !== null && Math.abs(bars - Math.round(bars)) < 0.01 && bars >= 1;
  return whole ? `${Math.round(bars)} ${Math.round(bars) === 1 ? 'bar' : 'bars'} over` : `${seconds.toFixed(1)} s over`;
}

const KIND_NAMES: Record<EntryKind, string> = {
  track: 'Track',
  pause: 'Pause',
  'open slot': 'Open slot',
  link: 'Link',
  note: 'Note',
  jingle: 'Jingle',
  spoken: 'Spoken',
};

/** What an entry is called. */
export function titleOf({ kind, data, values, id }: ListEntryRow): string {
  if (id === 0) return [KIND_NAMES[kind], data.text].filter(Boolean).join(': ');
  return nameOf({ values });
}
