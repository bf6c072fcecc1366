/** The right column: what the draft comes to, what it asks, where it goes, and the draft card. */
import type { CleanState } from './useClean.ts';
import { type CleanResult } from '@early-set/core/clean/runSteps';
import type { RunProgress, FilesRunReport } from '@early-set/core/api/types';
import { fieldOf } from '@early-set/core/fields/table';
import { type Step } from '@early-set/core/clean/steps';
import { several } from '../../data/actions.ts';
import { useOverview, useRuns, useSettings } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';
import { EditsGoTo } from '../changes/EditsGoTo.tsx';
import type { CleanRow } from './CleanSheet.tsx';
import { Questions } from './Questions.tsx';

interface Props {
  clean: CleanState;
  steps: readonly Step[];
  draft: CleanResult['changes'];
  inHand: CleanRow | null;
  nameOf: (trackId: number) => string;
  onAnswer: (key: string, answer: 'keep' | 'go' | null) => void;
  onShow: (trackId: number) => void;
  onPatterns: (stepId: string) => void;
  onLeaveOut: (id: number) => void;
  onWriteLater: () => void;
  onDiscard: () => void;
  onApply: () => void;
  applying: boolean;
}

export function CleanInspector({
  clean,
  steps,
  draft,
  inHand,
  nameOf,
  onAnswer,
  onShow,
  onPatterns,
  onLeaveOut,
  onWriteLater,
  onDiscard,
  onApply,
  applying,
}: Props) {
  const { result } = clean;
  const { data: overview } = useOverview();
  const { data: settings } = useSettings();
  const { data: runs } = useRuns();
  const questions = result?.questions ?? [];
  const open = questions.filter((q) => q.answer === null);
  const fields = draft.reduce((n, c) => n + c.fields.length, 0);
  const renamed = draft.filter((c) => c.fields.some((f) => f.field === 'fileName')).length;
  const unwritten = overview?.unwritten ?? 0;
  const time = settings?.editsGoTo === 'library and files' ? writingTime(runs ?? [], draft.length) : null;
  return (
    <aside aria-label="Before you apply" className="flex h-full flex-col bg-paper">
      <div className="min-h-0 flex-1 overflow-y-auto px-3.5 pt-3">
        <h2 className="heading mb-2.5 text-[17px]">Before you apply</h2>
        <dl className="grid grid-cols-2 border border-line bg-sheet">
          {(
            [
              [draft.length, draft.length === 1 ? 'track changes' : 'tracks change'],
              [open.length, open.length === 1 ? 'needs a look' : 'need a look'],
              [fields, fields === 1 ? 'field' : 'fields'],
              [result?.lockedTracks ?? 0, 'with locked fields'],
            ] as const
          ).map(([n, words], i) => (
            <div
              key={i}
              className={`flex flex-col-reverse px-2.5 py-1.5 ${i % 2 ? 'border-l border-line' : ''} ${i > 1 ? 'border-t border-line' : ''}`}
            >
              <dt className="text-tiny text-dim">{words}</dt>
              <dd className="heading text-[18px] leading-6">
                {i === 1 && open[0] ? (
                  <button
                    type="button"
                    onClick={() => onShow(open[0]!.trackId)}
                    title="Show the first of them"
                    className="underline hover:text-buoy-text"
                  >
                    {n.toLocaleString('en-GB')}
                  </button>
                ) : (
                  n.toLocaleString('en-GB')
                )}
              </dd>
            </div>
          ))}
        </dl>
        {inHand && <InHand row={inHand} onLeaveOut={onLeaveOut} />}
        {questions.length > 0 && (
          <Questions
            questions={questions}
            steps={steps}
            nameOf={nameOf}
            onAnswer={onAnswer}
            onShow={onShow}
            onPatterns={onPatterns}
          />
        )}
        <dl className="mt-4 grid grid-cols-[62px_1fr] gap-x-2 gap-y-1.5 text-small">
          <dt className="text-dim">Goes to</dt>
          <dd>
            <EditsGoTo />
            {settings?.editsGoTo === 'library' && renamed > 0 && (
              <p className="mt-1 text-dim">{several(renamed, 'file')} get other names at once</p>
            )}
          </dd>
          <dt className="text-dim">Kept</dt>
          <dd>Every old value; undo from Changes, now or in a year</dd>
          <dt className="text-dim">Safe</dt>
          <dd>
            {result?.lockedTracks
              ? `Fields you locked: ${several(result.lockedTracks, 'track')}`
              : 'Fields you lock stay as they are'}
          </dd>
          {unwritten > 0 && (
            <>
              <dt className="text-dim">Files</dt>
              <dd>
                Tags not written yet: {several(unwritten, 'track')}.{' '}
                <button type="button" onClick={onWriteLater} className="font-semibold text-buoy-text hover:underline">
                  Write…
                </button>
              </dd>
            </>
          )}
        </dl>
      </div>
      <div className="m-3.5 border border-dim bg-chosen p-3" data-testid="draft-card">
        {draft.length === 0 ? (
          <p className="text-small">
            {clean.busy && !result
              ? 'Working out what would change…'
              : 'Nothing would change. Add a step on the left, or choose other tracks.'}
          </p>
        ) : (
          <div className="flex flex-wrap items-center justify-end gap-2">
            <div className="min-w-0 grow basis-full">
              <p className="font-semibold">{several(fields, 'change')} drafted</p>
              {time && <p className="text-tiny text-dim">{time}</p>}
            </div>
            <Button onClick={onDiscard} disabled={applying}>
              Discard draft
            </Button>
            <Button kind="main" onClick={onApply} disabled={applying || clean.busy}>
              {applying ? 'Applying…' : 'Apply'}
            </Button>
          </div>
        )}
      </div>
    </aside>
  );
}

/** By how quick the latest writing was; null when none was yet. */
function writingTime(runs: readonly RunProgress[], files: number): string | null {
  const last = runs.find(
    (r) => r.kind === 'writing' && r.state === 'done' && (r.report as FilesRunReport | null)?.written,
  );
  const report = last?.report as FilesRunReport | undefined;
  if (!report || report.seconds <= 0) return null;
  const seconds = (files * report.seconds) / report.written;
  return `about ${seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`} to write`;
}

function InHand({ row, onLeaveOut }: { row: CleanRow; onLeaveOut: (id: number) => void }) {
  if (row.changes.length === 0) return null;
  return (
    <section aria-label="This track" className="mt-4 border-t border-line pt-2.5">
      <p className="mb-1 text-tiny break-all text-dim">{row.track.path}</p>
      <dl className="text-small">
        {row.changes.map((c) => (
          <div key={c.field} className="flex gap-2 border-b border-hair py-1">
            <dt className="w-[66px] shrink-0 text-dim">{fieldOf(c.field).label}</dt>
            <dd className="min-w-0 flex-1 break-words">
              <Difference before={textOf(c.field, c.before)} after={textOf(c.field, c.after)} />
            </dd>
          </div>
        ))}
      </dl>
      <Button className="mt-2" onClick={() => onLeaveOut(row.track.id)}>
        {row.leftOut ? 'Take it in again' : 'Leave this track out'}
        <kbd className="ml-1 text-tiny font-normal text-dim">X</kbd>
      </Button>
    </section>
  );
}
