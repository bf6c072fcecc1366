/** A track in a list of such to be judged. */
import { Check } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { nameOf, textOf } from '../../ui/format.ts';

interface Props {
  row: SheetRow;
  chosen: boolean;
  judged: boolean;
  onChoose: () => void;
  children?: ReactNode;
}

export function TrackLine({ row, chosen, judged, onChoose, children }: Props) {
  const node = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (chosen) node.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const tone = chosen ? 'bg-chosen in-hand' : 'hover:bg-hair';
  return (
    <li>
      <button
        ref={node}
        type="button"
        aria-current={chosen}
        onClick={onChoose}
        data-track={row.id}
        className={`flex w-full items-center gap-2 border-b border-hair px-3 py-1.5 text-left ${tone}`}
      >
        <span className="min-w-0 flex-1">
          <span className="block truncate font-medium">{nameOf(row)}</span>
          <span className="block truncate text-small text-dim">
            {textOf('artist', row.values.artist) || 'no artist'}
          </span>
        </span>
        {children}
        <span className="w-[16px]">{judged && <Check size={14} className="text-kelp" aria-label="judged" />}</span>
      </button>
    </li>
  );
}
