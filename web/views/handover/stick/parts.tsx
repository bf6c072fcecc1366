/** Parts that the pages of sticks and of playout systems have in common. */
import type { StickAnswer, StickLine, StickSettings } from '@early-set/core/api/stick';
import { several } from '../../../data/actions.ts';
import { Button } from '../../../ui/Button.tsx';

/** So many things were chosen to go there. */
export const choicesIn = ({ lists, dates, folders, tracks }: StickSettings): number =>
  lists.length + dates.length + folders.length + Math.min(1, tracks.length);

interface CanDoProps {
  stick: StickLine;
  answer: StickAnswer;
  onLook: (what: 'refused' | 'removed') => void;
}
/** What its player can do with all that, and what goes. */
export function CanDo({ answer, stick, onLook }: CanDoProps) {
  const { counts, refused, removed, left } = answer;
  return (
    <section aria-label="What the player can do">
      <h2 className="mb-1 text-small font-semibold text-dim">What the player can do</h2>
      <Row label={`${counts.files.toLocaleString('en-GB')} can be played`}>
        <span className="text-kelp">yes</span>
      </Row>
      {refused.length > 0 && (
        <Row label={`${several(refused.length, 'track')} cannot go there`}>
          <Button kind="link" onClick={() => onLook('refused')}>
            Show…
          </Button>
        </Row>
      )}
      {counts.cut > 0 && (
        <Row label={`${several(counts.cut, 'name')} cut`}>
          <span className="text-sodium-text">see How</span>
        </Row>
      )}
      {removed.length > 0 && (
        <Row label={`${several(removed.length, 'file')} will be removed`}>
          <Button kind="link" onClick={() => onLook('removed')}>
            Show…
          </Button>
        </Row>
      )}
      {left.length > 0 && (
        <Row label={`${several(left.length, 'file')} changed on ${stick.name} since`}>
          <span className="text-dim">stay</span>
        </Row>
      )}
    </section>
  );
}

export const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className="flex items-center gap-3 border-b border-hair py-1.5 text-small">
    <span className="min-w-0 flex-1">{label}</span>
    <span className="text-right font-semibold">{children}</span>
  </div>
);
