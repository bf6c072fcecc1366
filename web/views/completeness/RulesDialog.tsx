/** Which fields a track has to have before it is ready. */
import { useController, type Control } from 'react-hook-form';
import type { DeskSettings } from '@early-set/core/api/settings';
import { gapRulesSchema } from '@early-set/core/api/wishes';
import { RULE_CHOICES, type GapRules } from '@early-set/core/conditions/needs';
import { fieldOf } from '@early-set/core/fields/table';
import { perform } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { Chip } from '../../ui/Chip.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FormEnd } from '../../ui/form/fields.tsx';
import { useForm } from '../../ui/form/useForm.ts';

const PURPOSES = [
  ['floor', 'Ready for the floor'],
  ['playout', 'Ready for playout'],
] as const;

interface Props {
  open: boolean;
  onClose: () => void;
  rules: GapRules;
}

export function RulesDialog({ open, onClose, rules }: Props) {
  const { control, handleSubmit } = useForm<GapRules>(gapRulesSchema, rules);
  const save = async (gapRules: GapRules): Promise<void> => {
    const words = 'The rules are kept; what is left is counted anew';
    if (await perform(patch<DeskSettings>('/settings', { gapRules }), words)) onClose();
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Required fields"
      note="A track is ready when these fields are filled. What is left is counted by this on every stage."
      wide
    >
      <form onSubmit={(e) => void handleSubmit(save)(e)}>
        <div className="grid grid-cols-2 gap-6">
          {PURPOSES.map(([name, label]) => (
            <Fields key={name} control={control} name={name} label={label} />
          ))}
        </div>
        <FormEnd onCancel={onClose} send="Keep these rules" />
      </form>
    </Dialog>
  );
}

function Fields({ control, name, label }: { control: Control<GapRules>; name: keyof GapRules; label: string }) {
  const { field, fieldState } = useController({ control, name });
  const on = field.value;
  return (
    <fieldset>
      <legend className="mb-1.5 font-semibold">{label}</legend>
      <div className="flex flex-wrap gap-1">
        {RULE_CHOICES.map((id) => (
          <Chip
            key={id}
            on={on.includes(id)}
            onToggle={() => field.onChange(on.includes(id) ? on.filter((f) => f !== id) : [...on, id])}
          >
            {fieldOf(id).label}
          </Chip>
        ))}
      </div>
      {fieldState.error && (
        <p role="alert" className="mt-1 text-small text-flare">
          {fieldState.error.message}
        </p>
      )}
    </fieldset>
  );
}
