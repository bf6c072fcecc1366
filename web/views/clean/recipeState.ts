/** The recipe on the desk: its steps, kept in this browser until they are saved, and what can be done with them. */
import type { Recipe } from '@early-set/core/clean/recipes';
import { newStep, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { useRemembered } from '../../data/remembered.ts';

export interface RecipeInHand extends Recipe {
  /** The saved recipe it came from. */ id: number | null;
}

const id = (): string => Math.random().toString(36).slice(2, 10);
const FIRST: RecipeInHand = {
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

export function useRecipe() {
  const [recipe, keep] = useRemembered<RecipeInHand>('recipe', FIRST);
  const steps = (next: Step[]): void => keep({ ...recipe, steps: next });
  return {
    recipe,
    keep,
    take: (taken: Recipe, savedAs: number | null) =>
      keep({ id: savedAs, name: taken.name, steps: taken.steps.map((s) => ({ ...structuredClone(s), id: id() })) }),
    add: (kind: StepKindId): string => {
      const step = newStep(kind, id());
      steps([...recipe.steps, step]);
      return step.id;
    },
    change: (step: Step) => steps(recipe.steps.map((s) => (s.id === step.id ? step : s))),
    remove: (stepId: string) => steps(recipe.steps.filter((s) => s.id !== stepId)),
    move: (from: string, to: string) => {
      const at = recipe.steps.findIndex((s) => s.id === from),
        target = recipe.steps.findIndex((s) => s.id === to);
      if (at < 0 || target < 0 || at === target) return;
      const next = [...recipe.steps];
      next.splice(target, 0, ...next.splice(at, 1));
      steps(next);
    },
  };
}
export type RecipeState = ReturnType<typeof useRecipe>;
