/** One line of the check list. */
import { Check } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { CheckWhat, SheetRow } from '@early-set/core/api/types';
import { shortKey } from '@early-set/core/fields/keys';
import { textOf } from '../../ui/format.ts';

export const sureOf = (row: SheetRow, what: CheckWhat): string => {
  const v = row.values[what === 'tempo' ? 'tempoConfidence' : 'keyConfidence'];
  return typeof v === 'number' ? v.toFixed(2) : '–';
};
export const titleOf = (row: SheetRow): string =>
  textOf('title', row.values.title) || textOf('path', row.values.path).split('/').at(-1)!;

export function CheckLine({
  row,
  what,
  chosen,
  judged,
  onChoose,
}: {
  row: SheetRow;
  what: CheckWhat;
  chosen: boolean;
  judged: boolean;
  onChoose: () => void;
}) {
  const node = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (chosen) node.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <li>
      <button
        ref={node}
        type="button"
        aria-current={chosen}
        onClick={onChoose}
        data-track={row.id}
        className={`flex w-full items-center gap-2 border-b border-hair px-3 py-1.5 text-left ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--buoy)]' : 'hover:bg-hair'}`}
      >
        <span className="min-w-0 flex-1">
          <span className="block truncate font-medium">{titleOf(row)}</span>
          <span className="block truncate text-small text-dim">
            {textOf('artist', row.values.artist) || 'no artist'}
          </span>
        </span>
        <span className="figures w-[62px] text-right">
          {what === 'tempo' ? textOf('bpm', row.values.bpm) : shortKey(String(row.values.key))}
        </span>
        <span className="figures w-[34px] text-right text-small text-dim" title="How sure">
          {sureOf(row, what)}
        </span>
        <span className="w-[16px]">{judged && <Check size={14} className="text-kelp" aria-label="judged" />}</span>
      </button>
    </li>
  );
}
