/** A histogram that is a filter: drag across it, or type the limits. */
import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';
import type { HistogramCounts } from '@early-set/core/api/types';
import { useCommands } from '../../../commands/commands.ts';
import { Button } from '../../../ui/Button.tsx';

interface Range {
  low: number;
  high: number;
}
interface Props {
  title: string;
  unit: string;
  data: HistogramCounts;
  range: Range | null;
  onChange: (range: Range | null) => void;
  show?: (value: number) => string;
  /** Words at both ends instead of numbers. */
  ends?: [string, string];
}

export function Histogram({ title, unit, data, range, onChange, show = String, ends }: Props) {
  const { low, high, step, counts } = data;
  const area = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  const most = Math.max(1, ...counts);
  const last = counts.length - 1;
  const binAt = (x: number): number => {
    const box = area.current!.getBoundingClientRect();
    return Math.max(0, Math.min(last, Math.floor(((x - box.left) / box.width) * counts.length)));
  };
  // Bins at the ends gather everything beyond, so a range that touches an end is open there in what it takes.
  const rangeOf = (a: number, b: number): Range => ({
    low: low + Math.min(a, b) * step,
    high: low + (Math.max(a, b) + 1) * step,
  });
  const shown = drag ? rangeOf(drag.from, drag.to) : range;
  const isIn = (bin: number): boolean =>
    shown !== null && low + (bin + 1) * step > shown.low && low + bin * step < shown.high;
  const finish = (): void => {
    if (!drag) return;
    const wanted = rangeOf(drag.from, drag.to);
    setDrag(null);
    onChange(range && drag.from === drag.to && wanted.low >= range.low && wanted.high <= range.high ? null : wanted);
  };
  return (
    <section className="mt-4">
      <h3 className="mb-1 flex items-baseline justify-between gap-2 font-semibold">
        {title}
        <RangeInput title={title} unit={unit} range={shown} limits={{ low, high }} onChange={onChange} show={show} />
      </h3>
      <div
        ref={area}
        aria-hidden="true"
        className="flex h-[40px] cursor-ew-resize touch-none items-end gap-px border-b border-tide-deep"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          const bin = binAt(e.clientX);
          setDrag({ from: bin, to: bin });
        }}
        onPointerMove={(e) => {
          if (drag) setDrag({ from: drag.from, to: binAt(e.clientX) });
        }}
        onPointerUp={finish}
        onPointerCancel={() => setDrag(null)}
      >
        {counts.map((n, i) => (
          <span
            key={i}
            title={`${show(low + i * step)}–${show(low + (i + 1) * step)}: ${n}`}
            className={`flex-1 ${isIn(i) ? 'bg-buoy' : 'bg-tide-deep/70'}`}
            style={{ height: n ? `${Math.max(5, (n / most) * 100)}%` : '0' }}
          />
        ))}
      </div>
      <div className="figures flex justify-between text-tiny text-dim" aria-hidden="true">
        {ends ? (
          <>
            <span>{ends[0]}</span>
            <span>{ends[1]}</span>
          </>
        ) : (
          [0, 1 / 3, 2 / 3, 1].map((p) => <span key={p}>{show(Math.round(low + p * (high - low)))}</span>)
        )}
      </div>
    </section>
  );
}

/** The range in figures; opens two boxes to type it exactly. */
function RangeInput({
  title,
  unit,
  range,
  limits,
  onChange,
  show,
}: {
  title: string;
  unit: string;
  range: Range | null;
  limits: Range;
  onChange: Props['onChange'];
  show: (v: number) => string;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState({ low: '', high: '' });
  const take = (): void => {
    const low = text.low === '' ? limits.low : Number(text.low.replace(',', '.')),
      high = text.high === '' ? Math.max(limits.high, low) : Number(text.high.replace(',', '.'));
    if (Number.isFinite(low) && Number.isFinite(high) && low <= high && low >= 0) {
      onChange({ low, high });
      setOpen(false);
    }
  };
  const box = (side: 'low' | 'high', label: string) => (
    <label className="flex items-center gap-1.5 text-small text-dim">
      {label}
      <input
        inputMode="decimal"
        value={text[side]}
        onChange={(e) => setText({ ...text, [side]: e.target.value })}
        className="figures w-[62px] rounded-xs border border-line bg-sheet px-1.5 py-0.5 text-ink"
      />
    </label>
  );
  const openOrClose = (next: boolean): void => {
    setOpen(next);
    if (next) setText({ low: range ? String(range.low) : '', high: range ? String(range.high) : '' });
  };
  useCommands([
    {
      id: `filter-${title}`,
      label: `Filter by ${title.toLowerCase()}…`,
      group: 'Filters',
      run: () => openOrClose(true),
    },
  ]);
  return (
    <Popover.Root open={open} onOpenChange={openOrClose}>
      <Popover.Trigger
        aria-label={`${title}: ${range ? `${show(range.low)} to ${show(range.high)}` : 'all'}. Type a range`}
        className={`figures text-tiny font-normal hover:underline ${range ? 'text-buoy-text' : 'text-dim'}`}
      >
        {range ? `${show(range.low)}–${show(range.high)}` : 'all'}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={4} className="floating p-2.5">
          <form
            className="flex items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              take();
            }}
          >
            {box('low', 'From')}
            {box('high', 'to')}
            <span className="text-small text-dim">{unit}</span>
            <Button kind="main" type="submit">
              Narrow
            </Button>
            {range && (
              <Button
                onClick={() => {
                  onChange(null);
                  setOpen(false);
                }}
              >
                All
              </Button>
            )}
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
