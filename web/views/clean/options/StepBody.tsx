/** The options of one step: of its kind, and which fields it is about. */
import { lazy, Suspense, type ComponentType } from 'react';
import { fieldOf } from '@early-set/core/fields/table';
import { stepKind, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { ComposeOptions, FieldOptions, GainOptions, NumberOptions } from './fieldOptions.tsx';
import { GenreOptions } from './GenreOptions.tsx';
import { NameOptions, RemoveOptions, TrackNumberOptions, VersionOptions } from './nameOptions.tsx';
import type { StepProps } from './stepProps.ts';
import { CapitalOptions, CharacterOptions, MarkOptions, ReplaceOptions } from './textOptions.tsx';
import { Chip } from '../../../ui/Chip.tsx';

const RuleEditor = lazy(() => import('../RuleEditor.tsx'));

interface Props {
  step: Step;
  onChange: (step: Step) => void;
  trouble: string | null;
}

const RuleOptions = ({ step: { options }, set, trouble }: StepProps<'rule'>) => (
  <Suspense fallback={<p className="text-dim">Opening the editor…</p>}>
    <RuleEditor source={options.source} onChange={(source) => set({ source })} trouble={trouble} />
  </Suspense>
);

const OPTIONS: { [K in StepKindId]: ComponentType<StepProps<K>> } = {
  names: NameOptions,
  marks: MarkOptions,
  characters: CharacterOptions,
  remove: RemoveOptions,
  trackNumbers: TrackNumberOptions,
  versions: VersionOptions,
  compose: ComposeOptions,
  capitals: CapitalOptions,
  replace: ReplaceOptions,
  fields: FieldOptions,
  numbers: NumberOptions,
  genres: ({ step, set }) => <GenreOptions step={step} onChange={set} />,
  gains: GainOptions,
  rule: RuleOptions,
};

export function StepBody({ step, onChange, trouble }: Props) {
  // Which kind it is, is known to the table alone.
  const Options = OPTIONS[step.kind] as ComponentType<StepProps<StepKindId>>;
  const set = (options: object): void => onChange({ ...step, options: { ...step.options, ...options } } as Step);
  return (
    <div className="flex flex-col gap-1.5 text-small">
      <Options step={step} set={set} trouble={trouble} />
      <FieldChoices step={step} onChange={onChange} />
    </div>
  );
}

/** Which fields it is about. */
function FieldChoices({ step, onChange }: Pick<Props, 'step' | 'onChange'>) {
  const { choices } = stepKind(step.kind);
  if (choices.length < 2 || (step.kind === 'numbers' && step.options.action === 'totals')) return null;
  if (step.kind === 'fields' && step.options.action !== 'clear') return null;
  const toggle = (id: string): void =>
    onChange({
      ...step,
      fields: choices.filter((f) => (f === id ? !step.fields.includes(f) : step.fields.includes(f))),
    } as Step);
  return (
    <div role="group" aria-label="Fields" className="mt-1 flex flex-wrap gap-1">
      {choices.map((id) => (
        <Chip key={id} size="small" on={step.fields.includes(id)} onToggle={() => toggle(id)}>
          {fieldOf(id).label}
        </Chip>
      ))}
    </div>
  );
}
