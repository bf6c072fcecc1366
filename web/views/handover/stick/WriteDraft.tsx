/** What writing would do, in one card; how the last writing ended; how far the present one is. */
import type { StickAnswer, StickLine } from '@early-set/core/api/stick';
import type { CopyProgress, RunProgress } from '@early-set/core/api/types';
import { several } from '../../../data/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { bytes } from '../../../ui/format.ts';
import { aboutTime, hasWork, reportText } from './words.ts';

export interface WriteDraftProps {
  stick: StickLine;
  answer: StickAnswer | undefined;
  /** It is being written, or verified. */
  busy: boolean;
  /** The run that writes it. */
  writing: RunProgress | undefined;
  onCancel: () => void;
  onWrite: () => void;
  onFormer: () => void;
  onLook: (what: 'refused' | 'removed' | 'failed') => void;
}

export function WriteDraft({ stick, answer, busy, writing, onCancel, onWrite, onFormer, onLook }: WriteDraftProps) {
  const { report, brokenOff, isPlayout } = stick;
  if (!answer) return null;
  return (
    <section aria-label="Draft" className="sticky -bottom-3.5 border border-ink bg-chosen p-3">
      <p className="font-semibold">
        {hasWork(answer)
          ? `${several(answer.counts.write, 'file')}, ${bytes(answer.bytes.comes)}, ${aboutTime(answer.seconds)}`
          : `${stick.name} is up to date`}
      </p>
      {report && (!hasWork(answer) || brokenOff) && (
        <p className="mt-1 text-small" data-testid="stick-report">
          {reportText(report, isPlayout)}{' '}
          {report.failed.length > 0 && (
            <Button kind="link" onClick={() => onLook('failed')}>
              Show them…
            </Button>
          )}
        </p>
      )}
      <p className="mt-1 text-small text-dim">
        {answer.removed.length > 0 ? `${several(answer.removed.length, 'file')} will be removed. ` : ''}
        {answer.foreign > 0 ? `${several(answer.foreign, 'file')} of others untouched. ` : ''}
        {answer.counts.changed > 0
          ? `${several(answer.counts.changed, 'file')} that somebody changed there will be replaced, for good. `
          : ''}
        {hasWork(answer) ? 'Every copy is read back. Can be undone.' : ''}
      </p>
      {writing && (
        <p role="status" className="figures mt-1 text-small">
          {progressText(writing)}
        </p>
      )}
      <div className="mt-2.5 flex justify-end gap-2">
        {writing && <Button onClick={onCancel}>Cancel</Button>}
        {brokenOff && !writing && (
          <Button onClick={onFormer} disabled={busy} title="Writes what was there before the last writing">
            Go back
          </Button>
        )}
        <Button kind="main" onClick={onWrite} disabled={busy || !hasWork(answer)}>
          {writing ? 'Writing…' : brokenOff ? 'Go on writing' : `Write to ${stick.name}`}
        </Button>
      </div>
    </section>
  );
}

function progressText({ report }: RunProgress): string {
  const { copied, toCopy } = (report ?? {}) as Partial<CopyProgress>;
  return copied !== undefined && toCopy ? `${bytes(copied)} of ${bytes(toCopy)} written` : 'Beginning…';
}
