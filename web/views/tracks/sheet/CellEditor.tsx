/** One cell of the sheet being typed over: Enter keeps, Esc leaves it, Tab and arrows keep and go on. */
import { useEffect, useRef, useState } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { fieldOf } from '@early-set/core/fields/table';
import { setField } from '../../../data/fields.ts';
import { plainText } from '../../../ui/format.ts';
import { TypeAhead } from '../../../ui/TypeAhead.tsx';

export type EditStep = 'right' | 'left' | 'up' | 'down' | 'end';

export function CellEditor({
  row,
  column,
  onStep,
}: {
  row: SheetRow;
  column: string;
  onStep: (step: EditStep) => void;
}) {
  const field = fieldOf(column);
  const before = plainText(field, row.values[column]);
  const [text, setText] = useState(before);
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
  }, []);
  const keep = (now: string): void => {
    if (gone.current) return;
    gone.current = true;
    if (now.trim() !== before) void setField(row, column, now.trim() === '' ? null : now);
  };
  const keys = (e: React.KeyboardEvent, now: string): void => {
    const step: EditStep | null =
      e.key === 'Enter'
        ? 'end'
        : e.key === 'Tab'
          ? e.shiftKey
            ? 'left'
            : 'right'
          : e.key === 'ArrowDown'
            ? 'down'
            : e.key === 'ArrowUp'
              ? 'up'
              : null;
    e.stopPropagation();
    if (e.key === 'Escape') {
      e.preventDefault();
      gone.current = true;
      onStep('end');
      return;
    }
    if (!step) return;
    e.preventDefault();
    keep(now);
    onStep(step);
  };
  return (
    <span onPointerDown={(e) => e.stopPropagation()} onDoubleClick={(e) => e.stopPropagation()} className="block">
      <TypeAhead
        field={field}
        value={text}
        onChange={setText}
        onBlur={() => {
          if (!gone.current) {
            keep(text);
            onStep('end');
          }
        }}
        onKey={keys}
        label={`${field.label} of ${String(row.values.title ?? row.values.path)}`}
        className="h-[25px] w-full rounded-xs border border-buoy bg-sheet px-1.5 font-sans"
      />
    </span>
  );
}
