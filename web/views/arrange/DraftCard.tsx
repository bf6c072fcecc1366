/** An order as it would become: what it moves, what it makes better, and what to do with it. */
import { several } from '../../data/actions.ts';
import { figure } from '../../ui/format.ts';
import { Button } from '../../ui/Button.tsx';
import type { Smoothing } from './useSmoothing.ts';

export function DraftCard({ smoothing: { share, draft, discard, apply } }: { smoothing: Smoothing }) {
  if (share !== null)
    return (
      <section aria-label="Smoothing the order" className="border border-line bg-sheet p-3">
        <p className="font-semibold">Working out the order</p>
        <progress value={share} className="my-2 h-1.5 w-full accent-kelp" aria-label="Progress" />
        <div className="flex justify-end">
          <Button onClick={discard}>Cancel</Button>
        </div>
      </section>
    );
  if (!draft) return null;
  const { before, after } = draft;
  return (
    <section aria-label="Draft of the order" className="border border-ink bg-chosen p-3">
      <p className="font-semibold">
        {several(draft.moved.size, 'track')} moved{draft.pinned > 0 && `, ${draft.pinned} pinned stay`}
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
      <div className="mt-2.5 flex justify-end gap-2">
        <Button onClick={discard}>Discard</Button>
        <Button kind="main" onClick={apply}>
          Apply
        </Button>
      </div>
    </section>
  );
}
