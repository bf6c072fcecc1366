/** What the steps would do and hold back until somebody answers, one by one or all of a step. */
import { type Question } from '@early-set/core/clean/runSteps';
import { type Step } from '@early-set/core/clean/steps';
import { stepTitle } from '@early-set/core/clean/stepTitle';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { textOf } from '../../ui/format.ts';

/** Of the questions so many are shown at a time. */
const SHOWN = 20;

/** What letting the steps have their way is called, for one track and for all. */
const ANSWERS: Record<Question['about'], [one: string, all: string]> = {
  'file name': ['Add a number', 'Add numbers'],
  duplicate: ['Allow duplicate', 'Allow duplicates'],
  emptied: ['Empty it', 'Empty all'],
  unsure: ['Apply', 'Apply all'],
};
const TITLES: Partial<Record<Question['about'], string>> = {
  'file name': 'Same file name',
  duplicate: 'Would become duplicates',
  unsure: 'Unsure file names',
};

export function Questions({
  questions,
  steps,
  nameOf,
  onAnswer,
  onShow,
  onPatterns,
}: {
  questions: readonly Question[];
  steps: readonly Step[];
  nameOf: (id: number) => string;
  onAnswer: (key: string, answer: 'keep' | 'go' | null) => void;
  onShow: (id: number) => void;
  /** Shows how the names of a step are understood. */
  onPatterns: (stepId: string) => void;
}) {
  const byStep = new Map<string, Question[]>();
  for (const q of questions) byStep.set(q.stepId, [...(byStep.get(q.stepId) ?? []), q]);
  return (
    <section aria-label="Questions" className="mt-4 flex flex-col gap-2">
      {[...byStep].map(([stepId, all]) => {
        const open = all.filter((q) => q.answer === null),
          answered = all.length - open.length;
        const step = steps.find((s) => s.id === stepId),
          { about } = all[0]!,
          [go, goAll] = ANSWERS[about];
        return (
          <div key={stepId}>
            {open.length > 1 && (
              <p className="mb-1 text-small">
                <b>{TITLES[about] ?? (step && stepTitle(step))}</b>: {several(open.length, 'track')}.{' '}
                {about === 'unsure' && (
                  <>
                    <button
                      type="button"
                      onClick={() => onPatterns(stepId)}
                      className="font-semibold text-buoy-text hover:underline"
                    >
                      Check the patterns
                    </button>{' '}
                    ·{' '}
                  </>
                )}
                <button
                  type="button"
                  onClick={() => onAnswer(`${stepId}:*`, 'keep')}
                  className="font-semibold text-buoy-text hover:underline"
                >
                  Keep all
                </button>{' '}
                ·{' '}
                <button
                  type="button"
                  onClick={() => onAnswer(`${stepId}:*`, 'go')}
                  className="font-semibold text-buoy-text hover:underline"
                >
                  {goAll}
                </button>
              </p>
            )}
            {open.slice(0, SHOWN).map((q) => (
              <div
                key={`${q.trackId} ${q.field}`}
                className="mb-1.5 border-l-[3px] border-sodium bg-sheet px-2.5 py-1.5"
              >
                <button
                  type="button"
                  onClick={() => onShow(q.trackId)}
                  className="max-w-full text-left font-semibold break-words hover:text-buoy-text"
                >
                  {nameOf(q.trackId)}
                </button>
                <p className="text-small text-dim">
                  {q.reason}
                  {q.about === 'unsure' ? '.' : `: now “${textOf(q.field, q.before)}”.`}
                </p>
                <div className="mt-1.5 flex gap-1.5">
                  <Button onClick={() => onAnswer(`${stepId}:${q.trackId}:${q.field}`, 'keep')}>Keep as it is</Button>
                  <Button onClick={() => onAnswer(`${stepId}:${q.trackId}:${q.field}`, 'go')}>{go}</Button>
                </div>
              </div>
            ))}
            {open.length > SHOWN && (
              <p className="text-small text-dim">and {(open.length - SHOWN).toLocaleString('en-GB')} more</p>
            )}
            {answered > 0 && (
              <p className="text-small text-dim">
                {several(answered, 'question')} answered.{' '}
                <button type="button" onClick={() => onAnswer(stepId, null)} className="underline hover:text-ink">
                  Ask again
                </button>
              </p>
            )}
          </div>
        );
      })}
    </section>
  );
}
