/** The steps in hand, kept in this browser until they are saved as a preset, and what can be done with them. */
import type { Preset } from '@early-set/core/clean/presets';
import { newStep, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { remembered, useRemembered } from '../../data/remembered.ts';

export interface StepsInHand extends Preset {
  /** The preset they came from. */ id: number | null;
}

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
      keep({ id: savedAs, name: taken.name, steps: taken.steps.map((s) => ({ ...structuredClone(s), id: id() })) }),
    add: (kind: StepKindId): string => {
      const step = newStep(kind, id());
      steps([...preset.steps, step]);
      return step.id;
    },
    change: (step: Step) => steps(preset.steps.map((s) => (s.id === step.id ? step : s))),
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
