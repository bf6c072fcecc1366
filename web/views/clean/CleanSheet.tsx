/** The middle: every track with what would become of it, differences marked in place. */
import { PLACES, WHOLE, type CleanTrack, type FieldChange, type Question } from '@early-set/core/clean/runSteps';
import { fieldOf } from '@early-set/core/fields/table';
import { tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';
import { NOTHING } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { Playing } from '../../ui/Marks.tsx';

/** Pixels, and the share of what is left. */
const WIDTHS: Record<string, [width: number, grow?: number]> = {
  title: [190, 1.6],
  artist: [130, 1.1],
  version: [96, 0.6],
  fileName: [190, 1.6],
  path: [120, 0.9],
  year: [64],
  trackNumber: [64],
  discNumber: [56],
};
const LOOKS: Record<string, string> = { title: 'font-semibold', path: 'text-small text-dim' };

export interface CleanRow {
  track: CleanTrack;
  changes: readonly FieldChange[];
  questions: readonly Question[];
  leftOut: boolean;
}

interface Props {
  rows: readonly CleanRow[];
  columns: readonly string[];
  focus: number | null;
  onFocus: (index: number) => void;
  onLeaveOut: (id: number) => void;
  onAudition: (row: CleanRow) => void;
  playingId: number | null;
}

const isOpen = ({ questions }: CleanRow): boolean => questions.some((q) => q.answer === null);

export function CleanSheet({ rows, columns, focus, onFocus, onLeaveOut, onAudition, playingId }: Props) {
  const [widths, keepWidths] = useRemembered<Record<string, number>>('clean-widths', {});
  const inHand = focus === null ? undefined : rows[focus];
  const keys: KeyActions<'clean'> = {
    audition: { run: () => inHand && onAudition(inHand), disabled: !inHand },
    leaveOut: { run: () => inHand && onLeaveOut(inHand.track.id), disabled: !inHand },
  };
  useKeys('clean', keys);
  const columnOf = (id: string): GridColumn => {
    const [width, grow] = WIDTHS[id] ?? [100, 0.8];
    return {
      id,
      label: fieldOf(id).label,
      width: widths[id] ?? width,
      className: LOOKS[id] ?? '',
      ...(grow ? { grow } : {}),
    };
  };
  return (
    <Grid
      id="clean-sheet"
      label="What would change"
      multiple={false}
      columns={columns.map(columnOf)}
      onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
      count={rows.length}
      row={(i) => rows[i]}
      rowHeight={34}
      idOf={(row) => row.track.id}
      data={(row) => ({ 'data-track': row.track.id })}
      tone={(row) => `${isOpen(row) ? 'bg-sodium/12' : 'hover:bg-paper'} ${row.leftOut ? 'text-dim' : ''}`}
      lead={(row) => (playingId === row.track.id ? <Playing /> : <Mark row={row} open={isOpen(row)} />)}
      cell={(row, field) => <Cell row={row} field={field} />}
      chosen={{ ...NOTHING, ids: new Set(inHand ? [inHand.track.id] : []), focus, anchor: focus }}
      onChoose={onFocus}
      onKey={gridKeys({
        count: rows.length,
        focus,
        choose: onFocus,
        ...tableActions('clean', keys),
      })}
    />
  );
}

function Mark({ row, open }: { row: CleanRow; open: boolean }) {
  const words = open
    ? 'Needs a look'
    : row.leftOut
      ? 'Left out'
      : row.changes.length
        ? 'Would change'
        : 'Stays as it is';
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" role="img" aria-label={words}>
      <title>{words}</title>
      {open ? (
        <path d="M5.5 0 11 5.5 5.5 11 0 5.5Z" className="fill-sodium" />
      ) : row.leftOut ? (
        <path d="M2 5.5h7" className="stroke-dim" strokeWidth="2" />
      ) : (
        row.changes.length > 0 && <circle cx="5.5" cy="5.5" r="4.5" className="fill-kelp" />
      )}
    </svg>
  );
}

function Cell({ row, field }: { row: CleanRow; field: string }) {
  if (field === 'path') return <span title={row.track.path}>{row.track.path}</span>;
  const before = textOf(field, row.track.values[field]);
  const asked = row.questions.find((q) => q.field === field && q.answer === null);
  if (asked)
    return (
      <span title={asked.reason}>
        <span className="text-flare line-through decoration-1">{before}</span>{' '}
        <span className="border-b border-dashed border-sodium-text font-normal text-sodium-text">
          {asked.stepId === WHOLE
            ? 'the same as another'
            : asked.stepId === PLACES
              ? 'taken by another file'
              : 'would be empty'}
        </span>
      </span>
    );
  const change = row.changes.find((c) => c.field === field);
  if (!change)
    return (
      <span title={before} className={before ? '' : 'text-dim'}>
        {before}
      </span>
    );
  const after = textOf(field, change.after);
  return (
    <span title={`${before || 'empty'} → ${after || 'empty'}`}>
      {row.leftOut ? before : <Difference before={before} after={after} />}
    </span>
  );
}
