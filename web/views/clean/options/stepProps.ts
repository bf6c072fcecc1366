import { FIELDS } from '@early-set/core/fields/table';
import type { Step, StepKindId } from '@early-set/core/clean/steps';

export type StepOf<K extends StepKindId> = Step & { kind: K };

/** What the options of a kind of step are shown with. */
export interface StepProps<K extends StepKindId> {
  step: StepOf<K>;
  set: (options: Partial<StepOf<K>['options']>) => void;
  /** What is wrong with it, once it was run. */
  trouble: string | null;
}

/** Fields as choices, by their labels. */
export const choicesOf = (ids: readonly string[]): [string, string][] =>
  FIELDS.filter((f) => ids.includes(f.id)).map((f) => [f.id, f.label]);
