/** The steps in hand, kept in this browser until they are saved as a preset, and what can be done with them. */
import type { Preset } from '@early-set/core/clean/presets';
import type { NameOptions } from '@early-set/core/clean/nameGroup';
import { newStep, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { remembered, useRemembered } from '../../data/remembered.ts';

/** What was said by hand about names of files. It belongs to the folders and stays, whichever preset is loaded. */
type Corrections = Pick<NameOptions, 'patterns' | 'splits' | 'rows'>;

export interface StepsInHand extends Preset {
  /** The preset they came from. */ id: number | null;
  corrections?: Corrections;
}

const correctionsIn = ({ patterns, splits, rows }: Corrections): Corrections => ({
  ...(patterns ? { patterns } : {}),
  ...(splits ? { splits } : {}),
  ...(rows ? { rows } : {}),
});
/** Steps that know what was said by hand, beside what they brought along. */
const corrected = (steps: readonly Step[], said: Corrections = {}): Step[] =>
  steps.map((step) => {
    if (step.kind !== 'names') return step;
    const { patterns, splits, rows } = step.options;
    const both = correctionsIn({
      ...(patterns || said.patterns ? { patterns: { ...patterns, ...said.patterns } } : {}),
      ...(splits || said.splits ? { splits: { ...splits, ...said.splits } } : {}),
      ...(rows || said.rows ? { rows: { ...rows, ...said.rows } } : {}),
    });
    return { ...step, options: { ...step.options, ...both } };
  });

const id = (): string => Math.random().toString(36).slice(2, 10);
const FIRST: StepsInHand = {
  id: null,
  name: '',
  steps: [
    newStep('marks', 'first1'),
    newStep('characters', 'first2'),
    newStep('trackNumbers', 'first3'),
    newStep('versions', 'first4'),
    newStep('capitals', 'first5'),
  ],
};

const NAME = 'clean-steps',
  OLD_NAME = 'recipe';

export function useSteps() {
  const [preset, keep] = useRemembered<StepsInHand>(NAME, remembered<StepsInHand>(OLD_NAME, FIRST));
  const steps = (next: Step[]): void => keep({ ...preset, steps: next });
  return {
    preset,
    keep,
    take: (taken: Preset, savedAs: number | null) =>
      keep({
        id: savedAs,
        name: taken.name,
        steps: corrected(
          taken.steps.map((s) => ({ ...structuredClone(s), id: id() })),
          preset.corrections,
        ),
        ...(preset.corrections ? { corrections: preset.corrections } : {}),
      }),
    add: (kind: StepKindId): string => {
      const step = newStep(kind, id());
      steps([...preset.steps, ...corrected([step], preset.corrections)]);
      return step.id;
    },
    change: (step: Step) =>
      keep({
        ...preset,
        steps: preset.steps.map((s) => (s.id === step.id ? step : s)),
        ...(step.kind === 'names' ? { corrections: correctionsIn(step.options) } : {}),
      }),
    remove: (stepId: string) => steps(preset.steps.filter((s) => s.id !== stepId)),
    move: (from: string, to: string) => {
      const at = preset.steps.findIndex((s) => s.id === from),
        target = preset.steps.findIndex((s) => s.id === to);
      if (at < 0 || target < 0 || at === target) return;
      const next = [...preset.steps];
      next.splice(target, 0, ...next.splice(at, 1));
      steps(next);
    },
  };
}
export type StepsState = ReturnType<typeof useSteps>;
