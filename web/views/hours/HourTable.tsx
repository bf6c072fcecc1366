/** The items of an hour with their times on air, and what is wrong about them. */
import { isOnTime, KIND_NAMES, timeOnAir } from '@early-set/core/hours/words';
import { Pin, TriangleAlert } from 'lucide-react';
import type { HourContents, HourFilling, HourLine } from '@early-set/core/api/hours';
import { clockLength } from '@early-set/core/clock/clock';
import { useRemembered } from '../../data/remembered.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { endInWords, signedLength } from './hourText.ts';
import type { HourChoice } from './useHourChoice.ts';

const COLUMNS: GridColumn[] = [
  { id: 'at', label: 'On air', width: 82, figures: true },
  { id: 'name', label: 'Title', width: 150, grow: 1.3, className: 'font-semibold' },
  { id: 'artist', label: 'Artist', width: 96, grow: 1 },
  { id: 'intro', label: 'Intro', width: 56, figures: true },
  { id: 'length', label: 'Length', width: 66, figures: true },
  { id: 'end', label: 'End', width: 130, grow: 0.8 },
  { id: 'off', label: 'Over, under', width: 88, figures: true },
];

interface Props {
  hour: HourContents;
  choice: HourChoice;
  /** Slots as they would be filled. */
  draft: HourFilling | null;
}

export function HourTable({ hour, choice, draft }: Props) {
  const [widths, keepWidths] = useRemembered<Record<string, number>>('hour-widths', {});
  const drafted = new Map(draft?.places.map((p) => [p.entryId, p]));
  return (
    <Grid
      id="hour-items"
      label={`Items of ${hour.info.name}`}
      columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
      onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
      count={hour.lines.length}
      row={(i) => hour.lines[i]}
      idOf={(l) => l.entryId}
      data={(l) => ({ 'data-entry': l.entryId })}
      lead={(line) => <Lead line={line} />}
      cell={(line, column) => {
        const place = drafted.get(line.entryId);
        if (place && column === 'name') return <span className="text-buoy-text">{place.title}</span>;
        if (place && column === 'artist') return <span className="text-buoy-text">{place.artist}</span>;
        if (place && column === 'end') return '';
        return <Cell line={line} column={column} hourAt={hour.info.onAirAt!} />;
      }}
      chosen={choice.chosen}
      onChoose={choice.choose}
      onOpen={choice.audition}
      onKey={choice.onKey}
      menu={choice.menu}
    />
  );
}

function Lead({ line }: { line: HourLine }) {
  const wrong = [...line.broken, ...(line.kind === 'open' ? [] : [line.reason ?? ''])].filter(Boolean).join(', ');
  if (wrong)
    return (
      <span title={wrong} className="flex justify-center text-flare">
        <TriangleAlert size={13} aria-label={wrong} />
      </span>
    );
  return line.pinned ? (
    <span className="flex justify-center text-buoy-text">
      <Pin size={12} aria-label="Pinned" />
    </span>
  ) : null;
}

function Cell({ line, column, hourAt }: { line: HourLine; column: string; hourAt: number }) {
  switch (column) {
    case 'at':
      return line.kind === 'note' ? (
        ''
      ) : (
        <span className={line.fixed ? 'font-semibold' : ''}>{timeOnAir(line.at)}</span>
      );
    case 'name':
      return (
        <span className={nameTone(line)} title={line.name}>
          {line.fixed && <span aria-hidden className="mr-1.5 inline-block size-2 bg-ink" />}
          {line.kind === 'open' ? `Open slot: ${line.name}` : line.name}
        </span>
      );
    case 'artist':
      return line.kind === 'track' ? line.artist : <span className="text-dim">{KIND_NAMES[line.kind]}</span>;
    case 'intro':
      return line.intro === null ? '' : clockLength(line.intro);
    case 'length':
      return line.kind === 'note' ? '' : clockLength(line.seconds);
    case 'end': {
      const text = endInWords(line, hourAt);
      return (
        <span title={text} className={line.kind === 'open' ? 'text-flare' : 'text-dim'}>
          {text}
        </span>
      );
    }
    default:
      return <OffCell line={line} />;
  }
}

/** At a fixed time how late it is; elsewhere, in grey, how late the next one will be. */
function OffCell({ line: { off, toNext, kind } }: { line: HourLine }) {
  if (kind === 'note') return null;
  if (off === null) return <span className="text-dim">{signedLength(toNext)}</span>;
  return <span className={`font-semibold ${isOnTime(off) ? 'text-kelp' : 'text-flare'}`}>{signedLength(off)}</span>;
}

const nameTone = ({ kind, missing }: HourLine): string => {
  if (missing) return 'text-flare line-through';
  return kind === 'open' || kind === 'note' ? 'font-normal text-dim italic' : '';
};
