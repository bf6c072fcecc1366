/** The middle: every track with what would become of it, differences marked in place. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { PLACES, WHOLE, type CleanTrack, type FieldChange, type Question } from '@early-set/core/clean/recipe';
import { fieldOf } from '@early-set/core/fields/table';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';

const ROW_HEIGHT = 34,
  HEAD_HEIGHT = 28;
const WIDTHS: Record<string, string> = {
  title: 'minmax(190px, 1.6fr)',
  artist: 'minmax(130px, 1.1fr)',
  version: 'minmax(96px, .6fr)',
  fileName: 'minmax(190px, 1.6fr)',
  path: 'minmax(120px, .9fr)',
  year: '64px',
  trackNumber: '64px',
  discNumber: '56px',
};

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

export function CleanSheet({ rows, columns, focus, onFocus, onLeaveOut, onAudition, playingId }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
    scrollPaddingEnd: HEAD_HEIGHT,
  });
  useEffect(() => {
    if (focus !== null) virtual.scrollToIndex(focus, { align: 'auto' });
  }, [focus, virtual]);
  const template = `34px ${columns.map((c) => WIDTHS[c] ?? 'minmax(100px, .8fr)').join(' ')}`;
  const keys = (e: React.KeyboardEvent): void => {
    const go = (to: number): void => onFocus(Math.max(0, Math.min(rows.length - 1, to)));
    const row = focus === null ? undefined : rows[focus];
    const actions: Record<string, () => void> = {
      ArrowDown: () => go((focus ?? -1) + 1),
      ArrowUp: () => go((focus ?? 1) - 1),
      PageDown: () => go((focus ?? 0) + 16),
      PageUp: () => go((focus ?? 0) - 16),
      Home: () => go(0),
      End: () => go(rows.length - 1),
      x: () => {
        if (row) onLeaveOut(row.track.id);
      },
      ' ': () => {
        if (row) onAudition(row);
      },
    };
    const run = e.ctrlKey || e.metaKey || e.altKey ? undefined : actions[e.key];
    if (!run || rows.length === 0) return;
    e.preventDefault();
    e.stopPropagation();
    run();
  };
  return (
    <div
      id="clean-sheet"
      ref={scroller}
      tabIndex={0}
      role="grid"
      aria-label="What would change"
      aria-rowcount={rows.length}
      onKeyDown={keys}
      className="h-full overflow-auto bg-sheet outline-offset-[-2px]"
    >
      <div className="min-w-max">
        <div
          role="row"
          className="sticky top-0 z-10 grid h-[28px] min-w-full items-center border-b border-line bg-paper text-[12.5px] font-semibold text-dim"
          style={{ gridTemplateColumns: template }}
        >
          <span role="columnheader">
            <span className="sr-only">State</span>
          </span>
          {columns.map((c) => (
            <span key={c} role="columnheader" className="truncate px-2">
              {fieldOf(c).label}
            </span>
          ))}
        </div>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            const open = row.questions.some((q) => q.answer === null);
            return (
              <div
                key={row.track.id}
                role="row"
                aria-rowindex={item.index + 1}
                aria-selected={focus === item.index}
                data-track={row.track.id}
                onClick={() => onFocus(item.index)}
                className={`absolute inset-x-0 grid cursor-default items-center border-b border-hair ${focus === item.index ? 'bg-chosen shadow-[inset_3px_0_0_var(--buoy)]' : open ? 'bg-sodium/12' : 'hover:bg-paper'} ${row.leftOut ? 'text-dim' : ''}`}
                style={{ top: item.start, height: ROW_HEIGHT, gridTemplateColumns: template }}
              >
                <span role="gridcell" className="flex justify-center">
                  {playingId === row.track.id ? (
                    <span
                      role="img"
                      aria-label="Auditioned"
                      className="h-0 w-0 border-y-[5px] border-l-[8px] border-y-transparent border-l-buoy"
                    />
                  ) : (
                    <Mark row={row} open={open} />
                  )}
                </span>
                {columns.map((c) => (
                  <span
                    key={c}
                    role="gridcell"
                    className={`min-w-0 truncate px-2 ${c === 'title' ? 'font-semibold' : ''} ${c === 'path' ? 'text-small text-dim' : ''}`}
                  >
                    <Cell row={row} field={c} />
                  </span>
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </div>
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
