/** Measuring again: which of the tracks, and which parts of their results. */
import { useState } from 'react';
import type { Selection } from '@early-set/core/api/types';
import { PART_LABELS, PARTS, type Part } from '@early-set/core/analysis/parts';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

type Which = 'all' | 'older' | 'unsure';

export function MeasureDialog({
  open,
  onClose,
  selection,
  count,
}: {
  open: boolean;
  onClose: () => void;
  selection: Selection;
  count: number;
}) {
  const [which, setWhich] = useState<Which>('all');
  const [below, setBelow] = useState(0.8);
  const [parts, setParts] = useState<ReadonlySet<Part>>(new Set(PARTS));
  const start = async (): Promise<void> => {
    const done = await perform(
      post<{ tracks: number }>('/analysis', {
        selection,
        older: which === 'older',
        below: which === 'unsure' ? below : null,
        parts: parts.size === PARTS.length ? null : PARTS.filter((p) => parts.has(p)),
      }),
      undefined,
    );
    if (done) onClose();
  };
  const choice = (value: Which, text: React.ReactNode) => (
    <label key={value} className="flex items-center gap-2 py-1">
      <input
        type="radio"
        name="which"
        checked={which === value}
        onChange={() => setWhich(value)}
        className="accent-ink"
      />
      {text}
    </label>
  );
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Measure again"
      note={`${several(count, 'track')}. What was set by hand or locked stays as it is.`}
    >
      <fieldset>
        <legend className="font-semibold">Which of them</legend>
        {choice('all', 'All of them')}
        {choice('older', 'Only those an earlier version measured, or nobody yet')}
        {choice(
          'unsure',
          <span className="flex items-center gap-1.5">
            Only where tempo or key is less sure than
            <input
              type="number"
              aria-label="Less sure than"
              min={0.1}
              max={1}
              step={0.05}
              value={below}
              onChange={(e) => {
                setBelow(Math.min(1, Math.max(0, Number(e.target.value))));
                setWhich('unsure');
              }}
              className="figures w-[64px] rounded-xs border border-line bg-sheet px-1.5 py-0.5"
            />
          </span>,
        )}
      </fieldset>
      <fieldset className="mt-3">
        <legend className="font-semibold">Which parts</legend>
        <div className="grid grid-cols-2">
          {PARTS.map((p) => (
            <label key={p} className="flex items-center gap-2 py-1">
              <input
                type="checkbox"
                checked={parts.has(p)}
                onChange={(e) => {
                  const next = new Set(parts);
                  if (e.target.checked) next.add(p);
                  else next.delete(p);
                  setParts(next);
                }}
                className="accent-ink"
              />
              {PART_LABELS[p]}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="main" disabled={parts.size === 0} onClick={() => void start()}>
          Measure
        </Button>
      </div>
    </Dialog>
  );
}
