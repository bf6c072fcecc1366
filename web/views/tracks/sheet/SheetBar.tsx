/** The bar above the sheet: how many there are, what narrows them, and what can be done with them. */
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../../../ui/Button.tsx';
import { Segmented } from '../../../ui/Segmented.tsx';
import { chipsOf, NO_FILTERS, type Filters, type Narrow } from '../filters/filters.ts';

export type SheetLook = 'list' | 'covers';
const LOOKS = [
  ['list', 'List'],
  ['covers', 'Covers'],
] as const;

interface Props {
  total: number;
  /** Tracks in all. */
  of: number;
  filters: Filters;
  onNarrow: Narrow;
  /** The track whose followers are shown; null for none. */
  fitTitle: string | null;
  onNoFit: () => void;
  /** Chosen tracks. */
  count: number;
  /** As a list or by covers. */
  view: SheetLook;
  onView: (view: SheetLook) => void;
  columns: ReactNode;
  onCheck: () => void;
  onClean: () => void;
  onMeasure: () => void;
  onAdd: () => void;
  /** What the filters show becomes a self-filling crate. */
  onKeep: () => void;
}

export function SheetBar({
  total,
  of,
  filters,
  onNarrow,
  fitTitle,
  onNoFit,
  count,
  view,
  onView,
  columns,
  ...does
}: Props) {
  const chips = chipsOf(filters),
    nothing = total === 0;
  return (
    <div className="flex min-h-[50px] shrink-0 items-center gap-2 border-b border-line bg-paper px-3.5 py-2 narrow:flex-wrap">
      <div className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2 gap-y-1 narrow:w-full narrow:flex-none">
        <h1 className="flex items-baseline gap-1.5">
          <span className="heading text-[19px]" data-testid="matching">
            {total.toLocaleString('en-GB')}
          </span>
          <span className="text-[12.5px] text-dim">
            {chips.length > 0 ? `of ${of.toLocaleString('en-GB')} tracks` : 'tracks'}
          </span>
        </h1>
        {chips.map((chip) => (
          <button
            key={chip.id}
            type="button"
            onClick={() => onNarrow(chip.without)}
            aria-label={`Take off the filter ${chip.label}`}
            className="flex items-center gap-1 rounded-xs bg-chosen px-1.5 py-1 text-small font-semibold text-buoy-text hover:underline"
          >
            {chip.label}
            <X size={11} />
          </button>
        ))}
        {chips.length > 0 && (
          <Button
            kind="link"
            onClick={does.onKeep}
            title="Makes a self-filling crate: it always holds what these filters show"
          >
            Save as crate
          </Button>
        )}
        {chips.length > 1 && (
          <Button kind="link" onClick={() => onNarrow(() => NO_FILTERS)}>
            All off
          </Button>
        )}
        {fitTitle !== null && (
          <button
            type="button"
            onClick={onNoFit}
            aria-label="Stop showing fit"
            className="flex max-w-[180px] items-center gap-1 rounded-xs border border-tide-deep px-1.5 py-0.5 text-small font-semibold"
          >
            <span className="truncate">Fit to {fitTitle}</span>
            <X size={11} className="shrink-0" />
          </button>
        )}
      </div>
      {count > 1 && (
        <span className="shrink-0 text-small text-dim" aria-live="polite">
          {count.toLocaleString('en-GB')} chosen
        </span>
      )}
      <Segmented label="Show as" value={view} choices={LOOKS} onChoose={onView} className="shrink-0" />
      {view === 'list' && columns}
      <Button onClick={does.onCheck} title="Listen to the least certain results, one after the other">
        Check
      </Button>
      <Button
        onClick={does.onClean}
        disabled={nothing}
        title={count > 0 ? 'Clean what is chosen' : 'Clean everything shown'}
      >
        Clean
      </Button>
      <Button onClick={does.onMeasure} disabled={nothing}>
        Measure
      </Button>
      <Button kind="main" onClick={does.onAdd} disabled={count === 0}>
        Add to…
      </Button>
    </div>
  );
}
