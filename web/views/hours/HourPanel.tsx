/** Beside an hour: what could go to the place in hand, the rules of its clock, and a draft of what would be filled. */
import { overOrUnder } from '@early-set/core/hours/words';
import type { HourContents, HourFilling, HourLine, HourRuleState } from '@early-set/core/api/hours';
import { several } from '../../data/actions.ts';
import { useInsteadForgotten } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { InsteadPanel } from './InsteadPanel.tsx';
import { ItemPanel } from './ItemPanel.tsx';

interface Props {
  hour: HourContents;
  inHand: HourLine | undefined;
  draft: HourFilling | null;
  onApply: () => void;
  onDiscard: () => void;
}

export function HourPanel({ hour, inHand, draft, onApply, onDiscard }: Props) {
  const isPlace = inHand?.kind === 'track' || inHand?.kind === 'open';
  useInsteadForgotten(hour.id, inHand?.entryId ?? null);
  return (
    <aside aria-label="About this hour" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      {!inHand && (
        <section>
          <h2 className="heading text-[17px]">Tracks that land on time</h2>
          <p className="mt-1 text-dim">Choose a track or an open slot to see what could go there.</p>
        </section>
      )}
      <section aria-label="Rules of this hour" className="order-first">
        <h3 className="text-small font-semibold text-dim">Rules of this hour</h3>
        {hour.rules.length === 0 && <p className="mt-1 text-dim">Its format clock has none.</p>}
        <ul>
          {hour.rules.map((rule, i) => (
            <Rule key={i} rule={rule} />
          ))}
        </ul>
      </section>
      {inHand && isPlace && <InsteadPanel hourId={hour.id} line={inHand} />}
      {inHand && !isPlace && <ItemPanel key={inHand.entryId} hourId={hour.id} line={inHand} />}
      {draft && (
        <>
          <span className="flex-1" />
          <div className="sticky -bottom-3.5 -mx-3.5 -mb-3.5 bg-paper px-3.5 pb-3.5">
            <section aria-label="Draft of the filling" className="border border-ink bg-chosen p-3">
              <p className="font-semibold">
                {draft.places.length === 0
                  ? 'No track can fill a slot'
                  : `${several(draft.places.length, 'slot')} filled`}
                {draft.open > 0 && `, ${draft.open} ${draft.open === 1 ? 'stays' : 'stay'} open`}
              </p>
              <p className="mt-1 text-small text-dim">
                {overOrUnder(draft.off)} ·{' '}
                {draft.broken.length === 0 ? 'every rule kept' : `breaks: ${draft.broken.join(', ')}`}
                {draft.ends.length > 0 && ` · ${several(draft.ends.length, 'other end')} moved`}
              </p>
              <div className="mt-2.5 flex justify-end gap-2">
                <Button onClick={onDiscard}>Discard</Button>
                <Button kind="main" disabled={draft.places.length === 0} onClick={onApply}>
                  Apply
                </Button>
              </div>
            </section>
          </div>
        </>
      )}
    </aside>
  );
}

const STATES: Record<HourRuleState['state'], readonly [words: string, tone: string]> = {
  kept: ['kept', 'text-kelp'],
  open: ['not yet', 'text-sodium-text'],
  broken: ['broken', 'text-flare'],
};

function Rule({ rule: { text, state, times, hard } }: { rule: HourRuleState }) {
  const [words, tone] = STATES[state];
  return (
    <li className="flex items-baseline gap-2 border-b border-line py-1.5">
      <span className="min-w-0 flex-1">
        {text}
        {!hard && <span className="text-tiny text-dim"> wished</span>}
      </span>
      <span className={`shrink-0 text-small ${tone}`}>
        {words}
        {times > 1 && ` ${times}×`}
      </span>
    </li>
  );
}
