/** One entry of a list, and how it goes over into the next. */
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { ListEntryRow } from '@early-set/core/api/types';
import { lengthOf, type Timed } from '@early-set/core/arrange/schedule';
import { transition, type Grade } from '@early-set/core/arrange/transition';
import type { EntryKind } from '@early-set/core/changes/snapshot';
import { clockLength } from '@early-set/core/clock/clock';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { figure, textOf } from '../../ui/format.ts';
import { EnergyBar, StateMark } from '../../ui/Marks.tsx';
import type { How } from './useListChoice.ts';

/** Columns of a list, and which of them hold figures. */
export const HEADS: [string, boolean][] = [
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
export const TEMPLATE = '26px 60px minmax(150px,1.3fr) minmax(100px,1fr) 68px 92px 84px 58px 66px';
/** Pixels of an entry, and of what stands between it and the next. */
export const ROW_HEIGHT = 34,
  BETWEEN_HEIGHT = 19;

interface RowProps {
  entry: ListEntryRow;
  /** From 0, among all entries. */
  index: number;
  next: ListEntryRow | undefined;
  when: string;
  ordered: boolean;
  chosen: boolean;
  focused: boolean;
  playing: boolean;
  onChoose: (how: How) => void;
  onOpen: () => void;
}

export function EntryRow({ entry, index, next, when, ordered, chosen, focused, playing, onChoose, onOpen }: RowProps) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: entry.entryId,
  });
  const v = entry.values,
    none = entry.id > 0 ? '–' : '';
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={isDragging ? 'relative z-10 opacity-80' : ''}
    >
      <div
        role="row"
        aria-rowindex={index + 2}
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
              aria-label={`Move ${titleOf(entry)}`}
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
          className={`truncate px-2 font-semibold ${v.fileState === 'missing' ? 'text-flare line-through' : entry.id === 0 ? 'text-dim italic' : ''}`}
          title={titleOf(entry)}
        >
          {titleOf(entry)}
          {v.version && <span className="ml-1.5 text-small font-normal text-dim">{String(v.version)}</span>}
        </span>
        <span role="gridcell" className="truncate px-2">
          {textOf('artist', v.artist)}
        </span>
        <span role="gridcell" className="figures px-2 text-right font-semibold">
          {typeof v.bpm === 'number' ? v.bpm.toFixed(2) : none}
        </span>
        <span role="gridcell" className="truncate px-2 font-semibold">
          {v.key ? (
            <>
              {shortKey(String(v.key))}
              <span className="ml-1.5 text-tiny font-normal text-dim">{signatureLabel(String(v.key))}</span>
            </>
          ) : (
            none
          )}
        </span>
        <span role="gridcell" className="px-2">
          {typeof v.energy === 'number' && <EnergyBar value={v.energy} />}
        </span>
        <span role="gridcell" className="figures px-2 text-right">
          {typeof v.lufs === 'number' ? figure(v.lufs, 1) : none}
        </span>
        <span role="gridcell" className="figures px-2 text-right">
          {entry.kind === 'note' ? '' : clockLength(lengthOf(timedOf(entry)))}
        </span>
      </div>
      {next && <Between from={entry} to={next} />}
    </div>
  );
}

const MARKS: Record<Grade, string> = {
  good: 'border-l-kelp',
  fair: 'border-l-tide-deep',
  uneven: 'border-l-sodium',
  hard: 'border-l-flare border-dotted',
};

/** How one track goes over into the next: key and tempo. Beside what is no track there is nothing to say. */
function Between({ from, to }: { from: ListEntryRow; to: ListEntryRow }) {
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
  return textOf('title', values.title) || String(values.path).split('/').at(-1)!;
}

/** An entry as the schedule sees it. */
export const timedOf = ({ kind, data, values }: ListEntryRow): Timed => ({
  kind,
  data,
  durationSeconds: typeof values.durationSeconds === 'number' ? values.durationSeconds : null,
});
