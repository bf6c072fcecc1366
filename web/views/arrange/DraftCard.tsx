/** An order as it would become: what it moves, what it makes better, and what to do with it. */
import { DEFAULT_WEIGHTS, type OrderWeights } from '@early-set/core/arrange/order';
import { several } from '../../data/actions.ts';
import { figure } from '../../ui/format.ts';
import { Button } from '../../ui/Button.tsx';
import { Weights } from './Weights.tsx';
import type { OrderDraft, Smoothing } from './useSmoothing.ts';

const COUNTS_FOR: Record<keyof OrderWeights, string> = {
  tempo: 'Tempo',
  key: 'Key',
  energy: 'Energy',
  shape: 'Wished shape',
  artist: 'Other artist',
};

export function DraftCard({ smoothing }: { smoothing: Smoothing }) {
  const { share, draft, discard, apply, weights, setWeights } = smoothing;
  if (share === null && !draft) return null;
  return (
    <section
      aria-label={draft ? 'Draft of the order' : 'Smoothing the order'}
      className={`border p-3 ${draft ? 'border-ink bg-chosen' : 'border-line bg-sheet'}`}
    >
      {draft ? (
        <Found draft={draft} />
      ) : (
        <>
          <p className="font-semibold">Working out the order</p>
          <progress value={share ?? 0} className="my-2 h-1.5 w-full" aria-label="Progress" />
        </>
      )}
      <Weights labels={COUNTS_FOR} weights={weights} defaults={DEFAULT_WEIGHTS} onChange={setWeights} />
      <div className="mt-2.5 flex justify-end gap-2">
        <Button onClick={discard}>{draft ? 'Discard' : 'Cancel'}</Button>
        {draft && (
          <Button kind="main" disabled={draft.moved.size === 0} onClick={apply}>
            Apply
          </Button>
        )}
      </div>
    </section>
  );
}

const Found = ({ draft: { moved, pinned, before, after } }: { draft: OrderDraft }) => (
  <>
    <p className="font-semibold">
      {moved.size === 0 ? 'The order is the best already' : `${several(moved.size, 'track')} moved`}
      {pinned > 0 && `, ${pinned} pinned stay`}
    </p>
    <ul className="mt-1 text-small text-dim">
      <li>
        Hard transitions: {before.hard} → {after.hard}
      </li>
      {before.offShape !== null && after.offShape !== null && (
        <li>
          Energy off the wished shape: {figure(before.offShape, 0)} → {figure(after.offShape, 0)}
        </li>
      )}
    </ul>
  </>
);
